import { readdir, stat } from 'node:fs/promises'
import { basename, join } from 'node:path'
import type { Frames } from '../library/frames'
import type { LibraryFolder } from '../library/folder'
import { toProblem } from '../problem'
import type { JobOutcome, JobReport } from './queue'

const ENDING = /\.dng$/i

/** Raw files of a folder, by name; of a single file, itself. Links are not followed out of it. */
async function rawFiles(path: string): Promise<string[]> {
  if ((await stat(path)).isFile()) return [path]
  const entries = await readdir(path, { withFileTypes: true })
  const files = entries.filter((e) => e.isFile() && ENDING.test(e.name))
  return files.map((e) => join(path, e.name)).sort()
}

/** Brings the raw files of a folder into a shoot; what cannot be read is named and does not stop the rest. */
export async function importFolder(
  frames: Frames,
  folder: LibraryFolder,
  shootId: string,
  path: string,
  report: JobReport,
): Promise<JobOutcome> {
  const files = await rawFiles(path)
  let added = 0
  let known = 0
  for (const [i, file] of files.entries()) {
    report.signal.throwIfAborted()
    try {
      const result = await frames.add(shootId, basename(file), await folder.receiveFile(file))
      if (result.known) known++
      else added++
    } catch (error) {
      const problem = toProblem(error)
      if (problem.code === 'enospc' || problem.code === 'not-found') throw error
      report.problem(`${basename(file)}: ${problem.message}`)
    }
    report.progress((i + 1) / files.length, `${i + 1} of ${files.length} files`)
  }
  const parts = [`${added} ${added === 1 ? 'frame' : 'frames'} brought in`]
  if (known) parts.push(`${known} there already`)
  if (added + known < files.length) parts.push(`${files.length - added - known} not readable`)
  if (files.length === 0) return { message: 'There are no DNG files in that folder.' }
  return { message: `${parts.join(', ')}.` }
}
