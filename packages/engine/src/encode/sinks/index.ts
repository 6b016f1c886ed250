import type { FileFormat, PictureFormat } from '@dunkelkammer/core'
import { LibrarySink } from './library'
import { TiffSink } from './tiff'
import type { Sink, SinkOrder } from './sink'

export type { Carried, Sink, SinkOrder } from './sink'
export { DoesNotFit } from './sink'

type MakeSink = (order: SinkOrder) => Promise<Sink>

const library: MakeSink = (order) => LibrarySink.create(order)

/** What makes a file of each kind. */
export const SINKS: Readonly<Record<PictureFormat['kind'], MakeSink>> = {
  jpeg: library,
  png: library,
  webp: library,
  avif: library,
  tiff: (order) =>
    TiffSink.create(order, (order.format as Extract<FileFormat, { kind: 'tiff' }>).compression),
}
