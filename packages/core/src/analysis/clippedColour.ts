import { exp2, log2, type Triple } from '../math'
import type { CfaPattern } from '../raw'
import { CELL_FLOATS, cellSize, CLIPPED_FROM } from './cells'

/** Weight of what a cell's own samples say, beside one neighbour's word. */
const OWN = 10
/** Weight of the taken white in a cell that clips. */
const NEUTRAL = 0.06
/** Light of the fullest channel (1 clips it) from which on a cell speaks fully; below, by its 16th power. */
const BRIGHT = 0.9
/** Weight of what two colours say of the third: light of bodies and skies runs from warm to cool. */
const ALONG = 0.05
/** Stops of colour from which on the two fall silent: petals are no light of the sky (Geman and McClure 1987). */
const FAR = 0.5
/** Difference between neighbouring cells, in stops, from which on they hardly speak for each other. */
const EDGE = 0.5
/** Least that neighbours speak for each other, so that a cell behind an edge on all sides has an answer. */
const LEAK = 0.003
/** Side of the blocks in cells that are looked at together. */
const BLOCK = 16
/** Rounds of relaxation at each size. */
const ROUNDS = 8
/** Share of a cell's quads from which on a kind of clipping bounds its ratios. */
const BOUNDING = 0.3

/** A grid of cells with a quadratic form each, a (x y) = b, and what ties it to the next ones. */
interface Level {
  w: number
  h: number
  /** a00, a01, a11, b0, b1 of each cell. */
  form: Float32Array
  /** Cells in it that are not wholly seen. */
  guessed: Float32Array
  /** Ties to the right and downwards. */
  right: Float32Array
  down: Float32Array
}

/** Adds weight * (d0 x + d1 y - value)^2 to a cell. */
function add(form: Float32Array, i: number, d0: number, d1: number, value: number, weight: number): void {
  const o = 5 * i
  form[o] += weight * d0 * d0
  form[o + 1] += weight * d0 * d1
  form[o + 2] += weight * d1 * d1
  form[o + 3] += weight * d0 * value
  form[o + 4] += weight * d1 * value
}

/** Lower and upper limits of log2 red over green, blue over green and red over blue. */
type Limits = Float32Array
const RATIOS = [
  [1, 0, 0, 1],
  [0, 1, 2, 1],
  [1, -1, 0, 2],
] as const

/**
 * Red and blue over green of the light in and around what is clipped, of cells: two maps, one after the other, or
 * nothing where nothing is clipped. What is left in a cell says a part (both ratios, one of the three, or only
 * limits), and its neighbours the rest, across no edge that is seen in what is left: a membrane over the grid, tied
 * weakly where neighbours differ (Perona and Malik 1990), relaxed from coarse to fine.
 * @param cells CELL_FLOATS a cell, w x h
 * @param balance factor that each colour was given
 */
export function clippedColour(
  cells: Float32Array,
  w: number,
  h: number,
  pattern: CfaPattern,
  balance: Triple,
): Float32Array | undefined {
  const n = w * h
  const quads = (cellSize(pattern) / pattern.size) ** 2
  const per = [0, 1, 2].map((c) => pattern.colours.filter((p) => p === c).length)
  const clip = balance.map((b) => b * CLIPPED_FROM)
  const form = new Float32Array(5 * n)
  const guessed = new Float32Array(n)
  const open: number[] = []
  for (let i = 0; i < n; i++) {
    const broken = brokenQuads(cells, i * CELL_FLOATS)
    if (broken > 0) {
      guessed[i] = 1
      open.push(i)
    }
  }
  if (open.length === 0) return undefined
  const limits = new Float32Array(6 * n)
  /** Mean of each colour in stops, as far as it is seen. */
  const light = new Float32Array(3 * n)
  const near = around(open, w, h)
  for (const i of near) {
    const c = i * CELL_FLOATS
    const sum = cells[c + 4]
    const broken = guessed[i] > 0 ? brokenQuads(cells, c) : 0
    const whole = quads - broken
    const seen = sum > 0 && whole > 0
    const r = seen ? cells[c] / sum / per[0] : 0
    const g = seen ? (cells[c + 1] + cells[c + 3]) / sum / per[1] : 0
    const b = seen ? cells[c + 2] / sum / per[2] : 0
    const at = 3 * i
    light[at] = stops(r)
    light[at + 1] = stops(g)
    light[at + 2] = stops(b)
    if (seen) {
      // dark cells say little about the light that clipped
      const full = Math.min(Math.max(r / balance[0], g / balance[1], b / balance[2]) / BRIGHT, 1)
      const weight = OWN * squared(whole / quads) * squared(squared(squared(squared(full))))
      add(form, i, 1, 0, light[at] - light[at + 1], weight)
      add(form, i, 0, 1, light[at + 2] - light[at + 1], weight)
    }
    if (broken === 0) continue
    const rest = readBroken(cells, c, quads, per, clip, form, limits, i)
    light[at] = stops((r * whole + rest[0]) / quads)
    light[at + 1] = stops((g * whole + rest[1]) / quads)
    light[at + 2] = stops((b * whole + rest[2]) / quads)
  }
  const level = { w, h, form, guessed, ...ties(light, guessed, w, h) }
  const found = solve(level)
  relax(level, found, limits)
  const maps = new Float32Array(2 * n).fill(1)
  for (const i of near) {
    maps[i] = exp2(found[2 * i])
    maps[n + i] = exp2(found[2 * i + 1])
  }
  return maps
}

