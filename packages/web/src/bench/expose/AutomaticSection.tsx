import { MARK_AREA } from './tools'
import { AUTOMATICS, type Automatic } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { atom, useAtomValue } from 'jotai'
import { useState } from 'react'
import { pictureAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { areasAtom } from './AreaOverlay'
import { lookingAtom, setFromPicture } from './automatic'
import { ShareControl } from '../../controls/ShareControl'
import { Section } from '../steps/Section'

const ALL: readonly { id: Automatic; label: string }[] = [
  { id: 'exposure', label: 'Exposure' },
  { id: 'points', label: 'Points' },
  { id: 'tones', label: 'Tones' },
  { id: 'white', label: 'White balance' },
]

const readyAtom = atom((get) => get(pictureAtom) !== undefined)

/** Controls that the picture itself can set, and the areas of it that count most. */
export function AutomaticSection() {
  const bench = useBench()
  const { adjust, toggleTool } = bench
  const tool = useAtomValue(toolAtom)
  const ready = useAtomValue(readyAtom)
  const busy = useAtomValue(lookingAtom)
  const areas = useAtomValue(areasAtom)
  const run = (which: readonly Automatic[]) => void setFromPicture(bench, which, strength)
  const [strength, setStrength] = useState(1)
  const dead = !ready || busy
  return (
    <Section title="Automatic">
      <div className="grid grid-cols-2 gap-1">
        <button className="button col-span-2" disabled={dead} onClick={() => run(AUTOMATICS)}>
          {busy ? 'Analysing the picture' : 'Automatic, all'}
        </button>
        {ALL.map((a) => (
          <button
            key={a.id}
            className="button !px-0.5 text-[12px]"
            disabled={dead}
            onClick={() => run([a.id])}
          >
            {a.label}
          </button>
        ))}
      </div>
      <ShareControl label="Strength" value={strength} start={1} max={1.5} onChange={setStrength} />
      <div className="flex items-center gap-1.5">
        <button
          className="button flex-1"
          aria-pressed={tool === MARK_AREA}
          onClick={() => toggleTool(MARK_AREA)}
        >
          {tool === MARK_AREA ? 'Draw on the picture' : 'Mark important areas'}
        </button>
        {areas.length > 0 && (
          <button
            className="button"
            onClick={() => adjust((d) => ({ ...d, interest: [] }), 'Marked areas removed')}
            aria-label="Remove all marked areas"
          >
            <X className="h-3.5 w-3.5" aria-hidden /> {areas.length}
          </button>
        )}
      </div>
    </Section>
  )
}
