import { z } from 'zod'
import { OutputSpaceSchema } from './target'

export const FILE_FORMATS = ['jpeg', 'png', 'tiff'] as const
export type FileFormat = (typeof FILE_FORMATS)[number]

/** File name ending of each format. */
export const EXTENSION: Record<FileFormat, string> = { jpeg: '.jpg', png: '.png', tiff: '.tif' }

/** Shortest and longest longer side of a file that was made smaller or larger, pixels. */
export const LONG_EDGE = { least: 16, most: 60_000 } as const

/** What kind of file a delivery makes. */
export const DeliveryOptionsSchema = z
  .strictObject({
    format: z.enum(FILE_FORMATS).default('jpeg'),
    bits: z.union([z.literal(8), z.literal(16)]).default(8),
    space: OutputSpaceSchema.default('srgb'),
    /** Pixels of the longer side; the picture's own where missing. Never enlarges. */
    longEdge: z.number().int().min(LONG_EDGE.least).max(LONG_EDGE.most).optional(),
    /** JPEG only. */
    quality: z.number().int().min(1).max(100).default(90),
    /** TIFF only. */
    compression: z.enum(['none', 'deflate']).default('deflate'),
  })
  .refine((o) => o.format !== 'jpeg' || o.bits === 8, { message: 'a JPEG has 8 bits', path: ['bits'] })
export type DeliveryOptions = z.infer<typeof DeliveryOptionsSchema>
