import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { z } from 'zod'
import { StartProblem } from '../problem'

export const MANIFEST = 'backup.json'

const FileSchema = z.object({
  /** From the backup's folder. */
  path: z
    .string()
    .refine((p) => !p.startsWith('/') && !p.split('/').includes('..'), 'a path inside the backup'),
  size: z.number(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  /** When the file was last changed, in milliseconds: how a later backup knows that it has it. */
  changed: z.number().optional(),
})
export type BackedUp = z.infer<typeof FileSchema>

/** What a backup consists of. It is written last, so that it never speaks of what is not there. */
export const ManifestSchema = z.object({
  kind: z.literal('Backup of a library of Dunkelkammer'),
  made: z.string(),
  database: FileSchema,
  files: z.array(FileSchema),
})
export type Manifest = z.infer<typeof ManifestSchema>

/** @returns nothing where the folder holds no finished backup. @throws StartProblem where its list is damaged */
export async function readManifest(folder: string): Promise<Manifest | undefined> {
  let text: string
  try {
    text = await readFile(join(folder, MANIFEST), 'utf8')
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined
    throw error
  }
  try {
    return ManifestSchema.parse(JSON.parse(text))
  } catch {
    throw new StartProblem(`The list of files ${join(folder, MANIFEST)} is damaged.`)
  }
}
