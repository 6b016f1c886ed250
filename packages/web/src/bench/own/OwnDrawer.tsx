import { arrayMove } from '@dnd-kit/sortable'
import { useAtom } from 'jotai'
import { PinOff } from 'lucide-react'
import { useState } from 'react'
import { SortableList } from '../../controls/SortableList'
import { KelvinControl, TintControl, useWhite } from '../balance/white'
import { FieldControl } from '../steps/FieldControl'
import { useSection } from '../steps/props'
import { pinnableWith, pinnedAtom, pinnedOf, toggled, type Pinnable } from '../steps/pins'

const MOST_FOUND = 8

/** Controls that the user has pinned, in the user's order. */
export function OwnDrawer() {
  const [ids = [], setIds] = useAtom(pinnedAtom)
  const [words, setWords] = useState('')
  const pinned = pinnedOf(ids)
  const found = words.trim() ? pinnableWith(words, MOST_FOUND) : []
  const toggle = (id: string) => setIds(toggled(ids, id))
  return (
    <>
      <h2 className="mb-2 flex h-6 items-center font-semibold text-bright">Own drawer</h2>
      {pinned.length > 0 ? (
        <SortableList
          label="Pinned controls"
          items={pinned}
          className="-mx-2"
          name={(p) => p.name}
          onPlace={(id, to) => {
            const order = pinned.map((p) => p.id)
            setIds(arrayMove(order, order.indexOf(id), to))
          }}
          row={(p) => <Pinned pinned={p} onUnpin={() => toggle(p.id)} />}
        />
      ) : (
        <p className="text-quiet">
          Pin the controls that you use for every frame: by the pin beside them in their drawers, or by name
          below. They stand here in your order, and do the same as in their own drawers.
        </p>
      )}
      <label className="mt-4 flex flex-col gap-1">
        <span className="text-quiet">Pin a control</span>
        <input
          type="search"
          className="field"
          placeholder="Find by name"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </label>
      <ul aria-label="Controls found" className="mt-1">
        {found.map(({ id, name }) => (
          <li key={id}>
            <button
              aria-pressed={ids.includes(id)}
              className={`w-full truncate px-2 py-1 text-left hover:bg-raised ${ids.includes(id) ? 'text-bright' : 'text-text'}`}
              title={ids.includes(id) ? 'Pinned: click to remove it' : 'Click to pin it'}
              onClick={() => toggle(id)}
            >
              {name}
              {ids.includes(id) && <span className="text-[11px] text-quiet"> pinned</span>}
            </button>
          </li>
        ))}
        {words.trim() !== '' && found.length === 0 && (
          <li className="px-2 py-1 text-quiet">No control has these words.</li>
        )}
      </ul>
    </>
  )
}

/** A pinned control. It is drawn anew where its own step changes. */
function Pinned({ pinned, onUnpin }: { pinned: Pinnable; onUnpin(): void }) {
  const { name } = pinned
  return (
    <>
      <div className="min-w-0 flex-1">
        {pinned.id === 'cameraColour.kelvin' || pinned.id === 'cameraColour.tint' ? (
          <PinnedWhite pinned={pinned} />
        ) : (
          <PinnedField pinned={pinned} />
        )}
      </div>
      <button className="icon-button !h-6 !w-6" aria-label={`Unpin ${name}`} title="Unpin" onClick={onUnpin}>
        <PinOff className="h-3.5 w-3.5" aria-hidden />
      </button>
    </>
  )
}

function PinnedField({ pinned: { step, field, name } }: { pinned: Pinnable }) {
  return <FieldControl {...useSection(step)} step={step} field={field} label={name} />
}

/** The white balance stands where the camera or a lamp puts it until it is moved. */
function PinnedWhite({ pinned: { id, name } }: { pinned: Pinnable }) {
  const white = useWhite()
  const Control = id === 'cameraColour.kelvin' ? KelvinControl : TintControl
  return <Control white={white} label={name} />
}
