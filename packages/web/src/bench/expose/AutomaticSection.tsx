import type { Automatic } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { memo, useState } from 'react'
import { ShareControl } from '../../controls/ShareControl'
import type { DrawerProps } from '../steps/props'

export interface AutomaticProps {
  /** Sets ordinary controls from the picture's statistics; missing while the picture is not open. */
  run?: (which: readonly Automatic[], strength: number) => unknown
  busy: boolean
}

const ALL: readonly { id: Automatic; label: string }[] = [
  { id: 'exposure', label: 'Exposure' },
  { id: 'points', label: 'Points' },
  { id: 'tones', label: 'Tones' },
  { id: 'white', label: 'White' },
]

/** Controls that the picture itself can set, and the areas of it that count most. */
function Automatics(props: Pick<DrawerProps, 'development' | 'adjust' | 'tool' | 'take'> & AutomaticProps) {
  const { development, adjust, tool, take, run, busy } = props
  const [strength, setStrength] = useState(1)
  const areas = development.interest
  const dead = !run || busy
  return (
    <section className="border-t border-line py-2" aria-label="From the picture">
      <h3 className="py-1 text-text">From the picture</h3>
      <div className="grid grid-cols-4 gap-1">
        <button
          className="button col-span-4"
          disabled={dead}
          onClick={() =>
            run?.(
              ALL.map((a) => a.id),
              strength,
            )
          }
        >
          {busy ? 'Looking at the picture' : 'Set all four'}
        </button>
        {ALL.map((a) => (
          <button
            key={a.id}
            className="button !px-0.5 text-[12px]"
            disabled={dead}
            onClick={() => run?.([a.id], strength)}
          >
            {a.label}
          </button>
        ))}
      </div>
      <ShareControl label="How far" value={strength} start={1} max={1.5} onChange={setStrength} />
      <div className="flex items-center gap-1.5">
        <button
          className="button flex-1"
          aria-pressed={tool === 'interest'}
          onClick={() => take(tool === 'interest' ? undefined : 'interest')}
        >
          {tool === 'interest' ? 'Draw on the picture' : 'Mark what matters'}
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
    </section>
  )
}

/** Drawn anew only where the marked areas change, or the tool, not with every control. */
export const AutomaticSection = memo(
  Automatics,
  (a, b) =>
    a.development.interest === b.development.interest &&
    a.tool === b.tool &&
    a.take === b.take &&
    a.adjust === b.adjust &&
    a.run === b.run &&
    a.busy === b.busy,
)
