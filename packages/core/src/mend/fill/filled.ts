import type { Rect } from '../../raw/rect'
import type { Window } from '../window'
import type { FillBox } from './fillMap'

/** Side of the cells in which what a fill takes from is read, pixels. */
const CELL = 64
/** How far places that are taken from different distances fade into each other, pixels. */
export const FADE = 2
const SHARES = [1, 2, 1] as const

const keyOf = (x: number, y: number) => Math.floor(y / CELL) * 0x10000 + Math.floor(x / CELL)

/** The cells of a picture that a fill takes from. */
export function cellsOf(fill: FillBox): Rect[] {
  const found = new Map<number, Rect>()
  const add = (x: number, y: number) => {
    const key = keyOf(x, y)
    if (found.has(key)) return
    const [left, top] = [Math.floor(x / CELL) * CELL, Math.floor(y / CELL) * CELL]
    found.set(key, { x: left, y: top, width: CELL, height: CELL })
  }
  // the inside of a cell of which all is known by now
  let [left, top] = [Infinity, Infinity]
  for (let j = 0; j < fill.height; j++)
    for (let i = 0; i < fill.width; i++) {
      const at = j * fill.width + i
      const u = fill.right[at]
      const v = fill.down[at]
      if (u === 0 && v === 0) continue
      const x = fill.x + i + u
      const y = fill.y + j + v
      if (x >= left && y >= top && x < left + CELL - 2 * FADE && y < top + CELL - 2 * FADE) continue
      // what fades into it is taken from the same distance
      for (const q of [-FADE, FADE]) for (const p of [-FADE, FADE]) add(x + p, y + q)
      left = Math.floor(x / CELL) * CELL + FADE
      top = Math.floor(y / CELL) * CELL + FADE
    }
  return [...found.values()]
}

/** Whether all around a place is taken from the same distance as itself. */
function isEven({ right, down, width }: FillBox, at: number): boolean {
  const u = right[at]
  const v = down[at]
  if (u === 0 && v === 0) return false
  for (let q = -FADE; q <= FADE; q += FADE)
    for (let p = -FADE; p <= FADE; p += FADE) {
      const near = at + q * width + p
      if (right[near] !== u || down[near] !== v) return false
    }
  return true
}

/**
 * What a fill lays over a piece of a picture, by channel; zeros where it takes from nowhere.
 * @param taken the picture in `cellsOf(fill)`
 * @param wanted which places of the piece count
 */
export function filledAt(
  fill: FillBox,
  seen: Window,
  taken: readonly Window[],
  wanted: (at: number) => boolean,
): Float32Array[] {
  const cells = new Map(taken.map((w) => [keyOf(w.x, w.y), w]))
  const { width, height } = seen
  const out = [0, 1, 2].map(() => new Float32Array(width * height))
  const sums = [0, 0, 0]
  let cell: Window | undefined
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      if (!wanted(at)) continue
      const x = seen.x + i
      const y = seen.y + j
      const own = (y - fill.y) * fill.width + x - fill.x
      if (isEven(fill, own)) {
        const px = x + fill.right[own]
        const py = y + fill.down[own]
        if (!cell || px < cell.x || py < cell.y || px >= cell.x + CELL || py >= cell.y + CELL)
          cell = cells.get(keyOf(px, py))
        if (cell) {
          const place = (py - cell.y) * CELL + px - cell.x
          for (let c = 0; c < 3; c++) out[c][at] = cell.planes[c][place]
          continue
        }
      }
      let weights = 0
      sums.fill(0)
      for (let q = -1; q <= 1; q++)
        for (let p = -1; p <= 1; p++) {
          const [k, l] = [x - fill.x + p * FADE, y - fill.y + q * FADE]
          if (k < 0 || l < 0 || k >= fill.width || l >= fill.height) continue
          const from = l * fill.width + k
          const [u, v] = [fill.right[from], fill.down[from]]
          if (u === 0 && v === 0) continue
          const [px, py] = [x + u, y + v]
          if (!cell || px < cell.x || py < cell.y || px >= cell.x + CELL || py >= cell.y + CELL)
            cell = cells.get(keyOf(px, py))
          if (!cell) continue
          const weight = SHARES[p + 1] * SHARES[q + 1]
          const place = (py - cell.y) * CELL + px - cell.x
          for (let c = 0; c < 3; c++) sums[c] += weight * cell.planes[c][place]
          weights += weight
        }
      if (weights > 0) for (let c = 0; c < 3; c++) out[c][at] = sums[c] / weights
      else for (let c = 0; c < 3; c++) out[c][at] = seen.planes[c][at]
    }
  return out
}
