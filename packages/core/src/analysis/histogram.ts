import { log2 } from '../math'

/** The scale of the tone rail: display light in stops around mid grey, white at its right end. */
export const TONE_SCALE = {
  /** Stops around mid grey at the left end. */
  from: -8.5,
  /** Stops around mid grey of display white, 1 / 0.18. */
  to: log2(1 / 0.18),
  bins: 264,
} as const

/** Parts per octave and octaves (from 2^-15) that the kernel counts by. */
const PARTS = 64
const OCTAVES = 16
export const COUNT_PARTS = PARTS * OCTAVES

/** Where each part begins on the tone scale, in bins; the last number is the end of the last part. */
const EDGES = Float64Array.from({ length: COUNT_PARTS + 1 }, (_, i) => {
  const stops = Math.floor(i / PARTS) - 15 + log2(1 + (i % PARTS) / PARTS) - log2(0.18)
  const bin = ((stops - TONE_SCALE.from) / (TONE_SCALE.to - TONE_SCALE.from)) * TONE_SCALE.bins
  return Math.min(Math.max(bin, 0), TONE_SCALE.bins)
})

/**
 * The kernel's counts, evenly spaced within octaves, shared out over the even stops of the tone scale.
 * @param counts COUNT_PARTS counts
 * @returns TONE_SCALE.bins counts with the same sum, up to rounding; what lies beyond an end is in the last bin there
 */
export function toToneScale(counts: Uint32Array): Uint32Array {
  const { bins } = TONE_SCALE
  const out = new Float64Array(bins)
  for (let i = 0; i < counts.length; i++) {
    if (counts[i] === 0) continue
    const a = EDGES[i]
    const b = EDGES[i + 1]
    if (b - a < 1e-9 || i === 0) {
      out[Math.min(Math.floor(a), bins - 1)] += counts[i]
      continue
    }
    for (let k = Math.floor(a); k < b; k++)
      out[k] += (counts[i] * (Math.min(b, k + 1) - Math.max(a, k))) / (b - a)
  }
  return Uint32Array.from(out, Math.round)
}
