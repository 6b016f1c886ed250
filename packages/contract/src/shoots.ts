import { z } from 'zod'
import { PresetIdSchema } from './presets'
import { IdSchema, NameSchema } from './basics'
import { FrameSchema, TextSchema } from './frames'

/** Shoots, and what comes into them. */

/** What is written into every frame that is brought in. A preset will join it. */
export const AtImportSchema = TextSchema.pick({ creator: true, copyright: true, keywords: true })
  .partial()
  .extend({
    /** Applied to every frame, at 0 to 1.5. */
    preset: z.strictObject({ id: PresetIdSchema, strength: z.number().min(0).max(1.5) }).optional(),
  })
export type AtImport = z.infer<typeof AtImportSchema>

export const ShootSchema = z.object({
  id: IdSchema,
  name: z.string(),
  created: z.string(),
  frameCount: z.number(),
  /** The first few frames, to show beside the name. */
  cover: z.array(z.object({ id: IdSchema, thumb: z.string() })),
  /** What is written into every frame that comes in. */
  atImport: AtImportSchema,
})
export type Shoot = z.infer<typeof ShootSchema>

export const NewShootSchema = z.strictObject({
  name: NameSchema,
  atImport: AtImportSchema.default({}),
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
/** Rows that one function has made: the first of them says whether page and server agree, ten thousand take too long. */
const rowsOf = <T extends z.ZodType>(row: T) =>
  z.custom<z.output<T>[]>((rows) => Array.isArray(rows) && z.array(row).safeParse(rows.slice(0, 1)).success)

export const ShootPageSchema = z.object({
  shoot: ShootSchema,
  frames: rowsOf(FrameSchema),
  at: z.number(),
})
export type ShootPage = z.infer<typeof ShootPageSchema>

export const ImportFolderSchema = z.strictObject({
  path: z.string().min(1).max(4096),
  /** Copy the originals into the library, or leave them where they are. */
  keep: z.enum(['copy', 'in place']).default('copy'),
  text: AtImportSchema.default({}),
})
/** A picture on the server's disk, by its path from the root. */
export const OpenFileSchema = z.strictObject({ path: z.string().min(1).max(4096) })
export const OpenedFileSchema = z.object({ shootId: IdSchema, frameId: IdSchema })
/** Largest original that is taken in at all, in bytes. */
export const MAX_KEPT = 2 * 2 ** 30
export const UploadResultSchema = z.object({
  frame: FrameSchema,
  /** The shoot had it already. */
  known: z.boolean(),
  /** The library had lost its bytes, and has them again. */
  restored: z.boolean(),
})
