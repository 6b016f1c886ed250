import { TONE_SCALE } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { memo } from 'react'
import { useAtom, useAtomValue } from 'jotai'
import { countedViewAtom } from '../state/looking'
import { RAIL_SCALES, railScaleAtom, type RailScale } from './scale'
import { ToneGrips } from './ToneGrips'
import { Waveform } from './Waveform'

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

const SCALE_NAMES: Record<RailScale, string> = { stops: 'Stops', display: 'Display', waveform: 'Waveform' }

/** Place of a bin's border on the display's own scale, encoded sRGB, in bins. */
const ENCODED = Array.from({ length: bins + 1 }, (_, i) => {
  const light = 0.18 * 2 ** (from + (i / bins) * (to - from))
  const v = light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055
  return Math.min(Math.max(v, 0), 1) * bins
})
const LEVELS = [0, 32, 64, 96, 128, 160, 192, 224, 255]

/** The same counts on the display's scale, their area kept. */
function outlineEncoded(counts: Uint32Array, top: number): string {
  let path = `M0 ${HEIGHT}`
  for (let i = 0; i < bins; i++) {
    const wide = Math.max(ENCODED[i + 1] - ENCODED[i], 0.05)
    const h = Math.min(Math.sqrt(counts[i] / wide / top), 1) * (HEIGHT - 2)
    path += `L${((ENCODED[i] + ENCODED[i + 1]) / 2).toFixed(1)} ${(HEIGHT - h).toFixed(1)}`
  }
  return `${path}L${bins} ${HEIGHT}Z`
}

/** The histogram; drawn anew with each view, not with each movement of a handle. */
const Plot = memo(function Plot({ view, scale }: { view?: View; scale: RailScale }) {
  const top = view ? highest(view.histogram, scale === 'display') : 1
  const path = scale === 'display' ? outlineEncoded : outline
  return (
    <svg
      viewBox={`0 0 ${bins} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="h-[84px] w-full bg-night"
      role="img"
      aria-label={`Histogram of red, green, blue and luminance over ${scale === 'stops' ? 'stops around mid grey' : 'levels of the display'}`}
    >
      {(scale === 'stops' ? STOPS.map(across) : LEVELS.map((v) => (v / 255) * bins)).map((x, i) => (
        <line
          key={i}
          x1={x}
          x2={x}
          y1="0"
          y2={HEIGHT}
          stroke={scale === 'stops' && STOPS[i] === 0 ? '#6a6a6a' : '#2c2c2c'}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {view && <path d={path(view.histogram[3], top)} fill="#565656" />}
      {view &&
        CHANNELS.map(([name, colour], i) => (
          <path
            key={name}
            d={path(view.histogram[i], top)}
            fill="none"
            stroke={colour}
            strokeWidth="1.25"
            vectorEffect="non-scaling-stroke"
          />
        ))}
    </svg>
  )
})

/** Histogram or waveform, the handles of the tones on it, and what is clipped at both ends. */
export function ToneRail() {
  const view = useAtomValue(countedViewAtom)
  const [scale, onScale] = useAtom(railScaleAtom)
  const all = view ? view.width * view.height : 1
  return (
    <section
      aria-label="Tone rail"
      className="flex h-[124px] shrink-0 items-stretch gap-3 border-t border-line bg-panel px-3 pt-2 pb-1"
    >
      <Clipped title="Shadows" counts={view?.clipped.subarray(3, 6)} all={all} />
      <div className="relative min-w-0 flex-1">
        {scale === 'waveform' ? <Waveform counts={view?.waveform} /> : <Plot view={view} scale={scale} />}
        {scale === 'stops' && <ToneGrips />}
        <div className="relative h-5 text-[11px] text-quiet" aria-hidden>
          {scale === 'stops' &&
            STOPS.map((s) => (
              <span
                key={s}
                className="absolute -translate-x-1/2"
                style={{ left: `${(across(s) / bins) * 100}%` }}
              >
                {s === 0 ? 'mid grey' : s > 0 ? `+${s}` : `\u2212${-s}`}
              </span>
            ))}
          {scale === 'display' &&
            LEVELS.slice(1, -1).map((v) => (
              <span key={v} className="absolute -translate-x-1/2" style={{ left: `${(v / 255) * 100}%` }}>
                {v}
              </span>
            ))}
          {scale === 'waveform' && <span className="absolute left-0">left of the picture</span>}
          <span className="absolute right-0">{scale === 'waveform' ? 'right' : 'white'}</span>
        </div>
      </div>
      <div
        className="flex w-[72px] shrink-0 flex-col gap-0.5"
        role="radiogroup"
        aria-label="Scale of the rail"
      >
        {RAIL_SCALES.map((s) => (
          <button
            key={s}
            role="radio"
            aria-checked={s === scale}
            className={`border px-1 py-0.5 text-left text-[11px] ${s === scale ? 'border-safe text-bright' : 'border-edge text-quiet hover:text-bright'}`}
            onClick={() => onScale(s)}
          >
            {SCALE_NAMES[s]}
          </button>
        ))}
      </div>
      <Clipped title="Highlights" counts={view?.clipped.subarray(0, 3)} all={all} />
    </section>
  )
}

/** Largest count that is not at an end, so that a clipped sky does not flatten the rest. */
function highest(histogram: View['histogram'], encoded: boolean): number {
  let top = 1
  for (const channel of histogram)
    for (let i = encoded ? 60 : 2; i < bins - 2; i++)
      top = Math.max(top, encoded ? channel[i] / Math.max(ENCODED[i + 1] - ENCODED[i], 0.05) : channel[i])
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
