import type { Rect } from '../raw'

/** Side of the pieces that are worked on one after the other, pixels: what they need stays at hand. */
const SIDE = 128

/** A piece of some planes, and what lies around it. */
export interface Piece {
  /** The piece with some room around it, as far as the whole goes. */
  around: Rect
  /** That part of a plane of the whole. */
  cut(values: Float32Array): Float32Array
  /** Puts the piece, without the room, of a part into a plane of the whole. */
  put(part: Float32Array, whole: Float32Array): void
  /** Calls with the index of each place of the piece, in the whole and in the part. */
  each(call: (whole: number, part: number) => void): void
}

/** The pieces of a whole, in order. @param room pixels around each that are looked at */
export function* piecesOf(whole: { width: number; height: number }, room: number): Generator<Piece> {
  for (let y = 0; y < whole.height; y += SIDE)
    for (let x = 0; x < whole.width; x += SIDE) {
      const [width, height] = [Math.min(SIDE, whole.width - x), Math.min(SIDE, whole.height - y)]
      const [left, top] = [Math.max(x - room, 0), Math.max(y - room, 0)]
      const right = Math.min(x + width + room, whole.width)
      const bottom = Math.min(y + height + room, whole.height)
      const around = { x: left, y: top, width: right - left, height: bottom - top }
      const lineOf = (line: number): [whole: number, part: number] => [
        (y + line) * whole.width + x,
        (y + line - top) * around.width + x - left,
      ]
      yield {
        around,
        cut(values) {
          const out = new Float32Array(around.width * around.height)
          for (let line = 0; line < around.height; line++) {
            const from = (top + line) * whole.width + left
            out.set(values.subarray(from, from + around.width), line * around.width)
          }
          return out
        },
        put(part, values) {
          for (let line = 0; line < height; line++) {
            const [to, from] = lineOf(line)
            values.set(part.subarray(from, from + width), to)
          }
        },
        each(call) {
          for (let line = 0; line < height; line++) {
            const [to, from] = lineOf(line)
            for (let k = 0; k < width; k++) call(to + k, from + k)
          }
        },
      }
    }
}
