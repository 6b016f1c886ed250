import {
  maskedBy,
  plannedMask,
  type Development,
  type Mask,
  type MaskLook,
  type PaintMaskTask,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { Layers } from '../layers'
import type { FrameWish } from '../layers/framed'
import { shares } from '../layers/ground'
import { fitLongEdge } from '../sizes'
import type { Releasable } from '../resources'

/** A mask on the frame: greys line by line, 0 where nothing is let in. */
export interface MaskPicture {
  width: number
  height: number
  grey: Uint8Array
}

/** What of the frame is wanted, and in which size. */
export type MaskPlace = Pick<FrameWish, 'width' | 'height' | 'region'>

/** Draws a mask on the frame that a development shows, and hands it over while it is kept. */
async function withMask<T>(
  layers: Layers,
  { plan, framed }: Awaited<ReturnType<Layers['planned']>>,
  mask: Mask,
  place: MaskPlace,
  use: (drawn: Kept) => Promise<T>,
): Promise<T> {
  const held: Releasable[] = []
  try {
    const pathed = await layers.masks.withPaths(plannedMask(mask))
    const planned = await layers.maskMaps.of(pathed, plan, framed, held)
    const bare = { ...plan, refine: [], render: [] }
    const { origin } = await layers.framed.take(bare, framed, { ...place, beside: true }, held)
    const drawn = await layers.masks.draw(planned, origin, framed, place.region)
    try {
      return await use(drawn)
    } finally {
      drawn.drop()
    }
  } finally {
    held.forEach((k) => k.release())
  }
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
  const { areas } = development.steps.areas
  const area = index < 0 ? undefined : areas.at(index)
  if (!area) throw new RangeError('There is no such area.')
  const planned = await layers.planned(development)
  const { finished } = planned.framed.square
  const size = longEdge ? fitLongEdge(finished.width, finished.height, longEdge) : finished
  const place = { ...size, region: { x: 0, y: 0, ...size } }
  return withMask(layers, planned, maskedBy(area, areas).mask, place, async ({ raster }) => {
    const { width, height } = size
    const { offset, stride } = raster
    const bytes = await layers.ground.store.get(offset, stride * height * 4)
    const values = new Float32Array(bytes.buffer, bytes.byteOffset, stride * height)
    const grey = new Uint8Array(width * height)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) grey[y * width + x] = Math.round(values[y * stride + x] * 255)
    return { width, height, grey }
  })
}

/** Long edge of the frame in which areas are looked for under a place. */
const COARSE = 640

/**
 * The last area in the list whose mask lets in half or more at a place, whether it is on or not.
 * @param x, y of the frame, 0..1
 * @returns its index; undefined where there is none
 * @throws RawError where what was painted for a mask cannot be had
 */
export async function areaAt(
  layers: Layers,
  development: Development,
  x: number,
  y: number,
): Promise<number | undefined> {
  const { areas } = development.steps.areas
  const planned = await layers.planned(development)
  const { finished } = planned.framed.square
  const size = fitLongEdge(finished.width, finished.height, COARSE)
  const within = (at: number, length: number) => Math.min(Math.max(Math.floor(at * length), 0), length - 1)
  const region = { x: within(x, size.width), y: within(y, size.height), width: 1, height: 1 }
  for (let i = areas.length - 1; i >= 0; i--) {
    const there = await withMask(
      layers,
      planned,
      maskedBy(areas[i], areas).mask,
      { ...size, region },
      async ({ raster }) => new Float32Array((await layers.ground.store.get(raster.offset, 4)).buffer)[0],
    )
    if (there >= 0.5) return i
  }
  return undefined
}

/**
 * A mask as a layer over a view of the picture, RGBA.
 * @throws RawError where what was painted for it cannot be had
 */
export async function maskLayer(
  layers: Layers,
  development: Development,
  mask: Mask,
  look: MaskLook,
  place: MaskPlace,
): Promise<Uint8ClampedArray<ArrayBuffer>> {
  return withMask(layers, await layers.planned(development), mask, place, async ({ raster }) => {
    const { region } = place
    const { pool, store } = layers.ground
    const bytes = region.width * region.height * 4
    const block = store.arena.alloc(bytes)
    try {
      const tasks = shares(layers.ground, region.height, 16).map(([from, to]): PaintMaskTask => ({
        ...{ kind: 'paintMask', mask: raster, look, place: region, from, to, rgba: block.offset },
      }))
      await pool.runAll(tasks)
      return new Uint8ClampedArray((await store.get(block.offset, bytes)).buffer)
    } finally {
      store.arena.free(block)
    }
  })
}
