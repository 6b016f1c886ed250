import type { AtImport } from '@dunkelkammer/contract'
import { hasKnownEnding } from '@dunkelkammer/engine'
import { existsSync } from 'node:fs'
import { open, readdir, readFile, stat } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import type { Frames } from '../library/frames'
import type { LibraryFolder } from '../library/folder'
import { MAX_XMP, readXmp, type Sidecar } from '../library/xmp'
import { HttpProblem, toProblem } from '../problem'
import type { Activity } from './activity'
import type { JobOutcome, JobReport } from './queue'

const MAX_DEPTH = 8
const MAX_FILES = 100000

/** What to bring in, and how. */
export interface ImportOrder {
  shootId: string
  /** A folder or a single file, checked to lie under the roots. */
  path: string
  keep: 'copy' | 'in place'
  text: AtImport
}

/** Pictures of a folder and those below it, by name; of a single file, itself. Links are not followed. */
async function picturesIn(path: string, depth = 0): Promise<string[]> {
  if ((await stat(path)).isFile()) return [path]
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

/** The sidecar of a file: of its whole name, or of its name without the ending. */
async function sidecarOf(file: string): Promise<Sidecar | undefined> {
  const bare = join(dirname(file), basename(file, extname(file)))
  for (const path of [`${file}.xmp`, `${bare}.xmp`, `${bare}.XMP`])
    if (existsSync(path) && (await stat(path)).size <= MAX_XMP) return readXmp(await readFile(path, 'utf8'))
  return undefined
}

const inSeconds = (s: number) => (s < 90 ? `${Math.ceil(s)} s` : `${Math.ceil(s / 60)} min`)

/** "12 of 100, 3.1 a second, 28 s left". */
export function progressLine(done: number, all: number, seconds: number): string {
  const rate = done / Math.max(seconds, 0.001)
  const counted = `${done} of ${all}`
  if (done === 0 || seconds < 1) return counted
  return `${counted}, ${rate.toFixed(1)} a second, ${inSeconds((all - done) / rate)} left`
}

/** Brings the pictures of a folder into a shoot; what cannot be read is named and does not stop the rest. */
export async function importFolder(
  frames: Frames,
  folder: LibraryFolder,
  activity: Activity,
  order: ImportOrder,
  report: JobReport,
): Promise<JobOutcome> {
  const files = await picturesIn(order.path)
  const began = Date.now()
  let added = 0
  let known = 0
  for (const [i, file] of files.entries()) {
    report.signal.throwIfAborted()
    report.progress(i / files.length, progressLine(i, files.length, (Date.now() - began) / 1000))
    const name = basename(file)
    const since = performance.now()
    try {
      const { mtime } = await stat(file)
      // opened once before all else: a card that was pulled out is told by that
      await (await open(file)).close()
      let sidecar: Sidecar | undefined
      try {
        sidecar = await sidecarOf(file)
      } catch (error) {
        report.problem(`${name}: its sidecar was left out. ${toProblem(error).message}`)
      }
      const received = order.keep === 'copy' ? await folder.receiveFile(file) : await folder.lookAt(file)
      const arrival = { fileName: name, fileDate: mtime.toISOString(), text: order.text, sidecar }
      const result = await frames.add(order.shootId, arrival, received)
      if (result.known) known++
      else added++
    } catch (error) {
      report.signal.throwIfAborted()
      const problem = toProblem(error)
      if (problem.code === 'enospc') throw error
      const lost = problem.code === 'enoent' || problem.code === 'eio'
      report.problem(`${name}: ${lost ? 'It is no longer there; was the card taken out?' : problem.message}`)
    }
    await activity.stepBack(performance.now() - since, report.signal)
  }
  const parts = [`${added} ${added === 1 ? 'frame' : 'frames'} brought in`]
  if (known) parts.push(`${known} there already`)
  if (added + known < files.length) parts.push(`${files.length - added - known} not readable`)
  if (files.length === 0) return { message: 'There are no pictures of a kind that is read in that folder.' }
  return { message: `${parts.join(', ')}.` }
}
