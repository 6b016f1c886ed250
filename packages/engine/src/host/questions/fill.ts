import {
  boxAround,
  bulkName,
  encodeFill,
  piecesOf,
  spotOf,
  type Development,
  type FillBox,
  type Patch,
  type Rect,
  type Region,
} from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { clippedFrom } from '../layers/mended'

/**
 * Pixels around a piece that are found with it, and those of them that are kept. Near its end the rest of the region is
 * taken for what is known.
 */
const AROUND = 32
const KEPT = 4
/** Pixels of the box around a region below which a first look takes as long as the best. */
const SLOW = 100_000

/**
 * Finds where a patch is to be filled from: from what the other patches have made of the picture, and from nothing that
 * one of them covers.
 * @param patch where it is filled already, something else is found
 * @param onShare is told the share that is done
 * @param rough for a first look: coarse, and soon there
 * @returns bulk data for its `filled`; undefined where there is nothing to take from, or no need of a first look
 */
export async function fill(
  layers: Layers,
  development: Development,
  patch: Patch,
  onShare?: (share: number) => void,
  rough = false,
): Promise<Uint8Array | undefined> {
  const { patches } = development.steps.patches
  const others = patches.filter((p) => p.id !== patch.id)
  const without = { ...development.steps, patches: { patches: others } }
  const { plan } = await layers.planned({ ...development, steps: without })
  const { mended, ground } = layers
  const { pool, open } = ground
  const long = Math.max(open.context.width, open.context.height)
  const path = await mended.wayOf(patch)
  const spot = spotOf(patch, long, path)
  const whole = boxAround(spot.region, 0)
  if (rough && whole.width * whole.height < SLOW) return undefined
  const barred: Region[] = await Promise.all(plan.patches.map((p) => mended.regionOf(p)))
  if (patch.avoid)
    barred.push(await mended.regionOf({ ...patch, shape: 'outline', x: 0, y: 0, path: patch.avoid }))
  const pieces = piecesOf(spot)
  // another name, another beginning
  const seed = patch.filled ? parseInt(patch.filled.slice(-8), 16) : 0
  const kept = await mended.take(plan, { quality: 'draft' })
  try {
    const found: { by: number; box: FillBox }[] = []
    for (const [i, { piece }] of pieces.entries()) {
      const rect = piece ?? boxAround(spot.region, AROUND)
      const part = {
        ...{ x: rect.x - AROUND, y: rect.y - AROUND },
        ...{ width: rect.width + 2 * AROUND, height: rect.height + 2 * AROUND },
      }
      // one after the other: a worker stays free for what is looked at meanwhile
      const one = await pool.runLong(
        {
          ...{ kind: 'fill', picture: kept.raster, region: spot.region, part, barred, seed, rough },
          levels: clippedFrom(ground),
        },
        (share) => onShare?.((i + share) / pieces.length),
      )
      if (one) found.push(piece ? { ...one, box: cropped(one.box, piece, one.by) } : one)
    }
    if (found.length === 0) return undefined
    const by = Math.min(...found.map((f) => f.by))
    const map = { long, by, boxes: found.filter((f) => f.by === by).map((f) => f.box) }
    const bytes = encodeFill(map)
    mended.keepFill(bulkName(bytes), map)
    return bytes
  } finally {
    kept.release()
  }
}

/** The part of what was found that lies in a piece, and a little beyond. */
function cropped(box: FillBox, piece: Rect, by: number): FillBox {
  const x = Math.max(box.x, Math.floor((piece.x - KEPT) / by))
  const y = Math.max(box.y, Math.floor((piece.y - KEPT) / by))
  const width = Math.min(box.x + box.width, Math.ceil((piece.x + piece.width + KEPT) / by)) - x
  const height = Math.min(box.y + box.height, Math.ceil((piece.y + piece.height + KEPT) / by)) - y
  if (width <= 0 || height <= 0)
    return { ...box, width: 0, height: 0, right: new Int32Array(0), down: new Int32Array(0) }
  const right = new Int32Array(width * height)
  const down = new Int32Array(width * height)
  for (let j = 0; j < height; j++) {
    const from = (y + j - box.y) * box.width + x - box.x
    right.set(box.right.subarray(from, from + width), j * width)
    down.set(box.down.subarray(from, from + width), j * width)
  }
  return { x, y, width, height, right, down }
}
