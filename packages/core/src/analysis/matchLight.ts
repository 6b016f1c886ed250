import { log2, type Triple } from '../math'
import type { SmallPicture } from './automatic'

/** Cells along the long edge that are compared place by place: coarse, so that things may move a little. */
const CELLS = 30
/** Signals that are compared, of a white level of 1: what is nearly clipped or nearly black says nothing. */
const LOWEST = 0.0006
const HIGHEST = 0.85
/** Share of the cells that must be comparable. */
const ENOUGH = 0.15
/** Share of an edge by which the camera may have turned from one picture to the other. */
const TURNED = 0.3
/** Stops by which half of the places of one scene differ at most from what all of them differ by. */
const ALIKE = 0.25

/** The middle of some differences, and how far half of them lie from it at most. */
function agreement(differences: Float64Array): { middle: number; spread: number } {
  const middle = median(differences)
  return { middle, spread: median(differences.map((d) => Math.abs(d - middle))) }
}
const median = (values: Float64Array): number => Float64Array.from(values).sort()[values.length >> 1]

/** Means of cells of a picture's channels. */
function cellsOf({ width, height, rgb }: SmallPicture, across: number, down: number): Float64Array[] {
  const sums = [0, 1, 2].map(() => new Float64Array(across * down))
  const counts = new Float64Array(across * down)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const cell = Math.floor((y * down) / height) * across + Math.floor((x * across) / width)
      counts[cell]++
      for (let c = 0; c < 3; c++) sums[c][cell] += rgb[3 * (y * width + x) + c]
    }
  return sums.map((sum) => sum.map((v, i) => v / Math.max(counts[i], 1)))
}

/** Cells with their neighbours, so that a shift by a part of one counts little; nothing where one says nothing. */
function softened(channels: readonly Float64Array[], across: number, down: number): Float64Array[] {
  return channels.map((cells) =>
    cells.map((_, i) => {
      const [x, y] = [i % across, Math.floor(i / across)]
      let sum = 0
      let count = 0
      for (let v = Math.max(y - 1, 0); v <= Math.min(y + 1, down - 1); v++)
        for (let u = Math.max(x - 1, 0); u <= Math.min(x + 1, across - 1); u++) {
          const cell = cells[v * across + u]
          if (!isTold(cell)) return 0
          sum += cell
          count++
        }
      return sum / count
    }),
  )
}

const isTold = (v: number) => v > LOWEST && v < HIGHEST

/**
 * By how many stops a picture's channels are stronger than another's, where both show the same things: what most of
 * their places say, with one laid over the other so that they say it most clearly.
 * @param to camera channels, not balanced, white level 1; by the same kind of camera
 * @returns nothing where they do not show the same
 */
export function lightBetween(to: SmallPicture, own: SmallPicture): Triple | undefined {
  const shape = (p: SmallPicture) => p.width / p.height
  if (Math.abs(log2(shape(to) / shape(own))) > 0.05) return undefined
  const long = Math.max(to.width, to.height)
  const [across, down] = [to.width, to.height].map((v) => Math.max(Math.round((v / long) * CELLS), 1))
  const [a, b] = [to, own].map((p) => softened(cellsOf(p, across, down), across, down))
  const told = [a, b].map((of) => of[0].map((_, i) => Number(of.every((channel) => isTold(channel[i])))))
  /** Differences of all channels, with the second picture so many cells aside. */
  const over = (dx: number, dy: number) => {
    const found: [number, number][] = []
    for (let y = Math.max(0, -dy); y < Math.min(down, down - dy); y++)
      for (let x = Math.max(0, -dx); x < Math.min(across, across - dx); x++) {
        const [i, k] = [y * across + x, (y + dy) * across + x + dx]
        if (told[0][i] && told[1][k]) found.push([i, k])
      }
    if (found.length < ENOUGH * across * down) return undefined
    return a.map((_, c) => agreement(Float64Array.from(found, ([i, k]) => log2(b[c][k] / a[c][i]))))
  }
  let best: ReturnType<typeof over>
  let least = ALIKE
  const [right, below] = [across, down].map((n) => Math.floor(n * TURNED))
  for (let dy = -below; dy <= below; dy++)
    for (let dx = -right; dx <= right; dx++) {
      const channels = over(dx, dy)
      const spread = channels && Math.max(...channels.map((c) => c.spread))
      if (spread === undefined || spread >= least) continue
      least = spread
      best = channels
    }
  return best && [best[0].middle, best[1].middle, best[2].middle]
}

/**
 * Signal of the same light by the camera's settings, in stops from one second at f/1 and ISO 100.
 * @returns nothing where the camera did not note them
 */
export function exposureOf(metadata: {
  exposureTime?: number
  fNumber?: number
  iso?: number
}): number | undefined {
  const { exposureTime, fNumber, iso } = metadata
  if (!(exposureTime && exposureTime > 0 && fNumber && fNumber > 0 && iso && iso > 0)) return undefined
  return log2((exposureTime * iso) / 100) - 2 * log2(fNumber)
}