/** Cells in the blocks of what is open and in those next to them: what lies further away has no say. */
function around(open: readonly number[], w: number, h: number): number[] {
  const across = Math.ceil(w / BLOCK)
  const down = Math.ceil(h / BLOCK)
  const near = new Uint8Array(across * down)
  for (const i of open) {
    const x = Math.floor((i % w) / BLOCK)
    const y = Math.floor(i / w / BLOCK)
    for (let v = Math.max(y - 1, 0); v <= Math.min(y + 1, down - 1); v++)
      near.fill(1, v * across + Math.max(x - 1, 0), v * across + Math.min(x + 1, across - 1) + 1)
  }
  const cells: number[] = []
  for (let y = 0; y < h; y++)
    for (let b = 0; b < across; b++) {
      if (!near[Math.floor(y / BLOCK) * across + b]) continue
      for (let x = b * BLOCK; x < Math.min((b + 1) * BLOCK, w); x++) cells.push(y * w + x)
    }
  return cells
}

const squared = (v: number) => v * v
const stops = (v: number) => log2(Math.max(v, 1e-4))

/** Quads of a cell with anything clipped. */
function brokenQuads(cells: Float32Array, c: number): number {
  let count = cells[c + 5]
  for (let kind = 1; kind <= 6; kind++) count += cells[c + 7 + 4 * kind]
  return count
}

/** What the quads say that are clipped in part. Gives their sums of the colours, as far as they are seen. */
function readBroken(
  cells: Float32Array,
  c: number,
  quads: number,
  per: readonly number[],
  clip: readonly number[],
  form: Float32Array,
  limits: Limits,
  i: number,
): number[] {
  const sums = clip.map((v) => v * cells[c + 5])
  let most = 0
  let seen: number[] = []
  let kind = 0
  for (let k = 1; k <= 6; k++) {
    const at = c + 4 + 4 * k
    const count = cells[at + 3]
    if (count === 0) continue
    const mean = clip.map((v, p) => ((k >> p) & 1 ? v : cells[at + p] / count / per[p]))
    for (let p = 0; p < 3; p++) sums[p] += count * mean[p]
    if (count > most) [most, kind, seen] = [count, k, mean]
    // few quads in a cell lie on an edge, where the samples of one see different things
    const weight = OWN * squared(count / quads)
    if (k === 1) add(form, i, 0, 1, stops(mean[2]) - stops(mean[1]), weight)
    else if (k === 2) add(form, i, 1, -1, stops(mean[0]) - stops(mean[2]), weight)
    else if (k === 4) add(form, i, 1, 0, stops(mean[0]) - stops(mean[1]), weight)
  }
  RATIOS.forEach(([, , over, under], k) => {
    const up = (kind >> over) & 1
    const low = (kind >> under) & 1
    const bounds = most >= BOUNDING * quads && up !== low
    const value = bounds ? stops(seen[over]) - stops(seen[under]) : 0
    // a clipped channel holds at least what clips it
    limits[6 * i + 2 * k] = bounds && up ? value : -Infinity
    limits[6 * i + 2 * k + 1] = bounds && low ? value : Infinity
  })
  return sums
}

/** How far neighbours speak for each other, where one of them is not wholly seen. */
function ties(
  light: Float32Array,
  guessed: Float32Array,
  w: number,
  h: number,
): Pick<Level, 'right' | 'down'> {
  const right = new Float32Array(w * h)
  const down = new Float32Array(w * h)
  const tie = (i: number, j: number) => {
    if (guessed[i] + guessed[j] === 0) return 0
    let most = 0
    for (let p = 0; p < 3; p++) most = Math.max(most, Math.abs(light[3 * i + p] - light[3 * j + p]))
    const d = most / EDGE
    return LEAK + 1 / squared(1 + d * d)
  }
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      if (x + 1 < w) right[i] = tie(i, i + 1)
      if (y + 1 < h) down[i] = tie(i, i + w)
    }
  return { right, down }
}

