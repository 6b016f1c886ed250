import { holdsBox, type Box, type CropSettings, type Square } from '@dunkelkammer/core'

/** Which sides of the frame a handle moves: -1 left or top, 1 right or bottom, 0 neither. */
export interface Handle {
  x: -1 | 0 | 1
  y: -1 | 0 | 1
}

export const HANDLES: readonly (Handle & { name: string; cursor: string })[] = [
  { x: -1, y: -1, name: 'Upper left corner', cursor: 'nwse-resize' },
  { x: 0, y: -1, name: 'Upper edge', cursor: 'ns-resize' },
  { x: 1, y: -1, name: 'Upper right corner', cursor: 'nesw-resize' },
  { x: 1, y: 0, name: 'Right edge', cursor: 'ew-resize' },
  { x: 1, y: 1, name: 'Lower right corner', cursor: 'nwse-resize' },
  { x: 0, y: 1, name: 'Lower edge', cursor: 'ns-resize' },
  { x: -1, y: 1, name: 'Lower left corner', cursor: 'nesw-resize' },
  { x: -1, y: 0, name: 'Left edge', cursor: 'ew-resize' },
]

/** Smallest side of a frame, pixels. */
const SMALLEST = 48

const RATIOS: Partial<Record<CropSettings['ratio'], number>> = {
  square: 1,
  '5:4': 5 / 4,
  '4:3': 4 / 3,
  '3:2': 3 / 2,
  '16:9': 16 / 9,
  din: Math.SQRT2,
}

/**
 * Width over height that a frame keeps; undefined where it is free.
 * @param size of the upright picture, `turns` quarter turns of it
 */
export function ratioOf(
  crop: Pick<CropSettings, 'ratio' | 'upright' | 'own'>,
  size: { width: number; height: number },
  turns: number,
): number | undefined {
  if (crop.ratio === 'free') return undefined
  const taken = turns % 2 ? size.height / size.width : size.width / size.height
  if (crop.ratio === 'taken') return crop.upright ? 1 / taken : taken
  const ratio = crop.ratio === 'own' ? crop.own[0] / crop.own[1] : RATIOS[crop.ratio]!
  return crop.upright ? 1 / ratio : ratio
}

/** A frame one of whose handles was moved; the opposite side or corner stays, a kept ratio is kept. */
export function draggedBox(from: Box, handle: Handle, dx: number, dy: number, ratio?: number): Box {
  let width = Math.max(from.width + handle.x * dx, SMALLEST)
  let height = Math.max(from.height + handle.y * dy, SMALLEST)
  if (ratio !== undefined) {
    if (handle.y === 0) height = width / ratio
    else if (handle.x === 0) width = height * ratio
    else {
      // the corner goes to the place on its diagonal that is nearest to the hand
      const k = (width * ratio + height) / (ratio * ratio + 1)
      width = Math.max(k * ratio, SMALLEST)
      height = width / ratio
    }
  }
  return {
    x: from.x + (handle.x * (width - from.width)) / 2,
    y: from.y + (handle.y * (height - from.height)) / 2,
    width,
    height,
  }
}

/** Whether a frame may be there: within the picture, or where corners may be empty, within what is shown. */
export function allowedBox(square: Square, inside: boolean, bounds: Box): (box: Box) => boolean {
  if (inside) return (b) => holdsBox(square.outline, { ...b, width: b.width - 1, height: b.height - 1 })
  return (b) =>
    Math.abs(b.x - bounds.x) + b.width / 2 <= bounds.width / 2 + 1 &&
    Math.abs(b.y - bounds.y) + b.height / 2 <= bounds.height / 2 + 1
}

/** As far from one frame toward another as is allowed; where even the first is not, the other as it is. */
export function towards(from: Box, to: Box, allowed: (box: Box) => boolean): Box {
  if (allowed(to) || !allowed(from)) return to
  const at = (k: number): Box => ({
    x: from.x + k * (to.x - from.x),
    y: from.y + k * (to.y - from.y),
    width: from.width + k * (to.width - from.width),
    height: from.height + k * (to.height - from.height),
  })
  let [low, high] = [0, 1]
  for (let i = 0; i < 16; i++) {
    const k = (low + high) / 2
    if (allowed(at(k))) low = k
    else high = k
  }
  return at(low)
}

/** Moved as far as is allowed, along both axes on their own, so that it slides along an edge. */
export function movedBox(from: Box, dx: number, dy: number, allowed: (box: Box) => boolean): Box {
  const across = towards(from, { ...from, x: from.x + dx }, allowed)
  return towards(across, { ...across, y: across.y + dy }, allowed)
}

/** The largest frame of a ratio about a frame's middle that takes up as much room, made smaller until it is allowed. */
export function reshapedBox(from: Box, ratio: number, allowed: (box: Box) => boolean): Box {
  const area = from.width * from.height
  const width = Math.sqrt(area * ratio)
  let box = { ...from, width, height: width / ratio }
  for (let i = 0; i < 60 && !allowed(box); i++)
    box = { ...box, width: box.width * 0.97, height: box.height * 0.97 }
  return box
}

/** A frame on the plane as the settings keep it; undefined where its middle shows no picture. */
export function rectOf(square: Square, box: Box): CropSettings['rect'] | undefined {
  const at = square.planeToSource(box.x, box.y)
  if (!at) return undefined
  const long = Math.max(square.size.width, square.size.height)
  const hold = (v: number) => Math.min(Math.max(v, -1), 2)
  const side = (v: number) => Math.min(Math.max(v / long, 0.005), 4)
  return {
    centre: [hold(at[0] / long), hold(at[1] / long)],
    width: side(box.width),
    height: side(box.height),
  }
}
