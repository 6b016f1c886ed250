import { bestPredictor, CODE_BITS, codesOf, encodeLosslessJpeg, linearOf } from '../raw'
import type { PackLinearTask } from './tasks'

/** Of these the best is taken for each strip: by the slope of the line above, or by the mean of left and above. */
const PREDICTORS = [6, 7] as const

/** Codes of the last companding that was asked for: a file has one. */
let last: { key: string; codes: Uint16Array } | undefined

/** A tile of a linear DNG: lossless JPEG of companded samples. */
export function packLinear(
  buffer: ArrayBufferLike,
  { source, width, lines, tile, companding }: PackLinearTask,
): Uint8Array {
  const key = JSON.stringify(companding)
  if (last?.key !== key) last = { key, codes: codesOf(linearOf(companding)) }
  const { codes } = last
  const light = new Uint16Array(buffer, source, width * lines * 3)
  const wide = tile.width * 3
  const samples = new Uint16Array(wide * tile.lines)
  for (let y = 0; y < tile.lines; y++) {
    // over the picture's edge its last pixels go on
    const from = Math.min(y, lines - 1) * width * 3
    const to = y * wide
    for (let i = 0; i < width * 3; i++) samples[to + i] = codes[light[from + i]]
    for (let i = width * 3; i < wide; i++) samples[to + i] = samples[to + i - 3]
  }
  const predictor = bestPredictor(samples, wide, tile.lines, CODE_BITS, 3, PREDICTORS)
  return encodeLosslessJpeg(samples, wide, tile.lines, CODE_BITS, { components: 3, predictor, tables: 3 })
}
