import { percent } from '../words'
import type { CfaPattern } from '../../raw'
import type { Triple } from '../../math'
import { address } from '../../memory'
import { defineStep, planeLength, type Tile } from '../step'
import { reachOfBlocks, reachOfCoarse, withoutCoarseNoise, withoutNoise, type Planes } from './collaborate'
import { actingNoise, chosenNoise, leavesNoise } from './model'
import { NoiseSchema, type NoiseSettings } from './schema'
import { stabilising, type NoiseOf } from './stabilise'

interface Prepared {
  settings: NoiseSettings
  noise: readonly NoiseOf[]
  balance: Triple
  pattern: CfaPattern
}

/** Windows whose variance tells drawing from an even place, to either side. */
const ACTIVITY = 2

/**
 * Noise of a mosaic of 2 x 2, before its colours are interpolated: there it is white, and of known size at every
 * brightness. What needs whole colours, and all other kinds of files, are the part of `colourNoise`.
 */
export const noise = defineStep({
  id: 'noise',
  name: 'Noise',
  says: ({ mode, luminance }) => (mode === 'automatic' ? 'noise' : `noise ${percent(luminance)}`),
  stage: 'refine',
  schema: NoiseSchema,
  neutral: NoiseSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'mosaic',
  yields: 'mosaic',
  spare: true,
  drafts: true,
  inArea: true,
  instead: true,
  idle: leavesNoise,
  reach(settings, _scale, { pattern }, draft) {
    if (pattern.size !== 2) return 0
    const { blotches } = actingNoise(settings)
    const fine = settings.fine && !draft
    return 2 * (blotches > 0 ? reachOfCoarse(fine) : reachOfBlocks(fine)) + 2 * ACTIVITY
  },
  prepare: (settings, { noiseModels, balance, pattern }): Prepared => ({
    settings: actingNoise(settings),
    noise: chosenNoise(noiseModels, settings.source).noise,
    balance,
    pattern,
  }),
  run(tile, { settings, noise, balance, pattern }) {
    if (pattern.size !== 2) return
    const { scratch } = tile
    const mark = scratch.mark()
    const numbers = stabilising(noise, balance, pattern, [tile.x, tile.y])
    const noisy = toCells(tile, numbers.forward)
    const { luminance, colour, blotches } = settings
    // no strength at all would divide by nothing
    const sigmas = [luminance, colour, colour, luminance].map((s) => Math.max(s, 1e-3))
    const done = withoutNoise(tile, noisy, sigmas, settings.fine && !tile.draft)
    if (blotches > 0)
      withoutCoarseNoise(
        tile,
        noisy,
        done,
        [luminance, blotches, blotches, 0].map((s) => Math.max(s, 1e-3)),
        [Math.min(luminance, 1), Math.min(blotches, 1), Math.min(blotches, 1), 0],
      )
    giveBack(tile, noisy, done, settings, numbers.white)
    fromCells(tile, done, numbers.back)
    scratch.release(mark)
  },
})

function toCells({ raster, x, y, kernels, scratch }: Tile, numbers: Float32Array): Planes {
  const out = scratch.raster(raster.width >> 1, raster.height >> 1, 4)
  const { offset: at, stride, width, height } = out
  const given = scratch.floats(numbers)
  const plane = planeLength(out) * 4
  for (let j = 0; j < height; j++) {
    const line = (i: number) => address(raster, 0, 0, 2 * j + i)
    kernels.stabilise_cells(line(0), line(1), address(out, 0, 0, j), plane, width, given)
  }
  return { at, count: 4, plane, stride, width, height, x: Math.floor(x / 2), y: Math.floor(y / 2) }
}

function fromCells({ raster, kernels, scratch }: Tile, cells: Planes, numbers: Float32Array): void {
  const given = scratch.floats(numbers)
  for (let j = 0; j < cells.height; j++) {
    const line = (i: number) => address(raster, 0, 0, 2 * j + i)
    kernels.restore_cells(cells.at + j * cells.stride * 4, cells.plane, line(0), line(1), cells.width, given)
  }
}

/** Gives back a part of what was taken: where there is drawing, or in the lights or shadows. */
function giveBack(tile: Tile, noisy: Planes, done: Planes, settings: NoiseSettings, white: number): void {
  const { kernels, scratch } = tile
  const { keepDetail, tone } = settings
  if (keepDetail === 0 && tone === 0) return
  const mark = scratch.mark()
  const [means, squares, work] = [0, 1, 2].map(() => scratch.take(done.plane))
  const n = done.plane / 4
  kernels.multiply(done.at, done.at, means, n)
  kernels.box_sum(means, squares, done.width, done.height, done.stride, ACTIVITY, work)
  kernels.box_sum(done.at, means, done.width, done.height, done.stride, ACTIVITY, work)
  const share = 1 / (2 * ACTIVITY + 1) ** 2
  kernels.shares_back(means, squares, work, n, share, keepDetail, tone, 1 / white)
  // drawing is in the light; the other planes give back by tone alone
  for (const p of [0, 3]) kernels.mix_by(done.at + p * done.plane, noisy.at + p * noisy.plane, work, n)
  if (tone === 0) return scratch.release(mark)
  kernels.shares_back(means, squares, work, n, share, 0, tone, 1 / white)
  for (const p of [1, 2]) kernels.mix_by(done.at + p * done.plane, noisy.at + p * noisy.plane, work, n)
  scratch.release(mark)
}
