import { bestPredictor, CODE_BITS, codesOf, encodeLosslessJpeg, linearOf } from '../raw'
import type { PackLinearTask } from './tasks'

/** Of these the best is taken for each strip: by the slope of the line above, or by the mean of left and above. */
const PREDICTORS = [6, 7] as const

/** Codes of the last companding that was asked for: a file has one. */
let last: { key: string; codes: Uint16Array } | undefined

/** A strip of a linear DNG: lossless JPEG of companded samples. */
export function packLinear(
  buffer: ArrayBufferLike,
  { source, width, lines, companding }: PackLinearTask,
): Uint8Array {
  const key = JSON.stringify(companding)
  if (last?.key !== key) last = { key, codes: codesOf(linearOf(companding)) }
  const { codes } = last
  const light = new Uint16Array(buffer, source, width * lines * 3)
  const samples = new Uint16Array(light.length)
  for (let i = 0; i < samples.length; i++) samples[i] = codes[light[i]]
  const wide = width * 3
  const predictor = bestPredictor(samples, wide, lines, CODE_BITS, 3, PREDICTORS)
  return encodeLosslessJpeg(samples, wide, lines, CODE_BITS, { components: 3, predictor, tables: 3 })
}
