import type { Frame, Text } from '@dunkelkammer/contract'
import type { schema } from '../db/open'

/** Rows of the database as the API speaks of them. */
export type FrameRow = typeof schema.frames.$inferSelect

/** What the thumbnail of a version's development is called in the database. */
export const thumbName = (revision: number): string => `r${revision}`

/** Formats whose file is itself a picture that can be shown. */
const SHOWN_AS_IS = new Set(['jpeg', 'png', 'tiff', 'webp', 'avif'])
export const hasPreview = (row: Pick<FrameRow, 'format' | 'previewOffset'>): boolean =>
  row.previewOffset !== null || SHOWN_AS_IS.has(row.format)

export const textOf = (row: FrameRow): Text => ({
  title: row.title,
  caption: row.caption,
  creator: row.creator,
  copyright: row.copyright,
  keywords: row.keywords,
})

/** Whether settings have changed since they were delivered, as far as the thumbnail tells. */
const changedSince = ({ deliveredAs, thumb }: FrameRow): boolean =>
  deliveredAs !== null && /^r\d/.test(thumb ?? '') && thumb !== deliveredAs

export const toFrame = (row: FrameRow, fileSize: number, inPlace: string | null): Frame => ({
  id: row.id,
  shootId: row.shootId,
  fileName: row.fileName,
  width: row.width,
  height: row.height,
  fileSize,
  inPlace: inPlace ?? undefined,
  fileDate: row.fileDate ?? undefined,
  format: row.format,
  hasPreview: hasPreview(row),
  metadata: row.metadata,
  rating: row.rating,
  mark: row.mark,
  text: textOf(row),
  edited: row.edited,
  delivered: row.delivered !== null,
  ...(row.deliveredBy.length > 0 && { deliveredBy: row.deliveredBy }),
  ...(changedSince(row) && { changedSince: true as const }),
  thumb: row.thumb ?? '',
  stack: row.stack ?? undefined,
})
