import { z } from 'zod'
import {
  DeliveryOptionsSchema,
  LensProfileSchema,
  LookSchema,
  PROFILE_ORIGINS,
  RecipeSchema,
} from '@dunkelkammer/core'
import { IdSchema, NameSchema } from './basics'
import { VersionSchema } from './versions'

/** What the server and the web application say to each other, under `/api`. */

export { IdSchema, NameSchema } from './basics'

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
  artist: z.string().optional(),
  copyright: z.string().optional(),
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
export const CountSchema = z.object({ count: z.number() })
/** What came of writing sidecars: those beside their originals, and those to be downloaded. */
export const SidecarsWrittenSchema = z.object({ beside: z.number(), problems: z.array(z.string()) })

export const ShootSchema = z.object({
  id: IdSchema,
  name: z.string(),
  created: z.string(),
  frameCount: z.number(),
  /** The first few frames, to show beside the name. */
  cover: z.array(z.object({ id: IdSchema, thumb: z.string() })),
  /** What is written into every frame that comes in. */
  atImport: z.lazy(() => AtImportSchema),
})
export type Shoot = z.infer<typeof ShootSchema>

export const NewShootSchema = z.strictObject({
  name: NameSchema,
  atImport: z.lazy(() => AtImportSchema).default({}),
})
export const ShootChangeSchema = z.strictObject({ name: NameSchema })
/** Frames that changed since a page last asked. */
export const NewsSchema = z.object({
  /** To be named when asking again. */
  at: z.number(),
  frames: z.array(FrameSchema),
  /** More has changed than is told at once: the page had better ask for everything. */
  more: z.boolean(),
  /** Frames of the shoot in all, so that a page notices when some are gone. */
  count: z.number(),
})
export type News = z.infer<typeof NewsSchema>
export const ShootPageSchema = z.object({
  shoot: ShootSchema,
  frames: z.array(FrameSchema),
  at: z.number(),
})
export type ShootPage = z.infer<typeof ShootPageSchema>

export * from './versions'

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

/** What is written into every frame that is brought in. A preset will join it. */
export const AtImportSchema = TextSchema.pick({ creator: true, copyright: true, keywords: true }).partial()
export type AtImport = z.infer<typeof AtImportSchema>
export const ImportFolderSchema = z.strictObject({
  path: z.string().min(1).max(4096),
  /** Copy the originals into the library, or leave them where they are. */
  keep: z.enum(['copy', 'in place']).default('copy'),
  text: AtImportSchema.default({}),
})
/** Largest original that is taken in at all, in bytes. */
export const MAX_KEPT = 2 * 2 ** 30
export const UploadResultSchema = z.object({
  frame: FrameSchema,
  /** The shoot had it already. */
  known: z.boolean(),
  /** The library had lost its bytes, and has them again. */
  restored: z.boolean(),
})

/** What the library's folder holds. */
export const LibraryPageSchema = z.object({
  folder: z.string(),
  originals: z.object({ count: z.number(), bytes: z.number(), inPlace: z.number() }),
  /** Files in it that the library does not know; the first of them by name. */
  unknown: z.object({ count: z.number(), bytes: z.number(), names: z.array(z.string()) }),
})
export type LibraryPage = z.infer<typeof LibraryPageSchema>
/** What became of originals that were to be copied in. */
export const CopiesKeptSchema = z.object({ count: z.number(), problems: z.array(z.string()) })

/** Most bytes of a delivery's name without ending. */
export const MAX_NAME_BYTES = 230

