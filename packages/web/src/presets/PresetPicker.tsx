import type { PresetEntry } from '@dunkelkammer/contract'
import { useState } from 'react'
import { ShareControl } from '../controls/ShareControl'
import { Awaited } from '../shell/Awaited'
import { Modal } from '../shell/Modal'
import { SetList } from './SetList'
import { groupName, groupsOf, scales, usePresets } from './shelf'

/** A preset, and how far it is applied. */
export interface Picked {
  preset: PresetEntry
  strength: number
}

/** Chooses a preset for some frames. */
export function PresetPicker(props: {
  /** "12 frames". */
  frames: string
  onApply(picked: Picked): void
  /** Frames that are clicked get it, one by one. */
  onTake?(picked: Picked): void
  onClose(): void
}) {
  const query = usePresets()
  const [words, setWords] = useState('')
  const [chosen, choose] = useState<PresetEntry>()
  const [strength, setStrength] = useState(1)
  const hidden = query.data?.hidden ?? []
  const groups = groupsOf(query.data?.presets, words).filter((g) => words || !hidden.includes(g.group))
  const picked = chosen && { preset: chosen, strength: scales(chosen) ? strength : 1 }
  return (
    <Modal open onClose={props.onClose} title="Apply a preset" width={640}>
      <div className="grid h-[400px] grid-cols-2 gap-4">
        <div className="flex min-h-0 flex-col gap-2">
          <input
            type="search"
            className="field"
            aria-label="Find presets"
            placeholder="Find by words"
            autoFocus
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <div className="min-h-0 flex-1 overflow-y-auto border border-line">
            {!query.data && <Awaited query={query} label="Loading the presets" />}
            {groups.map(({ group, presets }) => (
              <section key={group} aria-label={groupName(group)}>
                <h3 className="px-3 pt-2 text-[12px] text-quiet">{groupName(group)}</h3>
                {presets.map((p) => (
                  <button
                    key={p.id}
                    aria-pressed={p.id === chosen?.id}
                    title={p.notes}
                    className={`block w-full truncate px-3 py-1 text-left ${p.id === chosen?.id ? 'bg-raised text-bright' : 'hover:bg-raised/50'}`}
                    onClick={() => choose(p)}
                  >
                    {p.name}
                  </button>
                ))}
              </section>
            ))}
            {query.data && groups.length === 0 && (
              <p className="p-3 text-quiet">No preset holds these words.</p>
            )}
          </div>
        </div>
        <div className="flex min-h-0 flex-col gap-3">
          {chosen ? (
            <>
              <h3 className="truncate text-bright" title={chosen.name}>
                {chosen.name}
              </h3>
              <p className="text-quiet">{chosen.notes}</p>
              <div className="min-h-0 flex-1 overflow-y-auto">
                <SetList portion={chosen.portion} />
              </div>
              {scales(chosen) && (
                <ShareControl label="Strength" value={strength} start={1} max={1.5} onChange={setStrength} />
              )}
            </>
          ) : (
            <p className="text-quiet">Choose a preset to see what it sets.</p>
          )}
        </div>
      </div>
      <div className="mt-5 flex justify-end gap-2">
        <button className="button" onClick={props.onClose}>
          Cancel
        </button>
        {props.onTake && (
          <button
            className="button"
            disabled={!picked}
            title="Frames that are clicked get it, until Escape"
            onClick={() => picked && props.onTake!(picked)}
          >
            Apply by clicking
          </button>
        )}
        <button
          className="button button-main"
          disabled={!picked}
          onClick={() => picked && props.onApply(picked)}
        >
          Apply to {props.frames}
        </button>
      </div>
    </Modal>
  )
}
