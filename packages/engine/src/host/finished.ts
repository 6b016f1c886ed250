import type { Block, DeliverTask, Development, OutputSpace } from '@dunkelkammer/core'
import type { Layers } from './layers'
import { bands } from './layers/ground'
import type { Progress } from './progress'
import type { Releasable } from './resources'

/** Lines of a task on the way into a file. */
const DELIVER_LINES = 64
/** Smallest size, against the full one, at which the best is worth its time. */
const WORTH_FINE = 0.5

export interface DeliverRequest {
  development: Development
  space: OutputSpace
  width: number
  height: number
  bits: 8 | 16
}

/** Computes the finished picture. @returns interleaved RGB, see Picture.deliver */
export async function finish(
  layers: Layers,
  { development, width, height, bits, space }: DeliverRequest,
  signal?: AbortSignal,
  onProgress?: Progress,
): Promise<Uint8Array<ArrayBuffer>> {
  const { pool, store } = layers.ground
  const held: Releasable[] = []
  const lineBytes = (width * 3 * bits) / 8
  let block: Block | undefined
  try {
    const { plan, framed } = await layers.planned(development, space, held)
    const cuts = bands(height, DELIVER_LINES)
    const quality = width > framed.square.finished.width * WORTH_FINE ? 'fine' : 'draft'
    const kept = await layers.mended.take(plan, {
      quality,
      onProgress: (done, all) => onProgress?.(done / all, 2),
    })
    held.push(kept)
    const steps = await layers.surveys.steps(plan, framed, held)
    const warp = layers.framed.fullWarp(framed, held)
    block = store.arena.alloc(lineBytes * height)
    const { offset } = block
    const tasks = cuts.map(([from, to]): DeliverTask => ({
      ...{ kind: 'deliver', picture: framed.open, steps: [...plan.refine, ...steps], space },
      ...{ source: kept.raster, warp, width, height, bits, from, to },
      target: offset + from * lineBytes,
    }))
    await pool.runAll(tasks, signal, (done) => onProgress?.(1 + done / cuts.length, 2))
    return await store.get(offset, lineBytes * height)
  } finally {
    if (block) store.arena.free(block)
    held.forEach((k) => k.release())
  }
}
