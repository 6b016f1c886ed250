import { z } from 'zod'
import { BorderSchema } from './around'
import { MarkSchema } from './mark'
import { INTENTS } from '../table'
import { OutputSpaceSchema, type OutputSpace } from '../target'
import { bitsOf, FILE_FORMATS, FileFormatSchema } from './formats'
import { namePatternProblem } from './names'
import { sheetProblem, type Sheet } from './sheet'
import { DeliverySizeSchema } from './size'

/** What a picture is sharpened for after it has its final size. */
export const MEDIA = ['none', 'screen', 'matt paper', 'glossy paper'] as const
export type Medium = (typeof MEDIA)[number]

/** What a file says beside its pixels: all that is known; all but the position; words and copyright alone; nothing. */
export const METADATA = ['all', 'no position', 'words', 'nothing'] as const
export type CarriedMetadata = (typeof METADATA)[number]

/** What is done where a file of that name is there. */
export const WHEN_TAKEN = ['number', 'replace', 'skip'] as const
export type WhenTaken = (typeof WHEN_TAKEN)[number]

const folderName = z
  .string()
  .trim()
  .max(200)
  .refine((n) => !n.split(/[/\\]/).some((part) => part === '..' || part.startsWith('.')), {
    message: 'a folder without leading dots',
  })
  .refine((n) => !/^([/\\]|[a-z]:)/i.test(n) && !/[:*?"<>|\p{Cc}]/u.test(n), {
    message: 'a folder below the place, without : * ? " < > |',
  })

/** Where files go: the library's own folder, a folder that the server may write to, or beside the original. */
export const DeliveryPlaceSchema = z.discriminatedUnion('in', [
  z.strictObject({ in: z.literal('library'), subfolder: folderName.default('') }),
  z.strictObject({
    in: z.literal('folder'),
    path: z.string().min(1).max(1000),
    subfolder: folderName.default(''),
  }),
  z.strictObject({ in: z.literal('beside'), subfolder: folderName.default('') }),
])
export type DeliveryPlace = z.infer<typeof DeliveryPlaceSchema>

/** Colours by a loaded ICC profile. */
export const ProfileSpaceSchema = z.strictObject({
  /** What the profile is kept under; in the shell its file, seen from that of the delivery. */
  profile: z.string().min(1).max(1000),
  intent: z.enum(INTENTS).default('relative'),
  /** Black of the picture becomes black of the device. */
  blackPoint: z.boolean().default(true),
})
export type ProfileSpace = z.infer<typeof ProfileSpaceSchema>

/**
 * Whom a file is given to when it is made: whoever watches its folder, or a program of those that the server was started
 * with. What comes back in that folder becomes a frame in the stack of the first.
 */
export const HandOverSchema = z.discriminatedUnion('to', [
  z.strictObject({ to: z.literal('folder') }),
  z.strictObject({ to: z.literal('program'), program: z.string().trim().min(1).max(80) }),
])
export type HandOver = z.infer<typeof HandOverSchema>

/** A saved description of files: what is made of a frame, and where it goes. */
export const DeliverySchema = z
  .strictObject({
    name: z.string().trim().min(1, 'a name is needed').max(80).default('Delivery'),
    format: FileFormatSchema.prefault({ kind: 'jpeg' }),
    size: DeliverySizeSchema.prefault({ by: 'full' }),
    sharpening: z
      .strictObject({
        medium: z.enum(MEDIA).default('none'),
        /** Of what the medium takes: 1 is all of it. */
        amount: z.number().min(0).max(2).default(1),
      })
      .prefault({}),
    space: z.union([OutputSpaceSchema, ProfileSpaceSchema]).default('srgb'),
    border: BorderSchema.nullable().default(null),
    mark: MarkSchema.nullable().default(null),
    metadata: z.enum(METADATA).default('all'),
    /** Whether the file's XMP holds the settings that it was made by. */
    keepSettings: z.boolean().default(false),
    /** Without ending, words in braces standing for what is known of the frame. */
    fileName: z
      .string()
      .trim()
      .min(1, 'a name is needed')
      .max(200)
      .superRefine((pattern, ctx) => {
        const message = namePatternProblem(pattern)
        if (message) ctx.addIssue({ code: 'custom', message })
      })
      .default('{name}'),
    place: DeliveryPlaceSchema.prefault({ in: 'library' }),
    taken: z.enum(WHEN_TAKEN).default('number'),
    handOver: HandOverSchema.nullable().default(null),
  })
  .refine((d) => !isLinear(d.space) || bitsOf(d.format) === 16, {
    message: 'linear light needs 16 bits',
    path: ['space'],
  })
  .superRefine(({ format, handOver }, ctx) => {
    if (format.kind !== 'pdf') return
    // pages are of many frames: nobody could say whose what comes back is
    if (handOver) ctx.addIssue({ code: 'custom', message: 'pages are not handed over', path: ['handOver'] })
    const message = sheetProblem(format) ?? (format.caption && namePatternProblem(format.caption))
    if (message) ctx.addIssue({ code: 'custom', message, path: ['format'] })
  })
  .refine((d) => !isLinear(d.space) || (!d.border && !d.mark), {
    message: 'linear light takes no border and no mark',
    path: ['space'],
  })
export type Delivery = z.infer<typeof DeliverySchema>
export type DeliveryInput = z.input<typeof DeliverySchema>

/** Whether colours are linear light, which needs more than 8 bits. */
export const isLinear = (space: OutputSpace | ProfileSpace): boolean =>
  space === 'linear-rec2020' || space === 'camera'

/** What a delivery makes, in a few words. */
export const describeDelivery = (delivery: Delivery): string => {
  const { handOver } = delivery
  const file = describeFile(delivery)
  if (!handOver) return file
  return `${file}, handed over${handOver.to === 'program' ? ` to ${handOver.program}` : ''}`
}

function describeFile({ format, size, sharpening, border, mark }: Delivery): string {
  const { label, holds } = FILE_FORMATS[format.kind]
  if (format.kind === 'pdf') return `${label}, ${inPages(format)}`
  if (holds !== 'picture') return 'sidecar' in format && format.sidecar ? `${label} with its sidecar` : label
  const kind =
    'quality' in format
      ? `${label} ${format.quality}`
      : 'bits' in format
        ? `${label} ${format.bits} bit`
        : label
  const parts = [kind, inWords(size)]
  if (border) parts.push('with a border')
  if (mark) parts.push('with a mark')
  if (sharpening.medium !== 'none') parts.push(`sharpened for ${sharpening.medium}`)
  return parts.join(', ')
}

function inPages({ paper, width, height, columns, rows }: Sheet): string {
  const sheet = paper === 'own' ? `${width} × ${height} mm` : paper
  return columns * rows === 1 ? sheet : `${sheet}, ${columns} × ${rows} on a page`
}

function inWords(size: Delivery['size']): string {
  switch (size.by) {
    case 'full':
      return 'full size'
    case 'long edge':
    case 'short edge':
      return `${size.by} ${size.pixels} px`
    case 'fit':
      return `within ${size.width} × ${size.height} px`
    case 'fill':
      return `${size.width} × ${size.height} px`
    case 'megapixels':
      return `${size.megapixels} MP`
    case 'percent':
      return `${size.percent} %`
    case 'print':
      return `${size.widthCm} × ${size.heightCm} cm at ${size.ppi} ppi`
  }
}
