import { AtImportSchema, IdSchema } from '@dunkelkammer/contract'
import { hasKnownEnding } from '@dunkelkammer/engine'
import { open, readdir, stat } from 'node:fs/promises'
import { basename, join } from 'node:path'
import type { Added, Intake } from '../library/intake'
import type { LibraryFolder } from '../library/folder'
import { lookAt, receiveFile, type Received } from '../library/receive'
import { withinRoots } from '../library/roots'
import { sidecarOf } from '../library/sidecars/files'
import type { Sidecar } from '../library/sidecars/xmp'
import { z } from 'zod'
import { HttpProblem, isDiskFull, toProblem } from '../problem'
import { AWAITED_SHARE, type Activity } from './activity'
import { defineKind, type JobOutcome, type JobReport } from './kinds'

const MAX_DEPTH = 8
const MAX_FILES = 100000

/** What to bring in, and how. */
export const ImportOrderSchema = z.object({
  shootId: IdSchema,
  /** A folder or a single file, checked to lie under the roots. */
  path: z.string(),
  keep: z.enum(['copy', 'in place']),
  text: AtImportSchema,
})
type ImportOrder = z.infer<typeof ImportOrderSchema>

/** What importing works with. */
export interface ImportServices {
  intake: Intake
  folder: LibraryFolder
  activity: Activity
}

/** Folders that may be brought in from. */
interface Roots {
  roots: readonly string[]
}

export const importKind = ({ intake, folder, activity, roots }: ImportServices & Roots) =>
  defineKind<ImportOrder>({
    schema: ImportOrderSchema,
    // a server may be started again with other roots
    run: async (order, report) =>
      importFolder(
        ...([intake, folder, activity] as const),
        { ...order, path: await withinRoots(order.path, roots) },
        report,
      ),
    cancelled: cameInStays,
  })

/** What is said of files that come in where that was cancelled. */
export const cameInStays = (said: string): string =>
  said ? `Cancelled at ${said.split(',')[0]}. What had come in stays.` : 'Cancelled.'

/** Pictures of a folder and those below it, by name; of a single file, itself. Links are not followed. */
export async function picturesIn(path: string, depth = 0): Promise<string[]> {
  const at = await stat(path)
  if (at.isFile()) return [path]
  if (!at.isDirectory()) throw new HttpProblem(422, 'not-raw', 'This is neither a file nor a folder.')
  const entries = await readdir(path, { withFileTypes: true })
  const here = entries.filter((e) => e.isFile() && hasKnownEnding(e.name) && !e.name.startsWith('.'))
  const found = here.map((e) => join(path, e.name)).sort()
  if (depth < MAX_DEPTH)
    for (const e of entries.filter((e) => e.isDirectory() && !e.name.startsWith('.')))
      found.push(...(await picturesIn(join(path, e.name), depth + 1)))
  if (found.length > MAX_FILES)
    throw new HttpProblem(422, 'too-large', `There are more than ${MAX_FILES} pictures in that folder.`)
  return found
}

/** A time that is left: "28 s", "3 min". */
export const inSeconds = (s: number) => (s < 90 ? `${Math.ceil(s)} s` : `${Math.ceil(s / 60)} min`)

/** "12 of 100, 3.1 a second, 28 s left". */
export function progressLine(done: number, all: number, seconds: number): string {
  const rate = done / Math.max(seconds, 0.001)
  const counted = `${done} of ${all}`
  if (done === 0 || seconds < 1) return counted
  return `${counted}, ${rate.toFixed(1)} a second, ${inSeconds((all - done) / rate)} left`
}

/** Brings the pictures of a folder into a shoot; what cannot be read is named and does not stop the rest. */
async function importFolder(
  intake: Intake,
  folder: LibraryFolder,
  activity: Activity,
  order: ImportOrder,
  report: JobReport,
): Promise<JobOutcome> {
  const files = await picturesIn(order.path)
  if (files.length === 0) return { message: 'There are no pictures of a kind that is read in that folder.' }
  const take = (file: string): Promise<Received> =>
    order.keep === 'copy' ? receiveFile(file, folder.work) : lookAt(file)
  return importFiles(files, activity, report, async (file, problem) => {
    const { mtime } = await stat(file)
    // opened once before all else: a card that was pulled out is told by that
    await (await open(file)).close()
    const sidecar = await readableSidecar(file, problem)
    const arrival = { fileName: basename(file), fileDate: mtime.toISOString(), text: order.text, sidecar }
    return intake.add(order.shootId, arrival, await take(file))
  })
}

/** What the sidecar of a file says; one that cannot be read is told and passed over. */
export async function readableSidecar(
  file: string,
  problem: (sentence: string) => void,
): Promise<Sidecar | undefined> {
  try {
    return await sidecarOf(file)
  } catch (error) {
    problem(`its sidecar was left out. ${toProblem(error).message}`)
    return undefined
  }
}

/** Takes in files one after the other; one that fails is named and does not stop the rest, but a full disk does. */
export async function importFiles(
  files: readonly string[],
  activity: Activity,
  report: JobReport,
  take: (file: string, problem: (text: string) => void) => Promise<Added>,
): Promise<JobOutcome> {
  const began = Date.now()
  let added = 0
  let known = 0
  let restored = 0
  for (const [i, file] of files.entries()) {
    report.signal.throwIfAborted()
    report.progress(i / files.length, progressLine(i, files.length, (Date.now() - began) / 1000))
    const since = performance.now()
    const problem = (text: string) => report.problem(`${basename(file)}: ${text}`)
    try {
      const result = await take(file, problem)
      result.problems.forEach(problem)
      if (result.restored) restored++
      if (result.known) known++
      else added++
    } catch (error) {
      report.signal.throwIfAborted()
      if (isDiskFull(error)) throw error
      const { code, message } = toProblem(error)
      const lost = code === 'enoent' || code === 'eio' || code === 'enxio'
      problem(lost ? 'It is no longer there; was the card taken out?' : message)
    }
    await activity.stepBack(performance.now() - since, report.signal, AWAITED_SHARE)
  }
  const parts = [`${added} ${added === 1 ? 'frame' : 'frames'} brought in`]
  if (known) parts.push(`${known} there already`)
  if (restored)
    parts.push(`${restored} missing or damaged ${restored === 1 ? 'original' : 'originals'} put back`)
  if (added + known < files.length) parts.push(`${files.length - added - known} not readable`)
  return { message: `${parts.join(', ')}.` }
}
