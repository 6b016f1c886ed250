import { turned, turnsBack, uprightSize } from '@dunkelkammer/core'

/** Which part of a stored picture is shown, and how that is turned to stand upright (Exif). */
export interface Placing {
  x: number
  y: number
  width: number
  height: number
  orientation: number
}

/** A step from the stored picture to the shown one (ISO/IEC 23008-12, 6.5.9, 6.5.10 and 6.5.12). */
export type Transform =
  | { kind: 'crop'; width: number; height: number; dx: number; dy: number }
  | { kind: 'turn'; quarters: number }
  | { kind: 'mirror'; upsideDown: boolean }

/** What an orientation becomes by a further quarter turn against the clock; the first for 1. */
const QUARTER = [8, 5, 6, 7, 4, 1, 2, 3]
const LEFT_RIGHT = [2, 1, 4, 3, 6, 5, 8, 7]
const UPSIDE_DOWN = [4, 3, 2, 1, 8, 7, 6, 5]

/** Transforms in their order, of a picture of some size. */
export function placingOf(width: number, height: number, transforms: readonly Transform[]): Placing {
  let placing: Placing = { x: 0, y: 0, width, height, orientation: 1 }
  for (const t of transforms) placing = t.kind === 'crop' ? cropped(placing, t) : turnedBy(placing, t)
  return placing
}

function turnedBy(placing: Placing, t: Exclude<Transform, { kind: 'crop' }>): Placing {
  let { orientation } = placing
  if (t.kind === 'mirror') orientation = (t.upsideDown ? UPSIDE_DOWN : LEFT_RIGHT)[orientation - 1]
  else for (let i = 0; i < t.quarters; i++) orientation = QUARTER[orientation - 1]
  return { ...placing, orientation }
}

/** A crop lies in the picture as it is turned so far, its offset between the two centres. */
function cropped(placing: Placing, t: Extract<Transform, { kind: 'crop' }>): Placing {
  const shown = uprightSize(placing, placing.orientation)
  const width = Math.min(Math.max(Math.round(t.width), 1), shown.width)
  const height = Math.min(Math.max(Math.round(t.height), 1), shown.height)
  const at = (d: number, all: number, part: number) =>
    Math.min(Math.max(Math.round(d + (all - part) / 2), 0), all - part)
  const [x, y] = [at(t.dx, shown.width, width), at(t.dy, shown.height, height)]
  const back = turnsBack(placing.orientation)
  const [x0, y0] = turned(x, y, shown, back)
  const [x1, y1] = turned(x + width - 1, y + height - 1, shown, back)
  return {
    ...{ x: placing.x + Math.min(x0, x1), y: placing.y + Math.min(y0, y1) },
    ...{ width: Math.abs(x1 - x0) + 1, height: Math.abs(y1 - y0) + 1 },
    orientation: placing.orientation,
  }
}
