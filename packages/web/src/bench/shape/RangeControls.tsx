import {
  ColourRangeSchema,
  TONE_RANGE,
  ToneRangeSchema,
  type ColourRange,
  type ToneRange,
} from '@dunkelkammer/core'
import { X } from 'lucide-react'
import { useRef, type PointerEvent } from 'react'
import { Numbers, numbersIn } from '../steps/StepNumbers'

const TONES = numbersIn(ToneRangeSchema, 'from', 'to', 'below', 'above')
const COLOURS = numbersIn(ColourRangeSchema, 'reach', 'softness')
const { least, most } = TONE_RANGE

const share = (ev: number) => Math.min(Math.max((ev - least) / (most - least), 0), 1)
const hold = (ev: number, from: number, to: number) => Math.min(Math.max(Math.round(ev * 20) / 20, from), to)

interface Props<R> {
  range: R
  onChange(range: R, label: string, gesture: string): void
  onEnd(): void
}

/** Tones from to with their run-outs: on a scale, and as numbers. */
export function ToneRangeControls({ range, onChange, onEnd }: Props<ToneRange>) {
  return (
    <>
      <ToneScale range={range} onChange={onChange} onEnd={onEnd} />
      <Numbers
        numbers={TONES}
        values={range}
        onChange={(name, value, label) => {
          const next = { ...range, [name]: value }
          // its ends do not pass each other
          if (name === 'from') next.to = Math.max(next.to, value)
          if (name === 'to') next.from = Math.min(next.from, value)
          onChange(next, `Tone range, ${label.toLowerCase()}`, name)
        }}
        onEnd={onEnd}
      />
    </>
  )
}

type End = 'from' | 'to' | 'below' | 'above'

/** The range on the scale of the scene's tones: its ends are dragged, and where it runs out to. */
function ToneScale({ range, onChange, onEnd }: Props<ToneRange>) {
  const { from, to, below, above } = range
  const box = useRef<HTMLDivElement>(null)
  const held = useRef<End>(undefined)
  const places: Record<End, number> = { below: from - below, from, to, above: to + above }
  const move = (event: PointerEvent) => {
    const end = held.current
    if (!end) return
    const { left, width } = box.current!.getBoundingClientRect()
    const ev = least + ((event.clientX - left) / width) * (most - least)
    const next = { ...range }
    if (end === 'from') next.from = hold(ev, least, to)
    else if (end === 'to') next.to = hold(ev, from, most)
    else if (end === 'below') next.below = hold(from - ev, 0, 8)
    else next.above = hold(ev - to, 0, 8)
    onChange(next, 'Tone range', end)
  }
  const take = (event: PointerEvent) => {
    const { left, width } = box.current!.getBoundingClientRect()
    const at = (event.clientX - left) / width
    const ends = Object.keys(places) as End[]
    held.current = ends.reduce((a, b) =>
      Math.abs(share(places[b]) - at) < Math.abs(share(places[a]) - at) ? b : a,
    )
    event.currentTarget.setPointerCapture(event.pointerId)
    move(event)
  }
  const per = (ev: number) => share(ev) * 100
  return (
    <div
      ref={box}
      role="img"
      aria-label={`Tones from ${from} to ${to} EV`}
      className="relative mt-1 mb-2 h-7 cursor-ew-resize touch-none border border-edge"
      style={{ background: 'linear-gradient(to right, #000, #777 62%, #fff)' }}
      onPointerDown={take}
      onPointerMove={move}
      onPointerUp={() => {
        held.current = undefined
        onEnd()
      }}
      onPointerCancel={() => (held.current = undefined)}
    >
      <svg
        viewBox="0 0 100 24"
        preserveAspectRatio="none"
        className="absolute inset-0 h-full w-full"
        aria-hidden
      >
        {[
          ['#000', 3],
          ['#fff', 1],
        ].map(([stroke, width]) => (
          <path
            key={stroke}
            d={`M0 23H${from <= least ? 0 : per(from - below)}L${per(from)} 3H${per(to)}L${to >= most ? 100 : per(to + above)} 23H100`}
            fill="none"
            stroke={stroke as string}
            strokeWidth={width}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
    </div>
  )
}

/** Colours near some samples. */
export function ColourRangeControls({ range, onChange, onEnd }: Props<ColourRange>) {
  const { samples } = range
  return (
    <>
      {samples.length === 0 ? (
        <p className="hint">No colours yet: sample them from the picture.</p>
      ) : (
        <ul className="my-1 flex flex-wrap gap-1" aria-label="Sampled colours">
          {samples.map(([a, b], i) => (
            <li key={i}>
              <button
                className="group flex h-6 w-6 items-center justify-center border border-edge"
                style={{ background: `oklab(0.65 ${a * 0.65} ${b * 0.65})` }}
                aria-label={`Remove colour ${i + 1}`}
                title="Remove this colour"
                onClick={() => {
                  onChange(
                    { ...range, samples: samples.filter((_, k) => k !== i) },
                    'Colour removed',
                    `sample ${i}`,
                  )
                  onEnd()
                }}
              >
                <X
                  className="h-3 w-3 text-black opacity-0 group-hover:opacity-100 group-focus:opacity-100"
                  aria-hidden
                />
              </button>
            </li>
          ))}
        </ul>
      )}
      <Numbers
        numbers={COLOURS}
        values={range}
        onChange={(name, value, label) =>
          onChange({ ...range, [name]: value }, `Colour range, ${label.toLowerCase()}`, name)
        }
        onEnd={onEnd}
      />
    </>
  )
}
