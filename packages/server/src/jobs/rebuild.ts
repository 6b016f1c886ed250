import { stat } from 'node:fs/promises'
import { basename } from 'node:path'
import type { LibraryFolder } from '../library/folder'
import type { Added, Intake } from '../library/intake'
import { discard, lookAt, receiveFile, type Received } from '../library/receive'
import type { Originals } from '../library/originals'
import type { Shoots } from '../library/shoots'
import { readRecords, type FrameRecord, type Records } from '../library/sidecars/records'
import type { Sidecar } from '../library/sidecars/xmp'
import { withinRoots } from '../library/roots'
import { toProblem } from '../problem'
import type { Activity } from './activity'
import { cameInStays, importFiles, picturesIn, readableSidecar } from './importFolder'
import { IdSchema } from '@dunkelkammer/contract'
import { z } from 'zod'
import { defineKind, type JobOutcome, type JobReport } from './kinds'

/** What a library is built up from again. */
export interface RebuildServices {
  intake: Intake
  shoots: Shoots
  folder: LibraryFolder
  activity: Activity
  originals: Pick<Originals, 'unknown'>
}

/** What becomes of the files: copied, left where they are, or found in the library's own folder. */
const KEEPING = ['copy', 'in place', 'library'] as const
type Keeping = (typeof KEEPING)[number]

export const RebuildOrderSchema = z.object({
  /** A folder, checked to lie under the roots; the library's own where missing. */
  path: z.string().optional(),
  keeping: z.enum(KEEPING),
  /** Where files go whose sidecar names no shoot. */
  shootId: IdSchema.optional(),
})

export const rebuildKind = (services: RebuildServices & { roots: readonly string[] }) =>
  defineKind<z.infer<typeof RebuildOrderSchema>>({
    schema: RebuildOrderSchema,
    async run({ path, keeping, shootId }, report) {
      const files =
        path === undefined
          ? (await services.originals.unknown()).map((f) => f.path)
          : await picturesIn(await withinRoots(path, services.roots))
      return rebuild(services, files, keeping, shootId, report)
    },
    cancelled: cameInStays,
  })

const nothing = () => undefined

/** What a sidecar says of developments, nothing where that cannot be read. */
function recordsOf(sidecar: Sidecar | undefined, problem: (sentence: string) => void): Records | undefined {
  if (sidecar?.development === undefined) return undefined
  try {
    return readRecords(sidecar.development)
  } catch (error) {
    problem(toProblem(error).message)
    return undefined
  }
}

/**
 * Makes the shoots that the sidecars of files name, in the order in which they were made.
 * @returns whether there are files for which none is named
 */
export async function makeShoots(shoots: Shoots, files: readonly string[]): Promise<boolean> {
  const named = new Map<string, FrameRecord['shoot']>()
  let unnamed = false
  for (const file of files) {
    const records = recordsOf(await readableSidecar(file, nothing), nothing)
    for (const { shoot } of records?.frames ?? []) named.set(shoot.id, shoot)
    unnamed ||= !records
  }
  const inOrder = [...named.values()].sort((a, b) => (a.created < b.created ? -1 : 1))
  for (const shoot of inOrder) shoots.ensure(shoot)
  return unnamed
}

/**
 * Puts files back into the shoots that their sidecars name, as the frames that they were: words, versions and their
 * logs.
 * @param shootId where files go whose sidecar names none
 */
async function rebuild(
  { intake, shoots, folder, activity }: RebuildServices,
  files: readonly string[],
  keeping: Keeping,
  shootId: string | undefined,
  report: JobReport,
): Promise<JobOutcome> {
  const take = (file: string): Promise<Received> =>
    keeping === 'copy'
      ? receiveFile(file, folder.work)
      : lookAt(file, keeping === 'library' ? 'library' : 'user')
  return importFiles(files, activity, report, async (file, problem) => {
    const { mtime } = await stat(file)
    const sidecar = await readableSidecar(file, problem)
    const of = recordsOf(sidecar, problem)
    const received = await take(file)
    // a sidecar may lie beside another file than the one that it was written for
    const records = of?.frames.filter((f) => f.original === received.hash) ?? []
    const fileDate = mtime.toISOString()
    if (!of || records.length === 0) {
      const into = shootId ?? of?.frames[0].shoot.id
      if (into === undefined) {
        await discard(received)
        throw new Error('no shoot for a file without a record')
      }
      return intake.add(into, { fileName: basename(file), fileDate, sidecar }, received)
    }
    let first: Added | undefined
    for (const [i, record] of records.entries()) {
      const { id } = shoots.ensure(record.shoot)
      const fileName = keeping === 'library' ? record.fileName : basename(file)
      // the words in the open are of the frame that was written last
      const arrival = { fileName, fileDate, ...(i === 0 && { sidecar }), kept: { record, of } }
      const added = await intake.add(id, arrival, first ? await take(file) : received)
      first ??= added
    }
    return first!
  })
}
