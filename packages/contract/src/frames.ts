import { z } from 'zod'
import { IdSchema } from './basics'
import { VersionSchema } from './versions'

/** Frames, and the words and marks that the user gives them. */

export const MetadataSchema = z.object({
  make: z.string().optional(),
  model: z.string().optional(),
  lens: z.string().optional(),
  iso: z.number().optional(),
  exposureTime: z.number().optional(),
  fNumber: z.number().optional(),
  focalLength: z.number().optional(),
  focalLength35: z.number().optional(),
  position: z.object({ north: z.number(), east: z.number(), height: z.number().optional() }).optional(),
  taken: z.string().optional(),
  /** The light that the camera took it for. */
  asShot: z.object({ kelvin: z.number(), tint: z.number() }).optional(),
  artist: z.string().optional(),
  copyright: z.string().optional(),
  /** What another program marked it with. */
  label: z.string().optional(),
  /** The file holds several pictures in time, of which this is the first. */
  moving: z.literal(true).optional(),
  orientation: z.number(),
})

const line = z
  .string()
  .trim()
  .max(300, 'at most 300 characters')
  .refine((t) => !/\p{Cc}/u.test(t), 'one line without control characters')
/** Words about a frame (IPTC core): what the photographer writes, not the camera. */
export const TextSchema = z.strictObject({
  title: line,
  caption: z.string().trim().max(4000, 'at most 4000 characters'),
  creator: line,
  copyright: line,
  keywords: z.array(line.min(1)).max(200, 'at most 200 keywords'),
})
export type Text = z.infer<typeof TextSchema>
export const NO_TEXT: Text = { title: '', caption: '', creator: '', copyright: '', keywords: [] }

export const MARKS = ['none', 'keep', 'drop'] as const
export const RatingSchema = z.number().int().min(0).max(5)
export const MarkSchema = z.enum(MARKS)
export type Mark = z.infer<typeof MarkSchema>

/** What the server says of a frame; lean, since a shoot may have ten thousand. */
export const FrameSchema = z.object({
  id: z.string(),
  shootId: z.string(),
  fileName: z.string(),
  width: z.number(),
  height: z.number(),
  fileSize: z.number(),
  /** When the file was last changed, where that is known. */
  fileDate: z.string().optional(),
  /** Kind of file: "dng", "jpeg" … */
  format: z.string(),
  hasPreview: z.boolean(),
  /** Where the original lies if it was left where it is, and not copied into the library. */
  inPlace: z.string().optional(),
  metadata: MetadataSchema,
  /** 0 to 5 stars. */
  rating: RatingSchema,
  /** A dropped frame lies in the bin. */
  mark: MarkSchema,
  text: z.object({
    title: z.string(),
    caption: z.string(),
    creator: z.string(),
    copyright: z.string(),
    keywords: z.array(z.string()),
  }),
  /** Whether any version of it has settings of its own. */
  edited: z.boolean(),
  delivered: z.boolean(),
  /** Names of the deliveries that the settings were last delivered by. */
  deliveredBy: z.array(z.string()).optional(),
  /** The settings are others than those that were delivered. */
  changedSince: z.literal(true).optional(),
  /** Changes whenever the thumbnail does. */
  thumb: z.string(),
  /** The stack that the user put it into; by the time of its taking where missing. */
  stack: z.string().optional(),
})
export type Frame = z.infer<typeof FrameSchema>

/** One change to many frames; what is not named stays. */
export const FrameChangeSchema = z.strictObject({
  ids: z.array(IdSchema).min(1).max(20000),
  rating: RatingSchema.optional(),
  mark: MarkSchema.optional(),
  text: TextSchema.partial().optional(),
  /** The stack that the user put them into; by the time of their taking where null. */
  stack: IdSchema.nullable().optional(),
  /** The shoot that they are moved to. */
  shootId: IdSchema.optional(),
})
export type FrameChange = z.infer<typeof FrameChangeSchema>
/** Changes made together: all or none. */
export const FrameChangesSchema = z.strictObject({ changes: z.array(FrameChangeSchema).min(1).max(20000) })
export const FramesSchema = z.strictObject({ ids: z.array(IdSchema).min(1).max(20000) })
/** What came of writing sidecars: those beside originals that were left in place, and those in the library's folder. */
export const SidecarsWrittenSchema = z.object({
  beside: z.number(),
  inLibrary: z.number(),
  problems: z.array(z.string()),
})
export type SidecarsWritten = z.infer<typeof SidecarsWrittenSchema>

/** What of a sidecar could not be taken, in sentences. */
export const SidecarTakenSchema = z.object({ problems: z.array(z.string()) })

export const FramePageSchema = z.object({
  frame: FrameSchema,
  /** In the order that the user gave them. */
  versions: z.array(VersionSchema).min(1),
  /** Versions that were deleted and can be taken back. */
  removed: z.array(z.object({ id: IdSchema, name: z.string() })),
  /** The version that the sheet shows; the first where none was chosen. */
  shown: z.string().nullable(),
})
export type FramePage = z.infer<typeof FramePageSchema>
