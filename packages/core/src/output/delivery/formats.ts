import { z } from 'zod'
import { SHEET_FIELDS } from './sheet'

const quality = (start: number) => z.number().int().min(1).max(100).default(start)
const depth = (start: 8 | 16) => z.union([z.literal(8), z.literal(16)]).default(start)

/** How much of a JPEG's colour is kept at full resolution; `automatic`: all of it from quality 90 on. */
export const CHROMA = ['automatic', '4:4:4', '4:2:0'] as const
export const COMPRESSIONS = ['none', 'deflate', 'lzw'] as const
export type Compression = (typeof COMPRESSIONS)[number]

const SCHEMAS = [
  z.strictObject({
    kind: z.literal('jpeg'),
    quality: quality(90),
    chroma: z.enum(CHROMA).default('automatic'),
  }),
  z.strictObject({ kind: z.literal('png'), bits: depth(8) }),
  z.strictObject({
    kind: z.literal('tiff'),
    bits: depth(16),
    compression: z.enum(COMPRESSIONS).default('deflate'),
  }),
  z.strictObject({ kind: z.literal('webp'), quality: quality(85) }),
  z.strictObject({ kind: z.literal('avif'), quality: quality(60) }),
  z.strictObject({ kind: z.literal('pdf'), quality: quality(92), ...SHEET_FIELDS }),
  z.strictObject({ kind: z.literal('dng') }),
  z.strictObject({ kind: z.literal('original'), sidecar: z.boolean().default(true) }),
] as const

export const FileFormatSchema = z.discriminatedUnion('kind', SCHEMAS)
export type FileFormat = z.infer<typeof FileFormatSchema>
export type FormatKind = FileFormat['kind']
/** Formats of one picture, as it was developed. */
export type PictureFormat = Exclude<FileFormat, { kind: 'pdf' | 'dng' | 'original' }>

export interface FormatDefinition {
  label: string
  /** Of the file's name. */
  ending: string
  /** Longest side that the format can hold, pixels. */
  longest: number
  /**
   * A picture as the development makes it; pages of them; the light that it begins with, before colour and exposure; or
   * what came in, as it is.
   */
  holds: 'picture' | 'pages' | 'light' | 'original'
}

/** The kinds of files that deliveries make, in the order in which they are offered. */
export const FILE_FORMATS: Readonly<Record<FormatKind, FormatDefinition>> = {
  jpeg: { label: 'JPEG', ending: '.jpg', longest: 65_500, holds: 'picture' },
  png: { label: 'PNG', ending: '.png', longest: 200_000, holds: 'picture' },
  tiff: { label: 'TIFF', ending: '.tif', longest: 200_000, holds: 'picture' },
  webp: { label: 'WebP', ending: '.webp', longest: 16_383, holds: 'picture' },
  avif: { label: 'AVIF', ending: '.avif', longest: 16_384, holds: 'picture' },
  pdf: { label: 'PDF for print', ending: '.pdf', longest: 65_500, holds: 'pages' },
  dng: { label: 'Linear DNG', ending: '.dng', longest: 65_500, holds: 'light' },
  original: { label: 'Original', ending: '', longest: Infinity, holds: 'original' },
}
export const FORMAT_KINDS = Object.keys(FILE_FORMATS) as FormatKind[]

/** Bits of each sample in a file of a format. */
export const bitsOf = (format: FileFormat): 8 | 16 => ('bits' in format ? format.bits : 8)
