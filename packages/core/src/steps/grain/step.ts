import { percent } from '../words'
import { address } from '../../memory'
import { defineStep, type Surveyed, type Tile } from '../step'
import { GrainSchema, type GrainSettings } from './schema'

/** Side of the grain's picture, which repeats; two samples to a grain. */
const SIDE = 512
const LEVELS = 8
/** Lightness at full strength, standard deviation in the middle tones of grain that is not made smaller. */
const MOST = 0.085

const sideOf = (level: number) => SIDE >> level
/** Samples before a level. */
const startOf = (level: number): number => (level === 0 ? 0 : startOf(level - 1) + sideOf(level - 1) ** 2)

/** A number in -1..1 from a place, by mixing its bits. */
function scatter(i: number): number {
  let a = Math.imul(i + 0x6d2b79f5, 0x85ebca6b)
  a = Math.imul(a ^ (a >>> 15), 0xc2b2ae35)
  a = Math.imul(a ^ (a >>> 13), 0x27d4eb2f)
  return ((a ^ (a >>> 16)) >>> 0) / 2147483648 - 1
}

/** The grain: scattered numbers, softened to round grains, unit deviation; then ever smaller, each level means of four. */
function makeGrain(out: Float32Array): void {
  const raw = new Float32Array(SIDE * SIDE)
  // three numbers together are close to a normal distribution
  for (let i = 0; i < raw.length; i++) raw[i] = scatter(3 * i) + scatter(3 * i + 1) + scatter(3 * i + 2)
  const mask = SIDE - 1
  const soft = new Float32Array(SIDE * SIDE)
  const pass = (src: Float32Array, dst: Float32Array, wrap: (i: number, d: number) => number) => {
    for (let i = 0; i < src.length; i++)
      dst[i] =
        0.06 * (src[wrap(i, -2)] + src[wrap(i, 2)]) +
        0.24 * (src[wrap(i, -1)] + src[wrap(i, 1)]) +
        0.4 * src[i]
  }
  pass(raw, soft, (i, d) => (i & ~mask) | ((i + d) & mask))
  pass(soft, raw, (i, d) => (i + d * SIDE) & (SIDE * SIDE - 1))
  let sum = 0
  for (const v of raw) sum += v * v
  const scale = 1 / Math.sqrt(sum / raw.length)
  for (let i = 0; i < raw.length; i++) out[i] = raw[i] * scale
  for (let level = 1; level < LEVELS; level++) {
    const from = startOf(level - 1)
    const to = startOf(level)
    const n = sideOf(level)
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) {
        const p = from + 2 * y * 2 * n + 2 * x
        out[to + y * n + x] = (out[p] + out[p + 1] + out[p + 2 * n] + out[p + 2 * n + 1]) / 4
      }
  }
}

function runGrain(
  { raster, x, y, whole, kernels }: Tile,
  { strength, size }: GrainSettings,
  at: number,
): void {
  // samples of the grain a pixel of this tile
  const step = 2000 / (size * Math.max(whole.width, whole.height))
  let level = 0
  while (level < LEVELS - 1 && step / (1 << level) > 1.4) level++
  const n = sideOf(level)
  const base = at + startOf(level) * 4
  const own = step / (1 << level)
  const place = (v: number) => v * own - 0.5
  for (let j = 0; j < raster.height; j++) {
    const v = place(y + j + 0.5)
    const k = Math.floor(v)
    const line = (i: number) => base + (((i % n) + n) % n) * n * 4
    kernels.grain_line(
      address(raster, 0, 0, j),
      raster.width,
      line(k),
      line(k + 1),
      v - k,
      n,
      x,
      own,
      strength * MOST,
    )
  }
}

/**
 * Film grain on lightness, fixed to the frame and the same wherever it is computed. Its size belongs to the print:
 * in smaller views grains melt together as they would there.
 */
export const grain = defineStep({
  id: 'grain',
  name: 'Film grain',
  says: ({ strength }) => `grain ${percent(strength)}`,
  stage: 'finish',
  schema: GrainSchema,
  neutral: GrainSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ strength }) => strength === 0,
  survey: {
    looks: false,
    key: () => '',
    bytes: () => startOf(LEVELS) * 4,
    run: (_, __, target, ___, scratch) =>
      makeGrain(new Float32Array(scratch.memory.buffer, target, startOf(LEVELS))),
  },
  reach: () => 0,
  prepare: (settings) => settings,
  run(tile, settings, surveyed?: Surveyed) {
    if (surveyed) runGrain(tile, settings, surveyed.at)
  },
})
