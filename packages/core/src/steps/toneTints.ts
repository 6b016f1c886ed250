import { sinCosDegrees, smoothStep } from '../math'
import { planeLength, planes, type Tile } from './step'

/** A tint of one tone: what is added in Oklab. */
export interface ToneTint {
  at: number
  hue: number
  chroma: number
  light: number
}

const ENTRIES = 513

/** Over lightness 0..1: a, b and lightness to add. Smooth from tint to tint; black and white stay what they are. */
export function tintTable(tints: readonly ToneTint[]): Float32Array {
  const out = new Float32Array(3 * ENTRIES)
  const added = tints.map(({ at, hue, chroma, light }) => {
    const [sine, cosine] = sinCosDegrees(hue)
    return { at, a: chroma * cosine, b: chroma * sine, light }
  })
  for (let i = 0; i < ENTRIES; i++) {
    const x = i / (ENTRIES - 1)
    const k = added.findIndex((t) => t.at > x)
    const low = added[k < 0 ? added.length - 1 : Math.max(k - 1, 0)]
    const high = added[k < 0 ? added.length - 1 : k]
    const t = high.at > low.at ? smoothStep((x - low.at) / (high.at - low.at)) : 0
    const ends = smoothStep(x / 0.15) * smoothStep((1 - x) / 0.1)
    out[i] = ends * (low.a + t * (high.a - low.a))
    out[ENTRIES + i] = ends * (low.b + t * (high.b - low.b))
    out[2 * ENTRIES + i] = ends * (low.light + t * (high.light - low.light))
  }
  return out
}

/** @param keep share of the colour that is there which stays */
export function runTints({ raster, kernels, scratch }: Tile, table: Float32Array, keep: number): void {
  const mark = scratch.mark()
  kernels.tint_by_tone(...planes(raster), planeLength(raster), scratch.floats(table), ENTRIES, keep)
  scratch.release(mark)
}
