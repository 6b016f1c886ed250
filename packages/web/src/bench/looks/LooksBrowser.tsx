import { useAtom, useAtomValue } from 'jotai'
import { useRef, useState } from 'react'
import { OfferPanel } from '../offers/OfferPanel'
import { looksOpenAtom, pictureAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { isChosen, OWN_OFFERS } from './offers'
import { keepLook, loadTables, problemAtom, saveTable, useOwnOffers } from './own'
import { HiddenFiles } from '../../controls/HiddenFiles'

/** All looks on this very picture; nothing changes until one is chosen. */
export function LooksBrowser() {
  const bench = useBench()
  const [open, setOpen] = useAtom(looksOpenAtom)
  const own = useOwnOffers()
  if (!open) return null
  return (
    <OfferPanel
      title="Looks"
      offers={[...OWN_OFFERS, ...own]}
      isChosen={isChosen}
      removes="No longer offered; pictures that use it keep it"
      onTake={(o) => bench.adjust((d) => o.apply(d), o.key === 'none' ? 'No look' : `Look: ${o.name}`)}
      onClose={() => setOpen(false)}
    >
      <OwnLooks />
    </OfferPanel>
  )
}

/** Looks kept and loaded. */
function OwnLooks() {
  const bench = useBench()
  const picture = useAtomValue(pictureAtom)
  const problem = useAtomValue(problemAtom)
  const [name, setName] = useState('')
  const files = useRef<HTMLInputElement>(null)
  return (
    <>
      {problem && (
        <p role="alert" className="mb-2 text-info">
          {problem}
        </p>
      )}
      <div className="grid grid-cols-3 gap-1.5">
        <input
          className="field col-span-2"
          aria-label="Name of the look"
          placeholder="Name of this look"
          maxLength={120}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <button
          className="button !px-1"
          disabled={!name.trim()}
          onClick={() => void keepLook(bench, name.trim()).then(() => setName(''))}
          title="Saves curves, hues, tints, primaries, monochrome and toning of this development"
        >
          Save
        </button>
        <button
          className="button !px-2"
          disabled={!name.trim() || !picture}
          onClick={() => void saveTable(bench, name.trim())}
          title="The same as a table of 33 steps a channel"
        >
          Save .cube
        </button>
        <button className="button col-span-2 !px-2" onClick={() => files.current?.click()}>
          Load .cube
        </button>
        <HiddenFiles
          ref={files}
          label="Tables of colours to load"
          accept=".cube"
          multiple
          onFiles={(chosen) => void loadTables(bench, chosen)}
        />
      </div>
    </>
  )
}
