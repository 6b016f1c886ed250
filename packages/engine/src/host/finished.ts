import {
  isUntouched,
  reachOf,
  type Block,
  type OutputTable,
  type Companding,
  type DeliveredSize,
  type DeliverTask,
  type Development,
  type OutputSpace,
  type PackLinearTask,
  type Plan,
  type Rect,
  type Resampling,
  type SharpenSettings,
} from '@dunkelkammer/core'
import type { Layers } from './layers'
import type { Framed } from './framing'
import { sourceOf } from './layers/framed'
import { bands, grown } from './layers/ground'
import { Superseded } from './pool'
import { placed } from './placedTable'
import type { Progress } from './progress'
import type { Releasable } from './resources'

/** Samples of a band on the way into a file, about, and the most lines of it. */
const BAND_SAMPLES = 1.2e6
const BAND_LINES = 64
const LEAST_LINES = 16
/** Smallest size, against the full one, at which the best is worth its time. */
const WORTH_FINE = 0.5

export interface DeliverRequest {
  development: Development
  space: OutputSpace
  /** In place of a space: to the encoded colours of a profile. */
  table?: OutputTable
  /** Of what is delivered. */
  width: number
  height: number
  /** Where that lies in the whole picture of this size; all of it where missing. */
  part?: Pick<DeliveredSize, 'whole' | 'x' | 'y'>
  bits: 8 | 16
  kernel?: Resampling
  sharpening?: SharpenSettings
  /** Stops by which camera light is darkened, so that light beyond white fits in. */
  headroom?: number
  /** Has bands come as tiles of a linear DNG instead, of 16-bit samples: how these are stored. */
  packed?: Companding
}

/** Lines of the bands of a picture so wide: as TIFF wants them of tiles, a multiple of 16. */
const bandLines = (width: number): number =>
  Math.min(BAND_LINES, Math.max(LEAST_LINES, Math.floor(BAND_SAMPLES / width) & ~15))

/** Size of a linear DNG's tiles, of which each is a band. */
export const tileOf = (width: number): { width: number; lines: number } => ({
  width: (width + 15) & ~15,
  lines: bandLines(width),
})

/**
 * Computes the finished picture in bands of lines, from the top, a few of them ahead of whoever takes them.
 * @returns interleaved RGB, 8 bit or 16 bit in this machine's order, lines without gaps; tiles of a linear DNG where
 *   those are asked for
 * @throws Superseded where `signal` aborts
 */
export async function* finishedBands(
  layers: Layers,
  request: DeliverRequest,
  signal?: AbortSignal,
  onProgress?: Progress,
): AsyncGenerator<Uint8Array<ArrayBuffer>, void, undefined> {
  const { pool, store } = layers.ground
  const { development, width, height, bits, space, kernel = 'cubic', sharpening, headroom, packed } = request
  const { whole, x, y } = request.part ?? { whole: { width, height }, x: 0, y: 0 }
  const pixelBytes = (3 * bits) / 8
  const lineBytes = whole.width * pixelBytes
  const lines = bandLines(whole.width)
  const cuts = bands(height, lines)
  const held: Releasable[] = []
  const blocks: Block[] = []
  const stop = new AbortController()
  const onAbort = () => stop.abort()
  signal?.addEventListener('abort', onAbort)
  const underway: Promise<Uint8Array | null>[] = []
  try {
    if (signal?.aborted) throw new Superseded()
    const { plan, framed } = await layers.planned(development, space, held)
    const quality = whole.width > framed.square.finished.width * WORTH_FINE ? 'fine' : 'draft'
    const kept = await layers.mended.take(plan, {
      quality,
      part: request.part && sourceFor(request, plan, framed),
      onProgress: (done, all) => onProgress?.(done / all, 2),
    })
    held.push(kept)
    const steps = await layers.surveys.steps(plan, framed, held)
    const warp = layers.framed.fullWarp(framed, held)
    const table = request.table && placed(store, request.table, held)
    const fullSize = whole.width === framed.square.width && !sharpening
    const nearest = framed.open.coarse && fullSize && !table && isUntouched(plan, space)
    const ahead = Math.min(pool.size * 2 + 1, cuts.length)
    for (let i = 0; i < ahead; i++) blocks.push(store.arena.alloc(lineBytes * lines))
    const packing = (count: number, source: number): PackLinearTask => ({
      ...{ kind: 'packLinear', source, width: whole.width, lines: count, companding: packed! },
      tile: tileOf(whole.width),
    })
    const begin = (i: number) => {
      const [from, to] = cuts[i]
      const task: DeliverTask = {
        ...{ kind: 'deliver', picture: framed.open, steps: [...plan.refine, ...steps], space, table },
        ...{
          source: kept.raster,
          warp,
          ...whole,
          kernel,
          sharpening,
          headroom,
          nearest,
          bits,
          from: from + y,
          to: to + y,
        },
        target: blocks[i % ahead].offset,
      }
      const work: Promise<Uint8Array | null> = pool
        .run(task, stop.signal)
        .then((done) => (packed ? pool.run(packing(to - from, task.target), stop.signal) : done))
      // it is waited for in its turn, or at the end
      work.catch(() => undefined)
      underway[i] = work
    }
    for (let i = 0; i < ahead; i++) begin(i)
    for (let i = 0; i < cuts.length; i++) {
      const tile = await underway[i]
      const [from, to] = cuts[i]
      const all = tile
        ? Uint8Array.from(tile)
        : await store.get(blocks[i % ahead].offset, lineBytes * (to - from))
      if (i + ahead < cuts.length) begin(i + ahead)
      onProgress?.(1 + (i + 1) / cuts.length, 2)
      yield tile || width === whole.width ? all : columns(all, lineBytes, x * pixelBytes, width * pixelBytes)
    }
  } finally {
    signal?.removeEventListener('abort', onAbort)
    stop.abort()
    await Promise.allSettled(underway)
    blocks.forEach((b) => store.arena.free(b))
    held.forEach((k) => k.release())
  }
}

/** Pixels around a part of a file that its sharpening and resampling may look at. */
const AROUND = 64

/** What of the kept picture a part of a delivered one is made of; undefined where that is all of it. */
function sourceFor(
  { width, height, part }: DeliverRequest,
  { refine, render }: Plan,
  { square, open }: Framed,
): Rect | undefined {
  if (!part || (width === part.whole.width && height === part.whole.height)) return undefined
  const { finished } = square
  const by = finished.width / part.whole.width
  const scale = finished.width / square.width
  const reach = reachOf([...refine, ...render], scale, open.context) + AROUND * Math.max(by, 1)
  const rect = { x: part.x * by, y: part.y * by, width: width * by, height: height * by }
  return sourceOf(square, grown(rect, reach, finished), scale)
}

/** Bytes from..from + length of each line. */
function columns(all: Uint8Array, lineBytes: number, from: number, length: number): Uint8Array<ArrayBuffer> {
  const count = all.length / lineBytes
  const out = new Uint8Array(length * count)
  for (let j = 0; j < count; j++)
    out.set(all.subarray(j * lineBytes + from, j * lineBytes + from + length), j * length)
  return out
}