/** The membrane, brought up from the grid of half the size; what is wholly seen stays as it is seen. */
function solve(level: Level): Float32Array {
  const { w, h, form, guessed } = level
  const found = new Float32Array(2 * w * h)
  const small = w * h > 4 ? halved(level) : undefined
  const coarse = small && solve(small)
  if (small) relax(small, coarse!)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      if (guessed[i] > 0) {
        if (!small) continue
        const s = (y >> 1) * small.w + (x >> 1)
        found[2 * i] = coarse![2 * s]
        found[2 * i + 1] = coarse![2 * s + 1]
      } else if (form[5 * i] > 0) {
        found[2 * i] = form[5 * i + 3] / form[5 * i]
        found[2 * i + 1] = form[5 * i + 4] / form[5 * i + 2]
      }
    }
  return found
}

function halved({ w, h, form, guessed, right, down }: Level): Level {
  const sw = (w + 1) >> 1
  const sh = (h + 1) >> 1
  const n = sw * sh
  const small = {
    ...{ w: sw, h: sh, form: new Float32Array(5 * n), guessed: new Float32Array(n) },
    ...{ right: new Float32Array(n), down: new Float32Array(n) },
  }
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      const s = (y >> 1) * sw + (x >> 1)
      for (let k = 0; k < 5; k++) small.form[5 * s + k] += form[5 * i + k]
      small.guessed[s] += guessed[i]
      // half as wide and twice as far: ties across keep the sum of two in one
      if (x & 1) small.right[s] += right[i] / 2
      if (y & 1) small.down[s] += down[i] / 2
    }
  return small
}

/** Rounds of Gauss and Seidel over the cells that are not wholly seen, within limits where given. In place. */
function relax({ w, h, form, guessed, right, down }: Level, found: Float32Array, limits?: Limits): void {
  const list: number[] = []
  for (let i = 0; i < w * h; i++) if (guessed[i] > 0) list.push(i)
  const last = w * h - w
  for (let round = 0; round < ROUNDS; round++)
    for (let t = 0; t < list.length; t++) {
      // there and back, so that news travels in both directions
      const i = list[round & 1 ? list.length - 1 - t : t]
      const x = i % w
      const r = x + 1 < w ? right[i] : 0
      const l = x > 0 ? right[i - 1] : 0
      const d = i < last ? down[i] : 0
      const up = i >= w ? down[i - w] : 0
      let weight = r + l + d + up
      let p = form[5 * i + 3]
      let q = form[5 * i + 4]
      if (r > 0) {
        p += r * found[2 * i + 2]
        q += r * found[2 * i + 3]
      }
      if (l > 0) {
        p += l * found[2 * i - 2]
        q += l * found[2 * i - 1]
      }
      if (d > 0) {
        p += d * found[2 * (i + w)]
        q += d * found[2 * (i + w) + 1]
      }
      if (up > 0) {
        p += up * found[2 * (i - w)]
        q += up * found[2 * (i - w) + 1]
      }
      const x0 = found[2 * i] / FAR
      const y0 = found[2 * i + 1] / FAR
      const along = (guessed[i] * ALONG) / (1 + (x0 + y0) * (x0 + y0))
      weight += along + (guessed[i] * NEUTRAL) / (1 + x0 * x0 + y0 * y0)
      const a = form[5 * i] + weight
      const b = form[5 * i + 1] + along
      const c = form[5 * i + 2] + weight
      const det = a * c - b * b
      if (!(det > 0)) continue
      found[2 * i] = (c * p - b * q) / det
      found[2 * i + 1] = (a * q - b * p) / det
      if (limits) hold(found, limits, i, a, b, c, det)
    }
}

/** Moves a cell into its limits, along what its form resists least. */
function hold(
  found: Float32Array,
  limits: Limits,
  i: number,
  a: number,
  b: number,
  c: number,
  det: number,
): void {
  for (let k = 0; k < 3; k++) {
    const [d0, d1] = RATIOS[k]
    const value = d0 * found[2 * i] + d1 * found[2 * i + 1]
    const low = limits[6 * i + 2 * k]
    const high = limits[6 * i + 2 * k + 1]
    const off = value < low ? low - value : value > high ? high - value : 0
    if (off === 0) continue
    const e0 = (c * d0 - b * d1) / det
    const e1 = (a * d1 - b * d0) / det
    const s = off / (d0 * e0 + d1 * e1)
    found[2 * i] += s * e0
    found[2 * i + 1] += s * e1
  }
}
