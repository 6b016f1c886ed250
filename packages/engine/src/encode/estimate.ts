import {
  carriedOut,
  FILE_FORMATS,
  layoutOf,
  type Delivery,
  type Development,
  type PictureFormat,
} from '@dunkelkammer/core'
import { mkdtemp, rm, stat } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { tileOf } from '../host/finished'
import type { Picture } from '../host/picture'
import { compandingFor, HEADROOM } from './linearDng'
import { orderOf } from './order'
import { onSheet } from './sheets'
import { SINKS } from './sinks'

/** Bands that are looked at, spread over the picture, and lines of each. */
const BANDS = 8
const LINES = 64
/** Pixels up to which all of a picture is looked at. */
const SMALL = 2e6
/** Bytes of a linear DNG beside its tiles: its preview above all. */
const BESIDE_TILES = 120_000

export interface Estimate {
  bytes: number
  seconds: number
}

/**
 * About how many bytes the file of a delivery will have, and how long it takes: some bands of the picture are developed
 * and encoded as it would be.
 * @param profile bytes of the loaded profile, where the delivery wants one
 * @throws Superseded where `signal` aborts
 */
export async function estimateFile(
  picture: Picture,
  development: Development,
  delivery: Delivery,
  profile?: Uint8Array,
  signal?: AbortSignal,
): Promise<Estimate> {
  const { format } = delivery
  if (format.kind === 'pdf') {
    const { finished } = await picture.square(development)
    return estimateFile(picture, development, onSheet(delivery, format, finished), profile, signal)
  }
  if (FILE_FORMATS[format.kind].holds === 'original') throw new Error('an original is as large as it is')
  const light = format.kind === 'dng'
  const made = light ? carriedOut(development) : development
  const { finished } = await picture.square(made)
  const layout = layoutOf(delivery.size, delivery.border, finished)
  const size = light ? { ...finished, whole: finished, x: 0, y: 0 } : layout.picture
  // whole tiles of a linear DNG: what fills up others would count
  const lines = Math.min(light ? tileOf(size.whole.width).lines : LINES, size.height)
  const most = size.width * size.height <= SMALL ? Infinity : BANDS
  const count = Math.max(1, Math.min(most, Math.floor(size.height / lines)))
  const order = light ? undefined : await orderOf(delivery, picture.frame, profile)
  const pixels = order?.pixels ?? {
    ...({ space: 'camera', bits: 16 } as const),
    ...{ headroom: HEADROOM, packed: compandingFor(picture, made) },
  }
  const take = (i: number) =>
    picture.bands(
      {
        ...pixels,
        ...{ development: made, width: size.width, height: lines },
        part: {
          ...{ whole: size.whole, x: size.x },
          y: size.y + Math.round(((i + 0.5) / count) * (size.height - lines)),
        },
      },
      signal,
    )
  const share = size.height / (count * lines)
  const began = performance.now()
  const answer = (bytes: number): Estimate => ({
    bytes: Math.round(bytes),
    seconds: ((performance.now() - began) / 1000) * share,
  })
  if (!order) {
    let bytes = 0
    for (let i = 0; i < count; i++) for await (const tile of take(i)) bytes += tile.length
    return answer(bytes * share + BESIDE_TILES)
  }
  const folder = await mkdtemp(join(tmpdir(), 'dunkelkammer-'))
  try {
    const path = join(folder, 'sample')
    const sink = await SINKS[format.kind as PictureFormat['kind']]({
      ...{ path, ...order.file },
      ...{ width: size.width, height: count * lines },
    })
    try {
      for (let i = 0; i < count; i++) for await (const band of take(i)) await sink.write(band)
      await sink.close()
    } catch (error) {
      await sink.abort()
      throw error
    }
    // a border compresses to next to nothing
    const plain = format.kind === 'tiff' && format.compression === 'none'
    const around = plain
      ? (layout.width * layout.height - size.width * size.height) * 3 * (order.file.bits / 8)
      : 0
    return answer((await stat(path)).size * share + around)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
