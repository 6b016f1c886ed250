import { writeWhole } from '@dunkelkammer/engine/encode'
import { strToU8, zipSync } from 'fflate'
import { basename, dirname, extname, join } from 'node:path'
import { toProblem } from '../problem'
import type { Frames } from './frames'
import { textOf, type FrameRow } from './rows'
import { writeXmp } from './xmp'

const xmpOf = (row: FrameRow) => writeXmp(textOf(row), row.rating, row.mark)
const sidecarName = (fileName: string) => `${basename(fileName, extname(fileName))}.xmp`

/** Writes the sidecars of frames whose originals stay where they are, beside them. */
export async function writeSidecars(
  frames: Frames,
  ids: readonly string[],
): Promise<{ beside: number; problems: string[] }> {
  let beside = 0
  const problems: string[] = []
  for (const row of frames.rows(ids)) {
    const { path, inPlace } = frames.original(row.id)
    if (!inPlace) continue
    try {
      await writeWhole(join(dirname(path), sidecarName(basename(path))), strToU8(xmpOf(row)), true)
      beside++
    } catch (error) {
      problems.push(`${row.fileName}: ${toProblem(error).message}`)
    }
  }
  return { beside, problems }
}

/** Sidecars of frames in one archive, to be laid beside copies of the originals; a name that comes twice is numbered. */
export function zippedSidecars(frames: Frames, ids: readonly string[]): Uint8Array {
  const files: Record<string, Uint8Array> = {}
  for (const row of frames.rows(ids)) {
    const name = sidecarName(row.fileName.replace(/[/\\\p{Cc}]/gu, '_'))
    let free = name
    for (let n = 2; files[free]; n++) free = name.replace(/\.xmp$/, ` (${n}).xmp`)
    files[free] = strToU8(xmpOf(row))
  }
  return zipSync(files, { level: 6 })
}
