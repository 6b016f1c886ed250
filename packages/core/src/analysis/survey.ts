import { exp2, log2, type Triple } from '../math'
import { spanOf, type CfaPattern, type SensorFrame } from '../raw'

/** Side of a cell in sensor pixels: whole repeats of the filter pattern. */
export const cellSize = (pattern: CfaPattern): number => (pattern.size === 2 ? 8 : 6)

/** Floats that the kernel writes for a cell. */
export const CELL_FLOATS = 20

/** Share of the white level from which on a sample counts as clipped: what lies above is no measure of light. */
export const CLIPPED_FROM = 0.985

/** Colours of the pattern with the greens told apart by the rows they stand in: 1 beside red, 3 beside blue. */
export function surveyColours({ size, colours }: CfaPattern): Uint8Array {
  return Uint8Array.from(colours, (c, i) => {
    if (c !== 1 || size !== 2) return c
    const row = Math.floor(i / size) * size
    return colours.slice(row, row + size).includes(0) ? 1 : 3
  })
}

/** What of a file the survey needs; little, because it goes to every worker several times. */
export type SurveyedFrame = Pick<SensorFrame, 'pattern' | 'active' | 'levels' | 'colour'>

/** Black, gain and clipping level of the four, as the kernel wants them. */
export function surveyLevels(frame: Pick<SensorFrame, 'levels'>, balance: Triple): number[] {
  const span = spanOf(frame.levels, 0)
  const black = frame.levels.white[0] - span
  return [0, 1, 2, 1].flatMap((c) => [black, balance[c] / span, black + span * CLIPPED_FROM])
}

/** Cells along an edge that the greens are compared over at once. */
const GREEN_CELLS = 4

/** What the cells of a mosaic say. */
export interface SolvedSurvey {
  /** Red over green and blue over green of each cell, one map after the other; empty where nothing is clipped. */
  ratios: Float32Array
  /** Gain on greens beside red, over areas of GREEN_CELLS x GREEN_CELLS cells; empty for larger patterns. */
  greens: Float32Array
  /** Whether anything is clipped at all, and whether the greens differ. */
  clipped: boolean
  uneven: boolean
}

/** Size of the map of greens for one of cells. */
export const greensSize = (across: number, down: number) => ({
  across: Math.ceil(across / GREEN_CELLS),
  down: Math.ceil(down / GREEN_CELLS),
})

/** Sensor pixels of a cell of the map of greens. */
export const greensCell = (pattern: CfaPattern): number => cellSize(pattern) * GREEN_CELLS

/** Weighted means over pairs of cells, down to one, and back up where a cell had nothing to say. */
function fillIn(value: Float32Array, weight: Float32Array, w: number, h: number): void {
  if (w * h <= 1) {
    if (weight[0] === 0) value[0] = 0
    return
  }
  const sw = (w + 1) >> 1
  const sh = (h + 1) >> 1
  const small = new Float32Array(sw * sh)
  const smallWeight = new Float32Array(sw * sh)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      const s = (y >> 1) * sw + (x >> 1)
      small[s] += value[i] * weight[i]
      smallWeight[s] += weight[i]
    }
  for (let s = 0; s < small.length; s++) {
    if (smallWeight[s] > 0) small[s] /= smallWeight[s]
    smallWeight[s] = Math.min(smallWeight[s], 1)
  }
  fillIn(small, smallWeight, sw, sh)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      if (weight[i] >= 1) continue
      // between the middles of the larger cells
      const fx = Math.min(Math.max((x - 0.5) / 2, 0), sw - 1)
      const fy = Math.min(Math.max((y - 0.5) / 2, 0), sh - 1)
      const x0 = Math.floor(fx)
      const y0 = Math.floor(fy)
      const x1 = Math.min(x0 + 1, sw - 1)
      const y1 = Math.min(y0 + 1, sh - 1)
      const top = small[y0 * sw + x0] + (small[y0 * sw + x1] - small[y0 * sw + x0]) * (fx - x0)
      const low = small[y1 * sw + x0] + (small[y1 * sw + x1] - small[y1 * sw + x0]) * (fx - x0)
      value[i] = weight[i] * value[i] + (1 - weight[i]) * (top + (low - top) * (fy - y0))
    }
}

/** Running mean over 2 * radius + 1 along one direction. */
function smooth(v: Float32Array, w: number, h: number, radius: number): Float32Array {
  const along = (src: Float32Array, n: number, lines: number, step: number, lineStep: number) => {
    const out = new Float32Array(src.length)
    for (let l = 0; l < lines; l++) {
      let sum = 0
      const at = (i: number) => src[l * lineStep + Math.min(Math.max(i, 0), n - 1) * step]
      for (let i = -radius; i <= radius; i++) sum += at(i)
      for (let i = 0; i < n; i++) {
        out[l * lineStep + i * step] = sum / (2 * radius + 1)
        sum += at(i + radius + 1) - at(i - radius)
      }
    }
    return out
  }
  return along(along(v, w, h, 1, w), h, w, w, 1)
}

/** Light of the fullest channel (1 clips it) from which on a cell speaks fully for the highlights near it. */
const BRIGHT = 0.9
/** Weight of the taken white in every cell. */
const NEUTRAL = 0.03
/**
 * Weight of what two colours say of the third where it alone is clipped: light of bodies and skies runs from warm to
 * cool, green about in the middle of red and blue.
 */
