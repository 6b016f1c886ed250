import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { SharpenSchema, type SharpenSettings } from '../steps/sharpen/schema'
import { sharpen, sharpenReach } from '../steps/sharpen/step'
import type { Medium } from '../output'

/** Columns that are sharpened at a time. */
const PIECE = 2048
const MICROMETRES_PER_INCH = 25_400

/**
 * What a medium takes of sharpness: on paper the spread of ink, standard deviation in micrometres; on a screen that of
 * a pixel's own light, in pixels. Overshoot is what the eye does not yet see as a halo.
 */
const TAKES = {
  screen: { pixels: 0.5, halo: 0.03 },
  'matt paper': { micrometres: 80, halo: 0.08 },
  'glossy paper': { micrometres: 55, halo: 0.06 },
} as const

/** Variance of noise, of a picture that has been cleaned: next to none. */
const NOISE = { a: 0, b: 1e-8 }

/** Settings that give back what a medium takes, at a file's own pixels; none where it takes nothing. */
export function sharpeningFor(
  { medium, amount }: { medium: Medium; amount: number },
  ppi: number,
): SharpenSettings | undefined {
  if (medium === 'none' || amount === 0) return undefined
  const takes = TAKES[medium]
  const radius = 'pixels' in takes ? takes.pixels : (takes.micrometres * ppi) / MICROMETRES_PER_INCH
  // from three pixels on the file has more than the paper can show
  const held = Math.min(Math.max(radius, 0.3), 3)
  return SharpenSchema.parse({ amount, radius: held, halo: takes.halo, softness: 'lens' })
}

/**
 * Lines of a picture sharpened at their final size.
 * @param make gives lines first..end, three planes of linear light each
 * @returns lines from..to, on the scratch
 */
export function sharpenedLines(
  kernels: Kernels,
  scratch: Scratch,
  settings: SharpenSettings,
  { width, height, from, to }: { width: number; height: number; from: number; to: number },
  make: (first: number, end: number, emit: (raster: Raster, y: number) => void) => void,
): Raster {
  const reach = sharpenReach(settings, 1)
  const out = scratch.raster(width, to - from, 3)
  const mark = scratch.mark()
  const [top, bottom] = [Math.max(from - reach, 0), Math.min(to + reach, height)]
  const tall = scratch.raster(width, bottom - top, 3)
  make(top, bottom, (raster, y) => {
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < raster.height; j++)
        scratch.copy(address(raster, p, 0, j), address(tall, p, 0, y - top + j), width * 4)
  })
  const samples = new Float32Array(scratch.memory.buffer)
  const held = (i: number, size: number) => Math.min(Math.max(i, 0), size - 1)
  for (let left = 0; left < width; left += PIECE) {
    const piece = scratch.mark()
    const columns = Math.min(PIECE, width - left)
    const raster = scratch.raster(columns + 2 * reach, to - from + 2 * reach, 3)
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < raster.height; j++) {
        const line = address(tall, p, 0, held(from - reach + j, height) - top) >> 2
        const at = address(raster, p, 0, j) >> 2
        // beyond the edges the last sample counts, also in the columns that pad a line
        for (let i = 0; i < raster.stride; i++)
          samples[at + i] = samples[line + held(left - reach + i, width)]
      }
    const tile = { x: 0, y: 0, scale: 1, raster, colours: 'rgb', whole: { width, height } } as const
    sharpen.run({ ...tile, kernels, scratch }, { settings, noise: NOISE, taps: new Map() })
    for (let p = 0; p < 3; p++)
      for (let j = 0; j < to - from; j++)
        scratch.copy(address(raster, p, reach, reach + j), address(out, p, left, j), columns * 4)
    scratch.release(piece)
  }
  scratch.release(mark)
  return out
}
