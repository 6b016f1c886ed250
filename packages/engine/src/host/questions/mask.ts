import { plannedMask, type Development } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { fitLongEdge } from '../sizes'
import type { Releasable } from '../resources'

/** A mask on the frame: greys line by line, 0 where nothing is let in. */
export interface MaskPicture {
  width: number
  height: number
  grey: Uint8Array
}

/**
 * The mask of an area on the frame that a development shows.
 * @param index of the area in its list, whether it is on or not
 * @param longEdge of the picture; the frame's own size where missing or larger
 * @throws RangeError where there is no such area, RawError where what was painted for it cannot be had
 */
export async function mask(
  layers: Layers,
  development: Development,
  index: number,
  longEdge?: number,
): Promise<MaskPicture> {
  const area = development.steps.areas.areas.at(index)
  if (!area || index < 0) throw new RangeError('There is no such area.')
  const { plan, framed } = await layers.planned(development)
  const { finished } = framed.square
  const size = longEdge ? fitLongEdge(finished.width, finished.height, longEdge) : finished
  const { width, height } = size
  const region = { x: 0, y: 0, width, height }
  const held: Releasable[] = []
  try {
    const planned = await layers.masks.withPaths(plannedMask(area.mask))
    const bare = { ...plan, refine: [], render: [] }
    const { origin } = await layers.framed.take(bare, framed, { width, height, region, beside: true }, held)
    const drawn = await layers.masks.draw(planned, origin, framed, region)
    try {
      const { offset, stride } = drawn.raster
      const bytes = await layers.ground.store.get(offset, stride * height * 4)
      const values = new Float32Array(bytes.buffer, bytes.byteOffset, stride * height)
      const grey = new Uint8Array(width * height)
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) grey[y * width + x] = Math.round(values[y * stride + x] * 255)
      return { width, height, grey }
    } finally {
      drawn.drop()
    }
  } finally {
    held.forEach((k) => k.release())
  }
}
