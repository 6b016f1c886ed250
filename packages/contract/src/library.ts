import { z } from 'zod'

/** What the library's folder holds. */
export const LibraryPageSchema = z.object({
  folder: z.string(),
  originals: z.object({ count: z.number(), bytes: z.number(), inPlace: z.number() }),
  /** Files in it that the library does not know; the first of them by name. */
  unknown: z.object({ count: z.number(), bytes: z.number(), names: z.array(z.string()) }),
  /** Whether sidecars are written with every change, how many are yet to be, and what could not be, in sentences. */
  sidecars: z.object({ always: z.boolean(), waiting: z.number(), problems: z.array(z.string()) }),
})
export type LibraryPage = z.infer<typeof LibraryPageSchema>
/** What became of originals that were to be copied in. */
export const CopiesKeptSchema = z.object({ count: z.number(), problems: z.array(z.string()) })
export const KeepSidecarsSchema = z.strictObject({ always: z.boolean() })
/** A folder whose pictures go back into the shoots that their sidecars name. */
export const RebuildSchema = z.strictObject({
  path: z.string().min(1).max(4096),
  keep: z.enum(['copy', 'in place']),
})
