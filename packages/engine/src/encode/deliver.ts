import {
  FILE_FORMATS,
  layoutOf,
  type Delivery,
  type Development,
  type Extent,
  type FrameMetadata,
} from '@dunkelkammer/core'
import { fillMissing } from '../host/fillMissing'
import type { Picture } from '../host/picture'
import type { Progress } from '../host/progress'
import { finished, finishOf } from './finish/finish'
import { deliverLinearDng } from './linearDng'
import { orderOf } from './order'
import { DoesNotFit, SINKS, type Carried } from './sinks'

/** Share of a delivery's progress that the computation takes, the rest being the encoder's. */
const COMPUTING = 0.8

/** What goes into a delivery's file besides the picture. */
export interface Beside extends Carried {
  /** Bytes of the loaded profile, where the delivery wants one. */
  profile?: Uint8Array
}

/** What is heard, and said, while a file is made. */
export interface During {
  signal?: AbortSignal
  onProgress?: Progress
  /** Asked after each band, which took so many milliseconds: waits where others are to come first. */
  stepBack?(ms: number): Promise<void>
  /** Told when the picture is not needed any more, though the file is not whole yet. */
  onDeveloped?(): void
}

/** What of a frame's metadata goes along. */
export function carried(metadata: FrameMetadata, which: Delivery['metadata']): FrameMetadata | undefined {
  if (which === 'nothing') return undefined
  const { artist, copyright, description, orientation } = metadata
  if (which === 'words') return { artist, copyright, description, orientation }
  return which === 'no position' ? { ...metadata, position: undefined } : metadata
}

/**
 * Develops a picture and writes it as a file, in bands, so that memory does not grow with the file. Patches that were
 * not filled yet are filled first. Nothing is left at `path` where it fails.
 * @returns the file's size in pixels
 * @throws DoesNotFit where the format cannot hold it; Superseded where `signal` aborts
 */
export async function deliverFile(
  picture: Picture,
  development: Development,
  delivery: Delivery,
  path: string,
  { profile, ...beside }: Beside,
  { signal, onProgress, stepBack, onDeveloped }: During = {},
): Promise<Extent> {
  const { format } = delivery
  const { label: formatLabel, longest } = FILE_FORMATS[format.kind]
  if (format.kind === 'original') throw new Error('an original is copied, not developed')
  if (format.kind === 'pdf') throw new Error('pages hold more than one picture')
  const whole = await fillMissing(picture, development)
  if (format.kind === 'dng')
    return deliverLinearDng(picture, whole, path, beside, signal, onProgress, stepBack)
  const { finished: size } = await picture.square(whole)
  const layout = layoutOf(delivery.size, delivery.border, size)
  const { width, height } = layout
  if (Math.max(width, height) > longest)
    throw new DoesNotFit(
      `${formatLabel} holds at most ${longest} pixels to a side; this has ${Math.max(width, height)}.`,
    )
  const { pixels, file } = await orderOf(delivery, picture.frame, profile)
  const finish = await finishOf(delivery, layout, pixels)
  const sink = await SINKS[format.kind]({ path, width, height, ...file, ...beside })
  try {
    const bands = picture.bands(
      {
        ...pixels,
        development: whole,
        width: layout.picture.width,
        height: layout.picture.height,
        part: layout.picture,
      },
      signal,
      (done, all) => onProgress?.((done / all) * COMPUTING, 1),
    )
    let since = performance.now()
    for await (const band of finished(bands, finish)) {
      await sink.write(band)
      await stepBack?.(performance.now() - since)
      since = performance.now()
    }
    onDeveloped?.()
    await sink.close()
  } catch (error) {
    await sink.abort()
    throw error
  }
  onProgress?.(1, 1)
  return { width, height }
}
