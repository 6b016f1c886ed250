import { log2, pow } from '../math'
import { LIGHT_OF_LEVEL } from './levels'
import { renderGrey, renderingCurve } from '../steps/baseRendering/curve'

/** Shares of the picture whose luminance is compared: the middle of it, where a rendering's character lies. */
export const TONE_SHARES: readonly number[] = [0.05, 0.15, 0.25, 0.35, 0.5, 0.65, 0.75, 0.85, 0.95]

/** Linear display luminance (Rec. 709 weights, 1 white) of encoded sRGB pixels at TONE_SHARES of the picture. */
export function toneShares(pixels: ArrayLike<number>, channels: 3 | 4): number[] {
  const bins = new Uint32Array(4096)
  const count = pixels.length / channels
  for (let i = 0; i < pixels.length; i += channels) {
    const y =
      0.2126 * LIGHT_OF_LEVEL[pixels[i]] +
      0.7152 * LIGHT_OF_LEVEL[pixels[i + 1]] +
      0.0722 * LIGHT_OF_LEVEL[pixels[i + 2]]
    // by the root, which spreads the shadows
    bins[Math.min(Math.floor(Math.sqrt(y) * 4096), 4095)]++
  }
  return TONE_SHARES.map((share) => {
    let sum = 0
    let k = 0
    while (k < 4095 && sum + bins[k] < share * count) sum += bins[k++]
    return ((k + 0.5) / 4096) ** 2
  })
}

/** Scene light that a rendering makes a display value of. */
function sceneOf(curve: ReturnType<typeof renderingCurve>, display: number): number {
  let low = 1e-6
  let high = 1.6
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2
    if (renderGrey(curve, middle) < display) low = middle
    else high = middle
  }
  return (low + high) / 2
}

const LIMIT = { ev: 3, grade: 5 }

/**
 * Exposure and grade that bring a picture's tones closest to another rendering of it, in stops of display light.
 * @param ours luminance at TONE_SHARES as rendered at exposure 0 and `grade`
 * @param theirs the same of the other rendering
 */
export function matchTones(
  ours: readonly number[],
  theirs: readonly number[],
  grade: number,
): { ev: number; grade: number } {
  const own = renderingCurve(grade)
  const scene = ours.map((v) => sceneOf(own, v))
  const curves = Array.from({ length: LIMIT.grade * 10 + 1 }, (_, i) => renderingCurve(i / 10))
  let best = { ev: 0, grade, error: Infinity }
  for (let e = -LIMIT.ev * 20; e <= LIMIT.ev * 20; e++)
    curves.forEach((curve, g) => {
      const gain = pow(2, e / 20)
      let error = 0
      scene.forEach((s, i) => {
        // what is nearly white or nearly black says little of brightness and contrast
        if (theirs[i] > 0.97 || theirs[i] < 0.001) return
        error += log2(Math.max(renderGrey(curve, s * gain), 1e-4) / theirs[i]) ** 2
      })
      if (error < best.error) best = { ev: e / 20, grade: g / 10, error }
    })
  return { ev: best.ev, grade: best.grade }
}
