import { writeWhole } from '@dunkelkammer/engine/encode'
import { hasKnownEnding } from '@dunkelkammer/engine'
import { strToU8, zipSync } from 'fflate'
import { lstat, readdir, readFile } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import { HttpProblem, toProblem } from '../problem'
import { editXmp } from './editXmp'
import type { Frames } from './frames'
import { textOf } from './rows'
import { MAX_XMP, readXmp, writeXmp, type Sidecar } from './xmp'

const bareName = (fileName: string) => basename(fileName, extname(fileName))

/** Names that the sidecar of a file may have: that of its whole name counts before that of its name without ending. */
const namesFor = (file: string): string[] => {
  const bare = join(dirname(file), bareName(file))
  return [`${file}.xmp`, `${file}.XMP`, `${bare}.xmp`, `${bare}.XMP`]
}

/** Text of a sidecar, nothing where there is none; a pipe or a device of that name would never end. */
async function textIn(path: string): Promise<string | undefined> {
  const at = await lstat(path).catch(() => undefined)
  if (!at?.isFile()) return undefined
  if (at.size > MAX_XMP) throw new HttpProblem(422, 'too-large', 'This sidecar is larger than 1 MB.')
  return readFile(path, 'utf8')
}

/** What the sidecar of a file says. @throws HttpProblem where there is one that cannot be read */
export async function sidecarOf(file: string): Promise<Sidecar | undefined> {
  for (const path of namesFor(file)) {
    const text = await textIn(path)
    if (text !== undefined) return readXmp(text)
  }
  return undefined
}

/** Where the sidecar of a file is written: two pictures that differ in their ending alone have one each. */
async function placeFor(file: string): Promise<string> {
  const [whole, wholeLarge, bare, bareLarge] = namesFor(file)
  const there = new Set(await readdir(dirname(file)))
  const has = (path: string) => there.has(basename(path))
  if (has(whole) || has(wholeLarge)) return has(whole) ? whole : wholeLarge
  const shared = [...there].some(
    (n) => n !== basename(file) && bareName(n) === bareName(file) && hasKnownEnding(n),
  )
  if (shared) return whole
  return has(bareLarge) && !has(bare) ? bareLarge : bare
}

/**
 * Writes the sidecars of frames whose originals stay where they are, beside them; what one of them says already and
 * we do not know stays in it.
 */
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
      const target = await placeFor(path)
      const before = await textIn(target)
      const xmp = editXmp(before ?? '', textOf(row), row.rating, row.mark)
      if (xmp !== before) await writeWhole(target, strToU8(xmp), { replace: before !== undefined })
      beside++
    } catch (error) {
      problems.push(`${row.fileName}: ${toProblem(error).message}`)
    }
  }
  return { beside, problems }
}

/**
 * Sidecars of frames in one archive, to be laid beside copies of the originals; frames that differ in their ending
 * alone have one each, a name that still comes twice is numbered.
 */
export function zippedSidecars(frames: Frames, ids: readonly string[]): Uint8Array {
  const rows = frames.rows(ids).map((row) => ({ row, name: row.fileName.replace(/[/\\\p{Cc}]/gu, '_') }))
  const files: Record<string, Uint8Array> = {}
  for (const { row, name } of rows) {
    const shared = rows.some((r) => r.name !== name && bareName(r.name) === bareName(name))
    const own = shared ? name : bareName(name)
    let free = `${own}.xmp`
    for (let n = 2; files[free]; n++) free = `${own} (${n}).xmp`
    files[free] = strToU8(writeXmp(textOf(row), row.rating, row.mark))
  }
  return zipSync(files, { level: 6 })
}
