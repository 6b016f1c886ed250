import type { Rect } from '../../raw/rect'
import { numbersIn, putNumber } from '../numbers'

/** Where the pixels of a rectangle are taken from. */
export interface FillBox extends Rect {
  /** From each pixel to the one that it is taken from; line by line. Both 0 where nothing is filled. */
  right: Int32Array
  down: Int32Array
}

/** What a fill found: where everything that it covers is taken from, in cells of `by` x `by` pixels. */
export interface FillMap {
  /** Long edge of the picture that it was made for, pixels. */
  long: number
  by: number
  /** In cells; where they overlap, the first counts. */
  boxes: readonly FillBox[]
}

/** What was found for one part of a fill. */
export type FoundFill = Pick<FillMap, 'by'> & { box: FillBox }

/** Most boxes, and cells in all of them. */
const MOST = { boxes: 4096, cells: 16e6, side: 1 << 16 } as const

/**
 * A fill as bulk data: after a version byte whole numbers, as in a path: the long edge, the cell, the boxes, and in each
 * line after line runs of cells that are taken from the same distance, each told by its difference from the one before.
 */
export function encodeFill({ long, by, boxes }: FillMap): Uint8Array {
  const out = [2]
  const put = (n: number) => putNumber(out, n)
  ;[long, by, boxes.length].forEach(put)
  for (const { x, y, width, height, right, down } of boxes) {
    ;[x, y, width, height].forEach(put)
    let [u, v] = [0, 0]
    for (let i = 0; i < width * height;) {
      let n = 1
      while (i + n < width * height && right[i + n] === right[i] && down[i + n] === down[i]) n++
      ;[n, right[i] - u, down[i] - v].forEach(put)
      ;[u, v] = [right[i], down[i]]
      i += n
    }
  }
  return Uint8Array.from(out)
}

const damaged = () => new RangeError('This is no fill.')

/** @throws RangeError where the bytes are no fill */
export function decodeFill(bytes: Uint8Array): FillMap {
  if (bytes[0] !== 2) throw damaged()
  const numbers = numbersIn(bytes, 1, damaged)
  let at = 0
  const next = () => {
    if (at >= numbers.length) throw damaged()
    return numbers[at++]
  }
  const within = (least: number, most: number) => {
    const n = next()
    if (!(n >= least && n <= most)) throw damaged()
    return n
  }
  const long = within(1, MOST.side)
  const by = within(1, 64)
  const count = within(0, MOST.boxes)
  let cells = 0
  const boxes = Array.from({ length: count }, (): FillBox => {
    const [x, y] = [within(-MOST.side, MOST.side), within(-MOST.side, MOST.side)]
    const [width, height] = [within(0, MOST.side), within(0, MOST.side)]
    cells += width * height
    if (cells > MOST.cells) throw damaged()
    const right = new Int32Array(width * height)
    const down = new Int32Array(width * height)
    let [u, v] = [0, 0]
    for (let i = 0; i < width * height;) {
      const n = within(1, width * height - i)
      u += next()
      v += next()
      if (Math.abs(u) > MOST.side || Math.abs(v) > MOST.side) throw damaged()
      right.fill(u, i, i + n)
      down.fill(v, i, i + n)
      i += n
    }
    return { x, y, width, height, right, down }
  })
  return { long, by, boxes }
}

/** The part of a fill that lies in a rectangle, for a picture with so many pixels along its long edge. */
export function fillIn({ long, by, boxes }: FillMap, rect: Rect, ownLong: number): FillBox {
  const { x, y, width, height } = rect
  const right = new Int32Array(width * height)
  const down = new Int32Array(width * height)
  const size = long / ownLong
  const cell = (v: number) => Math.floor(((v + 0.5) * size) / by)
  const columns = Int32Array.from({ length: width }, (_, i) => cell(x + i))
  const own = by / size
  for (const box of [...boxes].reverse())
    for (let j = 0; j < height; j++) {
      const line = cell(y + j) - box.y
      if (line < 0 || line >= box.height) continue
      for (let i = 0; i < width; i++) {
        const column = columns[i] - box.x
        if (column < 0 || column >= box.width) continue
        const from = line * box.width + column
        if (box.right[from] === 0 && box.down[from] === 0) continue
        right[j * width + i] = Math.round(box.right[from] * own)
        down[j * width + i] = Math.round(box.down[from] * own)
      }
    }
  return { x, y, width, height, right, down }
}
