import { sampleMap, type MaskMap } from './map'
import { withOwnLight } from './ownLight'
import type { PlannedMask } from './planned'
import { withContrast } from './refine'
import { drawShape, extentOf, sampleFitted, type MaskWindow } from './shapes'
import type { MaskRefinement, Shape } from './schema'
import type { Box } from './ways'

/** Puts a shape to those before it. @param what how much of it there is at each pixel */
function combine(mask: Float32Array, what: Float32Array, shape: Shape): void {
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

const boxes = new WeakMap<MaskWindow, Box>()

/** The box around a window's places; found once for all masks. */
function boxOf(window: MaskWindow): Box {
  let box = boxes.get(window)
  if (!box) boxes.set(window, (box = around(window)))
  return box
}

function around({ us, vs }: MaskWindow): Box {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity }
  for (let i = 0; i < us.length; i++) {
    if (us[i] < box.left) box.left = us[i]
    if (us[i] > box.right) box.right = us[i]
    if (vs[i] < box.top) box.top = vs[i]
    if (vs[i] > box.bottom) box.bottom = vs[i]
  }
  return box
}

const apart = (a: Box, b: Box) => a.right < b.left || b.right < a.left || a.bottom < b.top || b.bottom < a.top

function holdsAny(mask: Float32Array): boolean {
  for (let i = 0; i < mask.length; i++) if (mask[i] !== 0) return true
  return false
}

/** A mask that was refined as a whole, in a window; undefined where it holds nothing there. */
export function drawRefined(
  map: MaskMap,
  refined: MaskRefinement,
  window: MaskWindow,
): Float32Array | undefined {
  const mask = sampleFitted(map, window)
  withContrast(mask, refined.contrast)
  if (refined.ownLight > 0) {
    const ratio = new Float32Array(mask.length)
    sampleMap(window.memory!, map, map.raster.planes - 1, window.us, window.vs, ratio)
    withOwnLight(mask, ratio, refined.ownLight)
  }
  return holdsAny(mask) ? mask : undefined
}

/** Whether a mask may hold something in a box on the sensor. @param pixel side of a pixel there */
export const mayHold = (
  { start, shapes, invert }: Pick<PlannedMask, 'start' | 'shapes' | 'invert'>,
  box: Box,
  pixel: number,
): boolean =>
  start === 'everything' ||
  invert ||
  shapes.some((shape) => {
    const extent = shape.way === 'add' && extentOf(shape, pixel)
    return extent === undefined || (extent && !apart(box, extent))
  })

/**
 * A mask in a window, 0..1, line by line; undefined where it holds nothing there. What lies out of reach of its shapes
 * costs next to nothing: windows should be small.
 */
export function drawMask(
  { start, shapes, invert }: Pick<PlannedMask, 'start' | 'shapes' | 'invert'>,
  window: MaskWindow,
): Float32Array | undefined {
  const n = window.width * window.height
  const box = boxOf(window)
  /** Its values; as long as all are the same, that. */
  let mask: Float32Array | 0 | 1 = start === 'everything' ? 1 : 0
  let what: Float32Array | undefined
  for (const shape of shapes) {
    if (mask === 0 && shape.way !== 'add') continue
    if (mask === 1 && shape.way === 'add') continue
    const extent = extentOf(shape, window.pixel)
    const outside = extent !== undefined && apart(box, extent)
    if (outside && shape.way !== 'common') continue
    if (outside && shape.strength === 1) {
      mask = 0
      continue
    }
    if (typeof mask === 'number') mask = new Float32Array(n).fill(mask)
    what ??= new Float32Array(n)
    if (outside) what.fill(0)
    else drawShape(shape, window, what)
    combine(mask, what, shape)
  }
  if (typeof mask === 'number') return (mask === 1) === invert ? undefined : new Float32Array(n).fill(1)
  if (invert) for (let i = 0; i < n; i++) mask[i] = 1 - mask[i]
  return holdsAny(mask) ? mask : undefined
}