export const NewExportSchema = z.strictObject({
  versionId: IdSchema,
  options: DeliveryOptionsSchema,
  /** What of the frame's metadata goes into the file. */
  carry: z.enum(['all', 'no position', 'nothing']).default('all'),
  /** Without ending; the format's is added. */
  fileName: z
    .string()
    .trim()
    .min(1, 'a name is needed')
    .refine(
      // with an ending and a number it has to fit into the 255 bytes that disks allow
      (n) => new TextEncoder().encode(n).length <= MAX_NAME_BYTES,
      `at most ${MAX_NAME_BYTES} bytes: a letter takes one to four`,
    )
    .refine(
      (n) => !/[/\\\p{Cc}]/u.test(n) && !n.startsWith('.'),
      'a name without slashes and not starting with a dot',
    ),
  /** What to do where the name is taken. */
  taken: z.enum(['ask', 'number', 'replace']).default('ask'),
})
export type NewExport = z.input<typeof NewExportSchema>

export const JOB_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled', 'interrupted'] as const
export const JobSchema = z.object({
  id: IdSchema,
  kind: z.enum(['import', 'export', 'check']),
  state: z.enum(JOB_STATES),
  title: z.string(),
  /** 0 to 1. */
  progress: z.number(),
  /** What happened, as a sentence. */
  message: z.string(),
  /** Single things that went wrong while the rest went on. */
  problems: z.array(z.string()),
  created: z.string(),
  /** Name of the file that an export made. */
  fileName: z.string().optional(),
})
export type Job = z.infer<typeof JobSchema>

export const ProblemSchema = z.object({ code: z.string(), message: z.string() })
export type Problem = z.infer<typeof ProblemSchema>

/** A look that the user has brought or made. */
export const LookEntrySchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['table', 'recipe']),
  recipe: RecipeSchema.optional(),
  created: z.string(),
})
export type LookEntry = z.infer<typeof LookEntrySchema>
export const NewRecipeSchema = z.strictObject({ name: NameSchema.max(120), recipe: RecipeSchema })

/** With which look new frames begin: the first rule that a frame meets counts. */
export const NewFrameRuleSchema = z.strictObject({
  /** Part of the camera's name; any camera where missing. */
  camera: z.string().trim().max(120).optional(),
  isoFrom: z.number().int().min(1).max(10000000).optional(),
  isoTo: z.number().int().min(1).max(10000000).optional(),
  look: LookSchema,
})
export type NewFrameRule = z.infer<typeof NewFrameRuleSchema>
export const NewFramesSchema = z.strictObject({
  rules: z.array(NewFrameRuleSchema).max(30).default([]),
  /** Whether new frames begin with what is known of their lens. */
  lens: z.enum(['off', 'automatic']).default('off'),
})
export type NewFrames = z.infer<typeof NewFramesSchema>

/** A lens profile without its measurements. */
export const LensSummarySchema = z.object({
  id: z.string(),
  origin: z.enum(PROFILE_ORIGINS),
  maker: z.string(),
  model: z.string(),
  mounts: z.array(z.string()),
  /** Of the camera that it was measured with. */
  crop: z.number(),
  /** Millimetres. */
  focalFrom: z.number(),
  focalTo: z.number(),
})
export type LensSummary = z.infer<typeof LensSummarySchema>
/** What a search found: the first of them, how many there are, and how many in all. */
export const LensListSchema = z.object({
  lenses: z.array(LensSummarySchema),
  count: z.number(),
  all: z.number(),
  /** Whether a database on this machine could be imported. */
  installed: z.boolean(),
})
export const LensIdSchema = z.string().min(1).max(80)
/** Camera and lens as a frame's file names them, or one profile. */
export const LensWishSchema = z.strictObject({
  profile: LensIdSchema.optional(),
  make: z.string().max(300).optional(),
  model: z.string().max(300).optional(),
  lens: z.string().max(300).optional(),
  focal: z.number().optional(),
  crop: z.number().optional(),
})
export const LensAnswerSchema = z.object({
  id: z.string(),
  profile: LensProfileSchema,
  crop: z.number().optional(),
})
export const LensFoundSchema = z.object({ found: LensAnswerSchema.optional() })
export const LensImportedSchema = z.object({
  lenses: z.number(),
  cameras: z.number(),
  /** Measurements by formulas that are not known. */
  leftOut: z.number(),
  problems: z.array(z.string()),
})
export type LensImported = z.infer<typeof LensImportedSchema>
