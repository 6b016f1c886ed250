import { z } from 'zod'
import { DeliveryOptionsSchema, DevelopmentSchema } from '@dunkelkammer/core'

/** What the server and the web application say to each other, under `/api`. */

export const IdSchema = z.uuid()
export const NameSchema = z.string().trim().min(1, 'a name is needed').max(300, 'at most 300 characters')

export const MetadataSchema = z.object({
  make: z.string().optional(),
  model: z.string().optional(),
  lens: z.string().optional(),
  iso: z.number().optional(),
  exposureTime: z.number().optional(),
  fNumber: z.number().optional(),
  focalLength: z.number().optional(),
  taken: z.string().optional(),
  artist: z.string().optional(),
  copyright: z.string().optional(),
  orientation: z.number(),
})

export const FrameSchema = z.object({
  id: IdSchema,
  shootId: IdSchema,
  fileName: z.string(),
  width: z.number(),
  height: z.number(),
  fileSize: z.number(),
  hasPreview: z.boolean(),
  metadata: MetadataSchema,
})
export type Frame = z.infer<typeof FrameSchema>

export const ShootSchema = z.object({
  id: IdSchema,
  name: z.string(),
  created: z.string(),
  frameCount: z.number(),
  /** The first few frames, to show beside the name. */
  cover: z.array(IdSchema),
})
export type Shoot = z.infer<typeof ShootSchema>

export const NewShootSchema = z.strictObject({ name: NameSchema })
export const ShootPageSchema = z.object({ shoot: ShootSchema, frames: z.array(FrameSchema) })
export type ShootPage = z.infer<typeof ShootPageSchema>

/** One state in the history of a version. */
export const HistoryEntrySchema = z.strictObject({
  label: z.string().max(120),
  development: DevelopmentSchema,
})
export type HistoryEntry = z.infer<typeof HistoryEntrySchema>
export const MAX_HISTORY = 200

/** What is saved of a version: its history, and where in it the user stands. */
export const VersionStateSchema = z
  .strictObject({
    history: z.array(HistoryEntrySchema).min(1).max(MAX_HISTORY),
    cursor: z.number().int().min(0),
  })
  .refine((s) => s.cursor < s.history.length, { message: 'the place in the history lies beyond its end' })
export type VersionState = z.infer<typeof VersionStateSchema>

export const VersionSchema = z.object({
  id: IdSchema,
  frameId: IdSchema,
  name: z.string(),
  /** Counts the saves; a save on another revision than it was made from is refused. */
  revision: z.number(),
  state: VersionStateSchema,
})
export type Version = z.infer<typeof VersionSchema>
export const SaveVersionSchema = z.strictObject({ revision: z.number().int(), state: VersionStateSchema })

export const FramePageSchema = z.object({ frame: FrameSchema, versions: z.array(VersionSchema) })
export type FramePage = z.infer<typeof FramePageSchema>

export const ImportFolderSchema = z.strictObject({ path: z.string().min(1).max(4096) })
export const UploadResultSchema = z.object({ frame: FrameSchema, known: z.boolean() })

export const NewExportSchema = z.strictObject({
  versionId: IdSchema,
  options: DeliveryOptionsSchema,
  /** Without ending; the format's is added. */
  fileName: z
    .string()
    .trim()
    .min(1, 'a name is needed')
    .max(200, 'at most 200 characters')
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
  kind: z.enum(['import', 'export']),
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
