import type { Raster } from '../memory'
import type { Rect } from '../raw'
import type { Place } from '../mend/place'
import type { MaskMap } from './map'
import { isRefined, refinesByPicture } from './refine'
import { readsPicture, type Mask, type Shape } from './schema'

/** A shape with its way, where it has one, and what was made for it. */
export type DrawnShape = Shape & {
  places?: readonly Place[]
  /** Where it belongs, if it follows edges. */
  followed?: MaskMap
  /** What of it lies inside an edge, if that limits it. */
  enclosed?: MaskMap
  /** What was found of it in the picture: for distances, those. */
  found?: MaskMap
  /** What resembles some places, if that limits it. */
  resembles?: MaskMap
}

/** A mask that has been drawn in a part of the frame. */
export interface DrawnMask {
  raster: Raster
  /** Place of its first sample in the frame. */
  x: number
  y: number
  /** Outside of this part of it all is 0; missing where all of it is. */
  box?: Rect
}

/** A mask as it is to be drawn; plain data. */
export interface PlannedMask extends Omit<Mask, 'shapes'> {
  shapes: readonly DrawnShape[]
  /** Same key, same mask on the same picture. */
  key: string
  /** Whether it depends on the picture. */
  reads: boolean
  /** All of it, refined; planes as `refineMask` gives them. */
  map?: MaskMap
  /** Where it has been drawn already. */
  drawn?: DrawnMask
}

/** Those shapes of a mask that are at work. */
export function plannedMask(mask: Mask): PlannedMask {
  const shapes = mask.shapes.filter((s) => s.on && s.strength > 0)
  return {
    ...mask,
    shapes,
    key: JSON.stringify([mask.start, mask.invert, shapes, isRefined(mask.refined) ? mask.refined : 0]),
    reads: shapes.some(readsPicture) || refinesByPicture(mask.refined),
  }
}
