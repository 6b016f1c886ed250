import { TONE_SCALE } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { memo } from 'react'

const HEIGHT = 84
const { from, to, bins } = TONE_SCALE
const across = (stops: number) => ((stops - from) / (to - from)) * bins
const STOPS = Array.from({ length: Math.floor(to) - Math.ceil(from) + 1 }, (_, i) => Math.ceil(from) + i)

/** One channel as a filled outline; heights by the square root, so that little parts show. */
function outline(counts: Uint32Array, top: number): string {
  let path = `M0 ${HEIGHT}`
  for (let i = 0; i < counts.length; i++) {
    const h = Math.min(Math.sqrt(counts[i] / top), 1) * (HEIGHT - 2)
    path += `L${i + 0.5} ${(HEIGHT - h).toFixed(1)}`
  }
  return `${path}L${bins} ${HEIGHT}Z`
}

// luminance is a grey body, the channels are lines over it: blending filled shapes costs more than all the rest
const CHANNELS = [
  ['R', '#e06060'],
  ['G', '#5cb85f'],
  ['B', '#6f8df0'],
] as const

const percent = (n: number, all: number) => {
  const share = (100 * n) / all
  return n === 0 ? '0' : share < 0.01 ? '<0.01' : share.toFixed(share < 10 ? 2 : 1)
}

/** Histogram on stops around mid grey, and what is clipped at both ends. */
export const ToneRail = memo(function ToneRail({ view }: { view?: View }) {
  const all = view ? view.width * view.height : 1
  const top = view ? highest(view.histogram) : 1
  return (
    <section
      aria-label="Tone rail"
      className="flex h-[124px] shrink-0 items-stretch gap-3 border-t border-line bg-panel px-3 pt-2 pb-1"
    >
      <Clipped title="Shadows" counts={view?.clipped.subarray(3, 6)} all={all} />
      <div className="relative min-w-0 flex-1">
        <svg
          viewBox={`0 0 ${bins} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="h-[84px] w-full bg-night"
          role="img"
          aria-label="Histogram of red, green, blue and luminance over stops around mid grey"
        >
          {STOPS.map((s) => (
            <line
              key={s}
              x1={across(s)}
              x2={across(s)}
              y1="0"
              y2={HEIGHT}
              stroke={s === 0 ? '#6a6a6a' : '#2c2c2c'}
              vectorEffect="non-scaling-stroke"
            />
          ))}
          {view && <path d={outline(view.histogram[3], top)} fill="#565656" />}
          {view &&
            CHANNELS.map(([name, colour], i) => (
              <path
                key={name}
                d={outline(view.histogram[i], top)}
                fill="none"
                stroke={colour}
                strokeWidth="1.25"
                vectorEffect="non-scaling-stroke"
              />
            ))}
        </svg>
        <div className="relative h-5 text-[11px] text-quiet" aria-hidden>
          {STOPS.map((s) => (
            <span
              key={s}
              className="absolute -translate-x-1/2"
              style={{ left: `${(across(s) / bins) * 100}%` }}
            >
              {s === 0 ? 'mid grey' : s > 0 ? `+${s}` : `\u2212${-s}`}
            </span>
          ))}
          <span className="absolute right-0">white</span>
        </div>
      </div>
      <Clipped title="Highlights" counts={view?.clipped.subarray(0, 3)} all={all} />
    </section>
  )
})

/** Largest count that is not at an end, so that a clipped sky does not flatten the rest. */
function highest(histogram: View['histogram']): number {
  let top = 1
  for (const channel of histogram) for (let i = 2; i < bins - 2; i++) top = Math.max(top, channel[i])
  return top
}

function Clipped({ title, counts, all }: { title: string; counts?: Uint32Array; all: number }) {
  return (
    <dl aria-label={`${title} clipped`} className="w-[76px] shrink-0">
      <dt className="text-[11px] text-quiet">{title}</dt>
      {CHANNELS.map(([name], i) => (
        <dd key={name} className="flex justify-between leading-5">
          <span className="text-quiet">{name}</span>
          <span className={counts?.[i] ? 'text-bright' : 'text-quiet'}>
            {counts ? `${percent(counts[i], all)} %` : '–'}
          </span>
        </dd>
      ))}
    </dl>
  )
}
