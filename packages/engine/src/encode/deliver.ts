import { fillMissing } from '../host/fillMissing'
import type { DeliveryOptions, Development, FrameMetadata } from '@dunkelkammer/core'
import { fitLongEdge } from '../host/sizes'
import type { Picture } from '../host/picture'
import type { Progress } from '../host/progress'
import { encodePicture } from './encodePicture'

/** Share of a delivery's progress that the computation takes, the rest being the encoder's. */
const COMPUTING = 0.8

/** What a file says beside its pixels. */
export interface Carried {
  /** Of the taking; nothing at all where missing. */
  metadata?: FrameMetadata
  /** An XMP packet. */
  xmp?: string
}

/** Develops a picture and encodes it as a file's bytes. Patches that were not filled yet are filled first. */
export async function deliverFile(
  picture: Picture,
  development: Development,
  options: DeliveryOptions,
  carried: Carried,
  signal?: AbortSignal,
  onProgress?: Progress,
): Promise<Uint8Array> {
  const { format, bits, space } = options
  const whole = await fillMissing(picture, development)
  const { finished } = await picture.square(whole)
  const size = fitLongEdge(finished.width, finished.height, options.longEdge)
  const pixels = await picture.deliver({ development: whole, space, bits, ...size }, signal, (done, all) =>
    onProgress?.((done / all) * COMPUTING, 1),
  )
  const bytes = await encodePicture(pixels, {
    format,
    bits,
    space,
    quality: options.quality,
    compression: options.compression,
    ...size,
    ...carried,
  })
  onProgress?.(1, 1)
  return bytes
}
