import type { PlannedMask } from './planned'
import { drawShape, type MaskWindow } from './shapes'
import type { Shape } from './schema'

/** Puts a shape to those before it. @param what how much of it there is at each pixel */
export function combine(mask: Float32Array, what: Float32Array, shape: Shape): void {
  const { way, strength } = shape
  if (shape.kind === 'stroke' && way === 'add') {
    // strokes build up as far as their limit
    for (let i = 0; i < mask.length; i++) {
      const more = mask[i] + strength * what[i] * (1 - mask[i])
      mask[i] = Math.max(mask[i], Math.min(more, shape.limit))
    }
    return
  }
  if (shape.kind === 'stroke' && way === 'take') {
    for (let i = 0; i < mask.length; i++) {
      const less = mask[i] * (1 - strength * what[i])
      mask[i] = Math.min(mask[i], Math.max(less, 1 - shape.limit))
    }
    return
  }
  if (way === 'add') for (let i = 0; i < mask.length; i++) mask[i] += strength * what[i] * (1 - mask[i])
  else if (way === 'take') for (let i = 0; i < mask.length; i++) mask[i] *= 1 - strength * what[i]
  // let in by less, more than what is common stays
  else for (let i = 0; i < mask.length; i++) mask[i] *= 1 - strength * (1 - what[i])
}

/** A mask in a window, 0..1, line by line. */
export function drawMask(
  { start, shapes, invert }: Omit<PlannedMask, 'drawn'>,
  window: MaskWindow,
): Float32Array {
  const n = window.width * window.height
  const mask = new Float32Array(n)
  if (start === 'everything') mask.fill(1)
  const what = new Float32Array(n)
  for (const shape of shapes) {
    drawShape(shape, window, what)
    combine(mask, what, shape)
  }
  if (invert) for (let i = 0; i < n; i++) mask[i] = 1 - mask[i]
  return mask
}
