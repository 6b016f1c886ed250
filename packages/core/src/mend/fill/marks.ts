import { sumOver, summed } from '../../analysis/summed'
import type { Rect } from '../../raw/rect'

/** The box around what is marked; undefined where nothing is. */
export function boxOf(marks: Uint8Array, width: number, height: number): Rect | undefined {
  let [left, top, right, bottom] = [width, height, -1, -1]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!marks[i]) continue
      if (x < left) left = x
      if (x > right) right = x
      if (y < top) top = y
      bottom = y
    }
  return right < 0 ? undefined : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

/** How many steps along lines and columns the places of a picture lie from the nearest that is marked. */
export function stepsFrom(marks: Uint8Array, width: number, height: number): Uint16Array {
  const steps = Uint16Array.from(marks, (m) => (m ? 0 : 0xffff))
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let least = steps[i]
      if (x > 0 && steps[i - 1] + 1 < least) least = steps[i - 1] + 1
      if (y > 0 && steps[i - width] + 1 < least) least = steps[i - width] + 1
      steps[i] = least
    }
  for (let y = height - 1, i = width * height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--, i--) {
      let least = steps[i]
      if (x < width - 1 && steps[i + 1] + 1 < least) least = steps[i + 1] + 1
      if (y < height - 1 && steps[i + width] + 1 < least) least = steps[i + width] + 1
      steps[i] = least
    }
  return steps
}

/** How many marks lie in squares that lie within the picture. */
export function runningSums(marks: Uint8Array, width: number, height: number) {
  const sums = summed(width, height, (at) => marks[at])
  return (x: number, y: number, side: number): number => sumOver(sums, x, y, x + side, y + side)
}

/** The marks of a part of a picture that is so wide. */
export function cutOut(marks: Uint8Array, across: number, { x, y, width, height }: Rect): Uint8Array {
  const out = new Uint8Array(width * height)
  for (let j = 0; j < height; j++) {
    const from = (y + j) * across + x
    out.set(marks.subarray(from, from + width), j * width)
  }
  return out
}