const ALONG = 0.5
/** Stops of warmth that it may speak of. */
const MOST_LEAN = 2

/** Greens may differ by crosstalk, not by more than this; what differs more is drawn so. */
const MOST_UNEVEN = 0.05
/** Spread of the difference over the picture below which nobody sees a maze. */
const LEAST_UNEVEN = 0.002

/**
 * How the two kinds of greens differ, evened over neighbouring areas: a little crosstalk differs with the colour of
 * what is seen, not from pixel to pixel.
 */
function greenGains(cells: Float32Array, w: number, h: number): { greens: Float32Array; uneven: boolean } {
  const { across, down } = greensSize(w, h)
  const beside = new Float32Array(across * down)
  const other = new Float32Array(across * down)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = (y * w + x) * CELL_FLOATS
      const o = Math.floor(y / GREEN_CELLS) * across + Math.floor(x / GREEN_CELLS)
      // by their weight, so that dark places do not speak louder than bright ones
      beside[o] += cells[i + 1]
      other[o] += cells[i + 3]
    }
  let differences: Float32Array = beside.map((v, i) => {
    const sum = v + other[i]
    const d = sum > 0 ? (2 * (v - other[i])) / sum : 0
    return Math.min(Math.max(d, -MOST_UNEVEN), MOST_UNEVEN)
  })
  differences = smooth(smooth(differences, across, down, 1), across, down, 1)
  const spread = Math.sqrt(differences.reduce((s, d) => s + d * d, 0) / differences.length)
  return { greens: differences.map((d) => 1 - d / 2 + (d * d) / 8), uneven: spread > LEAST_UNEVEN }
}

/**
 * Maps from cells: the colour of the light near what clipped, spread into it (push and pull, Gortler 1996), and how
 * the two kinds of greens differ.
 * @param cells CELL_FLOATS a cell, w x h
 * @param balance factor that each colour was given
 */
export function solveSurvey(
  cells: Float32Array,
  w: number,
  h: number,
  pattern: CfaPattern,
  balance: Triple,
): SolvedSurvey {
  const even = pattern.size === 2 ? greenGains(cells, w, h) : { greens: new Float32Array(), uneven: false }
  const n = w * h
  let clipped = 0
  for (let i = 0; i < n; i++) {
    const c = i * CELL_FLOATS
    clipped += cells[c + 5] + cells[c + 6] + cells[c + 7]
  }
  const ratios = clipped > 0 ? highlightRatios(cells, w, h, pattern, balance) : new Float32Array()
  return { ...even, ratios, clipped: clipped > 0 }
}

/** Red and blue over green of the light in and around what is clipped. */
function highlightRatios(
  cells: Float32Array,
  w: number,
  h: number,
  pattern: CfaPattern,
  balance: Triple,
): Float32Array {
  const n = w * h
  const quads = (cellSize(pattern) / pattern.size) ** 2
  const count = (c: number) => pattern.colours.filter((p) => p === c).length
  const [reds, greens, blues] = [count(0), count(1), count(2)]
  const maps = new Float32Array(2 * n)
  const red = maps.subarray(0, n)
  const blue = maps.subarray(n)
  const weight = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    const [r, gr, b, gb, sum, cr, cg, cb, gB, gR, bG, bR, rB, rG, leftR, nR, leftB, nB] = cells.subarray(
      i * CELL_FLOATS,
      (i + 1) * CELL_FLOATS,
    )
    // a little of the taken white everywhere
    weight[i] = NEUTRAL
    // few quads in a cell lie on an edge, where the samples of one see different things
    const lean = (warmth: number, share: number) => {
      const w = ALONG * Math.min(share / quads, 1) ** 2
      const held = Math.min(Math.max(warmth, -MOST_LEAN), MOST_LEAN)
      red[i] += w * held
      blue[i] -= w * held
      weight[i] += w
    }
    if (gB > 0 && gR > 0) lean(log2(gR / reds / (gB / blues)) / 2, gR / reds / balance[0])
    if (bG > 0 && bR > 0) lean(log2(bR / reds / (bG / greens)), bG / greens / balance[1])
    if (rB > 0 && rG > 0) lean(log2(rG / greens / (rB / blues)), rG / greens / balance[1])
    // with one of them alone left, the light is at least as cool, or as warm, as the other's clipping says
    if (leftR > 0) lean(Math.min(log2(leftR / reds / nR / balance[2]) / 2, 0), nR)
    if (leftB > 0) lean(Math.max(log2(balance[0] / (leftB / blues / nB)) / 2, 0), nB)
    if (sum > 0) {
      const g = (gr + gb) / greens
      // dark cells say little about the light that clipped
      const fullest = Math.max(r / reds / balance[0], g / balance[1], b / blues / balance[2]) / sum
      const sound = 1 - (cr + cg + cb) / (cellSize(pattern) * cellSize(pattern))
      const own = Math.min(fullest / BRIGHT, 1) ** 10 * sound * sound
      red[i] += own * log2(Math.max(r / reds / g, 1e-3))
      blue[i] += own * log2(Math.max(b / blues / g, 1e-3))
      weight[i] += own
    }
    red[i] /= weight[i]
    blue[i] /= weight[i]
    weight[i] = Math.min(weight[i], 1)
  }
  fillIn(red, weight.slice(), w, h)
  fillIn(blue, weight, w, h)
  red.set(smooth(red, w, h, 1))
  blue.set(smooth(blue, w, h, 1))
  return maps.map(exp2)
}
