import { MAX_PINS } from '@dunkelkammer/contract'
import { spaces, type Reading } from '@dunkelkammer/core'
import { atom, useAtom, useAtomValue } from 'jotai'
import { Pin, X } from 'lucide-react'
import { bareAtom, deskAtom, pinsAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { displayAtom, pointerAtom } from '../state/looking'
import {
  KIND_NAMES,
  pinnedAtom,
  READING_KINDS,
  readingAtom,
  readingKindAtom,
  underAtom,
  written,
  type ReadingKind,
} from './kinds'
import { PIN } from './tools'

const shownAtom = atom((get) => get(readingAtom) && !get(bareAtom))

/** The reading under the pointer, and the pinned ones, over a corner of the picture. */
export function ReadingsPanel() {
  const shown = useAtomValue(shownAtom)
  return shown && <Panel />
}

function Panel() {
  const { get, toggleTool } = useBench()
  const space = spaces[useAtomValue(displayAtom)].label
  const [kind, onKind] = useAtom(readingKindAtom)
  const hovering = useAtomValue(pointerAtom) !== undefined
  const read = useAtomValue(underAtom)
  const under = hovering ? read : undefined
  const pinned = useAtomValue(pinnedAtom)
  const pins = useAtomValue(pinsAtom)
  const pinning = useAtomValue(toolAtom) === PIN
  const heads = kind === 'lab' ? ['L', 'a', 'b'] : ['R', 'G', 'B']
  const row = (reading: Reading | undefined) =>
    (reading ? written(reading, kind) : ['–', '–', '–']).map((v, i) => (
      <td key={i} className="w-14 py-px text-right">
        {v}
      </td>
    ))
  return (
    <div
      className="absolute bottom-2 left-2 z-10 border border-line bg-panel/95 px-2 py-1 text-[12px]"
      role="region"
      aria-label="Readings"
      onPointerDown={(e) => e.stopPropagation()}
      onDoubleClick={(e) => e.stopPropagation()}
    >
      <div className="flex items-center gap-1">
        <select
          aria-label="Kind of reading"
          className="border border-transparent bg-transparent py-0.5 text-quiet hover:border-edge"
          value={kind}
          onChange={(e) => onKind(e.target.value as ReadingKind)}
        >
          {READING_KINDS.map((k) => (
            <option key={k} value={k}>
              {k === 'output' ? `${KIND_NAMES[k]}, ${space}` : KIND_NAMES[k]}
            </option>
          ))}
        </select>
        <button
          className="icon-button !h-6 !w-6"
          aria-pressed={pinning}
          aria-label="Pin a reading"
          title={pins.length >= MAX_PINS ? 'Eight readings are pinned' : 'Pin a reading on the picture'}
          disabled={pins.length >= MAX_PINS}
          onClick={() => toggleTool(PIN)}
        >
          <Pin className={`h-3.5 w-3.5 ${pinning ? 'text-safe' : ''}`} aria-hidden />
        </button>
      </div>
      <table data-testid="readings">
        <thead>
          <tr className="text-quiet">
            <td className="w-4" />
            {heads.map((h) => (
              <td key={h} className="text-right">
                {h}
                {kind === 'sensor' ? ' %' : ''}
              </td>
            ))}
            <td className="w-5" />
          </tr>
        </thead>
        <tbody>
          <tr className="text-bright">
            <td aria-label="Under the pointer" className="text-quiet">
              ·
            </td>
            {row(under)}
            <td />
          </tr>
          {pins.map((_, i) => (
            <tr key={i}>
              <td className="text-quiet">{i + 1}</td>
              {row(pinned[i])}
              <td>
                <button
                  className="flex h-4 w-5 items-center justify-end text-quiet hover:text-bright"
                  aria-label={`Remove reading ${i + 1}`}
                  onClick={() => get(deskAtom).setPins(pins.filter((_, k) => k !== i))}
                >
                  <X className="h-3 w-3" aria-hidden />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
