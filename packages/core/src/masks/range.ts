import { exp2, log2, smoothStep } from '../math'
import { TONE_RANGE, type ColourRange, type ToneRange } from './schema'

/** A piece of the picture in the scene's light as the camera saw it, Oklab. */
export interface Guide {
  L: Float32Array
  a: Float32Array
  b: Float32Array
}

/** Oklab's lightness of the scene's middle grey, a light of 0.18. */
const MIDDLE_GREY = 0.18 ** (1 / 3)
/** Lightness below which there is no colour to speak of. */
const DARK = 1e-4

const step = (distance: number, over: number): number =>
  over > 0 ? smoothStep(Math.min(Math.max(1 - distance / over, 0), 1)) : distance <= 0 ? 1 : 0

/** EV from middle grey of a lightness. */
export const toneOf = (L: number): number => (L > DARK ? 3 * log2(L / MIDDLE_GREY) : -40)

/** How much of a tone a range takes, 0..1. */
export function toneShare({ from, to, below, above }: ToneRange, ev: number): number {
  const low = from <= TONE_RANGE.least ? 1 : step(from - ev, below)
  return low === 0 ? 0 : low * (to >= TONE_RANGE.most ? 1 : step(ev - to, above))
}

/** Lightness of a tone. */
const lightnessOf = (ev: number): number => MIDDLE_GREY * exp2(ev / 3)

/** The same by lightness: what is not where a range runs out needs no logarithm. */
export function toneSharer(range: ToneRange): (L: number) => number {
  const { from, to, below, above } = range
  const open = { low: from <= TONE_RANGE.least, high: to >= TONE_RANGE.most }
  const [least, most] = [lightnessOf(from - below), lightnessOf(to + above)]
  const [first, last] = [lightnessOf(from), lightnessOf(to)]
  return (L) => {
    if ((open.low || L >= first) && (open.high || L <= last)) return 1
    if ((!open.low && L <= least) || (!open.high && L >= most)) return 0
    return toneShare(range, toneOf(L))
  }
}

/** How much of a colour a range takes, 0..1. */
export function colourShare(
  { samples, reach, softness }: ColourRange,
  L: number,
  a: number,
  b: number,
): number {
  if (!(L > DARK)) return 0
  const [p, q] = [a / L, b / L]
  let nearest = Infinity
  for (const [u, v] of samples) nearest = Math.min(nearest, (p - u) * (p - u) + (q - v) * (q - v))
  return step(Math.sqrt(nearest) - reach, softness)
}
