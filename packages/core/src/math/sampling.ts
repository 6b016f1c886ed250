import { cubic, sinCos } from './scalar'

/** Places within a pixel that have weights of their own. */
const PHASES = 512

const PI = Math.PI
/** sin(pi x) / (pi x). */
export const sinc = (x: number) => (x === 0 ? 1 : sinCos(PI * x)[0] / (PI * x))

/**
 * Weights of six samples (eight places, the last two empty) or of four, by place within a pixel. Six: a sinc held by
 * the middle lobe of another (Duchon 1979), its band narrowed by `ratio`; four: Keys 1981.
 */
export function kernelWeights(quick: boolean, ratio: number): Float32Array {
  const places = quick ? 4 : 8
  const out = new Float32Array(PHASES * places)
  for (let phase = 0; phase < PHASES; phase++) {
    const f = phase / PHASES
    const taps: number[] = []
    if (quick) {
      for (let k = -1; k <= 2; k++) taps.push(cubic(k - f))
    } else
      for (let k = -2; k <= 3; k++) {
        const t = k - f
        taps.push(Math.abs(t) < 3 ? sinc(t / ratio) * sinc(t / 3) : 0)
      }
    // on a whole pixel nothing but that pixel
    if (f === 0 && ratio === 1) taps.forEach((_, i) => (taps[i] = i === (quick ? 1 : 2) ? 1 : 0))
    const sum = taps.reduce((a, b) => a + b, 0)
    taps.forEach((w, i) => (out[phase * places + i] = w / sum))
  }
  return out
}
