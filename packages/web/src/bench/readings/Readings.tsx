import { MAX_PINS, type Pin as PinnedPlace } from '@dunkelkammer/contract'
import type { Development, Reading } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { Pin, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Latest } from '../picture/latest'
import type { Place } from '../state/tools'

export const READING_KINDS = ['output', 'linear', 'sensor', 'lab'] as const
export type ReadingKind = (typeof READING_KINDS)[number]
const KIND_NAMES: Record<ReadingKind, string> = {
  output: 'Output',
  linear: 'Linear',
  sensor: 'Sensor',
  lab: 'Lab',
}
const minus = (text: string) => text.replace('-', '\u2212')

/** Three numbers of a reading, as the kind is usually written. */
export function written(reading: Reading, kind: ReadingKind): readonly [string, string, string] {
  const text = (v: number) =>
    kind === 'output'
      ? String(Math.round(v * 255))
      : kind === 'linear'
        ? v.toFixed(3)
        : kind === 'sensor'
          ? (v * 100).toFixed(1)
          : v.toFixed(1)
  return reading[kind].map((v) => minus(text(v))) as unknown as readonly [string, string, string]
}

/** Averaged so far to either side, in sensor pixels. */
const RADIUS = 2

/** Reads places of the picture, the newest wish first. */
export function useReadings(
  picture: Picture | undefined,
  development: Development,
  hover: Place | undefined,
  places: readonly PinnedPlace[],
) {
  const [under, setUnder] = useState<Reading>()
  const [pinned, setPinned] = useState<readonly (Reading | undefined)[]>([])
  const hovers = useRef<Latest<{ picture: Picture; development: Development; at: Place }>>(undefined)
  const pins =
    useRef<Latest<{ picture: Picture; development: Development; places: readonly PinnedPlace[] }>>(undefined)
  useEffect(() => {
    hovers.current = new Latest(
      async ({ picture: p, development: d, at }) => setUnder(await p.read(d, at.x, at.y, RADIUS)),
      () => false,
    )
    pins.current = new Latest(
      async ({ picture: p, development: d, places }) => {
        const long = Math.max(p.width, p.height)
        const square = await p.square(d)
        const out: (Reading | undefined)[] = []
        for (const pin of places) {
          const at = square.toFrame(pin.x * long, pin.y * long)
          const [x, y] = at ? [at[0] / square.width, at[1] / square.height] : [-1, -1]
          // what the frame does not show is not read
          const within = x >= 0 && y >= 0 && x <= 1 && y <= 1
          out.push(within ? await p.read(d, x, y, RADIUS) : undefined)
        }
        setPinned(out)
      },
      () => false,
    )
    return () => {
      hovers.current?.close()
      pins.current?.close()
    }
  }, [])
  useEffect(() => {
    if (picture && hover) hovers.current?.push({ picture, development, at: hover })
    else setUnder(undefined)
  }, [picture, development, hover])
  useEffect(() => {
    // once what is being dragged rests
    if (!picture || places.length === 0) return setPinned([])
    const timer = setTimeout(() => pins.current?.push({ picture, development, places }), 120)
    return () => clearTimeout(timer)
  }, [picture, development, places])
  return { under: hover && under, pinned }
}

/** The reading under the pointer, and the pinned ones, over a corner of the picture. */
export function ReadingsPanel(props: {
  kind: ReadingKind
  onKind(kind: ReadingKind): void
  under?: Reading
  pinned: readonly (Reading | undefined)[]
  pins: readonly PinnedPlace[]
  pinning: boolean
  onPin(): void
  onUnpin(index: number): void
}) {
  const { kind, onKind, under, pinned, pins } = props
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
              {KIND_NAMES[k]}
            </option>
          ))}
        </select>
        <button
          className="icon-button !h-6 !w-6"
          aria-pressed={props.pinning}
          aria-label="Pin a reading"
          title={pins.length >= MAX_PINS ? 'Eight readings are pinned' : 'Pin a reading on the picture'}
          disabled={pins.length >= MAX_PINS}
          onClick={props.onPin}
        >
          <Pin className={`h-3.5 w-3.5 ${props.pinning ? 'text-safe' : ''}`} aria-hidden />
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
                  onClick={() => props.onUnpin(i)}
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
