import { z } from 'zod'

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
