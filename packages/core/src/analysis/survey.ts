import type { Triple } from '../math'
import { CELL_FLOATS, cellSize, CLIPPED_FROM } from './cells'
import { clippedColour } from './clippedColour'
import { spanOf, type CfaPattern, type SensorFrame } from '../raw'

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
 * Maps from cells: the colour of the light near what clipped, spread into it (`clippedColour`), and how
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
  const ratios = clippedColour(cells, w, h, pattern, balance)
  return { ...even, ratios: ratios ?? new Float32Array(), clipped: ratios !== undefined }
}
