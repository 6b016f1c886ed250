import { planeLength, type Tile } from '../step'

/** Planes of the same size one after the other, and where they lie in the picture, in their own samples. */
export interface Planes {
  at: number
  count: number
  /** Bytes from plane to plane. */
  plane: number
  stride: number
  width: number
  height: number
  x: number
  y: number
}

/** Samples between blocks: of the quick way, of the first estimate of the better one, of its groups. */
const STEP = { draft: 4, pilot: 2, groups: 4 }
/** How far off alike blocks are looked for, and how many are taken. */
const RADIUS = 9
const MOST = 8
/** Mean squared difference of alike blocks, in variances of the noise. */
const NEAR = 2.5
/** Coefficients are something from so many times the noise on. */
export const THRESHOLD = 2.7
/** The same where the picture is four times as coarse. */
const COARSE_THRESHOLD = 3
const BLOCK = 8
const COARSE = 4

/** Surroundings that a sample's result depends on, in samples of the planes. */
export const reachOfBlocks = (fine: boolean): number => (fine ? 2 * (BLOCK - 1) + 2 * RADIUS + 1 : BLOCK)
/** The same where coarse noise is taken away too: its own blocks, and one cell for what lies between. */
export const reachOfCoarse = (fine: boolean): number =>
  Math.max(COARSE * (BLOCK + 2), 2 * COARSE + reachOfBlocks(fine))

/** Weights over a block, so that its rim counts less (Kaiser window, beta 2). */
const WINDOW = (() => {
  const line = [0.4387, 0.6597, 0.8531, 0.9832, 0.9832, 0.8531, 0.6597, 0.4387]
  return line.flatMap((a) => line.map((b) => a * b))
})()

function emptied({ scratch }: Tile, bytes: number): number {
  const at = scratch.take(bytes)
  new Uint8Array(scratch.memory.buffer, at, bytes).fill(0)
  return at
}

/** Numbers that the kernels take of some planes, in their order. */
const shape = ({ count, plane, width, height, stride, x, y }: Planes) =>
  [count, plane, width, height, stride, x, y] as const

/**
 * Planes that keep the mean of an even place. The fourth, how the greens differ, has none: what little a block's mean
 * holds is noise, and would show as a weave one pixel wide.
 */
const meansOf = ({ count }: Planes) => Math.min(count, 3)

/**
 * Blocks of the cosine transform with thresholds, overlapping by all but `step` samples.
 * @param sigmas noise of each plane, as much as is to be taken away
 */
function shrink(
  tile: Tile,
  from: Planes,
  sigmas: readonly number[],
  threshold: number,
  step: number,
): Planes {
  const { kernels, scratch } = tile
  const num = emptied(tile, from.count * from.plane)
  const mark = scratch.mark()
  const den = emptied(tile, from.plane)
  const limits = scratch.floats(sigmas.map((s) => s * threshold))
  const rest = [meansOf(from), step, limits, scratch.floats(WINDOW), scratch.take(from.count * 256)] as const
  kernels.shrink_blocks(from.at, num, den, ...shape(from), ...rest)
  for (let p = 0; p < from.count; p++)
    kernels.settle(num + p * from.plane, den, from.at + p * from.plane, from.plane / 4)
  scratch.release(mark)
  return { ...from, at: num }
}

/** Groups of alike blocks, attenuated together with the first estimate for the truth. */
function collaborate(tile: Tile, from: Planes, pilot: Planes, sigmas: readonly number[]): Planes {
  const { kernels, scratch } = tile
  const size = from.count * from.plane
  const num = emptied(tile, size)
  const mark = scratch.mark()
  const den = emptied(tile, size)
  kernels.filter_groups(
    ...([from.at, pilot.at, num, den, ...shape(from), meansOf(from), STEP.groups, RADIUS, MOST] as const),
    ...([NEAR * sigmas[0] * sigmas[0], scratch.floats(sigmas), scratch.floats(WINDOW)] as const),
    scratch.take(8 * MOST + 2 * MOST * 256),
  )
  for (let p = 0; p < from.count; p++) {
    const at = p * from.plane
    kernels.settle(num + at, den + at, from.at + at, from.plane / 4)
  }
  scratch.release(mark)
  return { ...from, at: num }
}

/**
 * Planes without their noise.
 * @param sigmas noise of each plane, as much as is to be taken away
 * @param fine groups of alike blocks after the blocks alone
 */
export function withoutNoise(tile: Tile, from: Planes, sigmas: readonly number[], fine: boolean): Planes {
  const pilot = shrink(tile, from, sigmas, THRESHOLD, fine ? STEP.pilot : STEP.draft)
  return fine ? collaborate(tile, from, pilot, sigmas) : pilot
}

/**
 * Takes away what is coarser than a block: the same once more on a picture four times as small, where noise is a
 * quarter as strong, laid under what is finer (Pierazzo 2017 in its idea).
 * @param noisy as it was; `done` is changed
 */
export function withoutCoarseNoise(
  tile: Tile,
  noisy: Planes,
  done: Planes,
  sigmas: readonly number[],
  amounts: readonly number[],
): void {
  const { kernels, scratch } = tile
  const toNext = (v: number) => (COARSE - (((v % COARSE) + COARSE) % COARSE)) % COARSE
  const ox = toNext(noisy.x)
  const oy = toNext(noisy.y)
  const width = (noisy.width - ox) >> 2
  const height = (noisy.height - oy) >> 2
  if (width < BLOCK || height < BLOCK) return
  const mark = scratch.mark()
  const small = (source: Planes): Planes => {
    const { count } = source
    const raster = scratch.raster(width, height, count)
    const { offset: at, stride } = raster
    const plane = planeLength(raster) * 4
    for (let p = 0; p < count; p++) {
      const first = source.at + p * source.plane + (oy * source.stride + ox) * 4
      kernels.coarser(first, source.stride, at + p * plane, stride, width, height)
    }
    return {
      at,
      count,
      plane,
      stride,
      width,
      height,
      x: (source.x + ox) / COARSE,
      y: (source.y + oy) / COARSE,
    }
  }
  const before = small(noisy)
  const after = small(done)
  const quarter = sigmas.map((s) => s / COARSE)
  const lines = scratch.take((width + 2) * 4)
  const smooth = shrink(tile, before, quarter, COARSE_THRESHOLD, STEP.pilot)
  for (let p = 0; p < done.count; p++)
    if (amounts[p] > 0)
      kernels.add_coarse(
        ...([done.at + p * done.plane, done.width, done.height, done.stride, ox, oy] as const),
        ...([smooth.at + p * smooth.plane, after.at + p * after.plane] as const),
        ...([after.stride, width, height, amounts[p], lines] as const),
      )
  scratch.release(mark)
}
