import { hasKnownEnding } from '@dunkelkammer/engine'
import { lstat, readdir, readFile } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import { HttpProblem } from '../../problem'
import { MAX_XMP, readXmp, type Sidecar } from './xmp'

/** Where sidecars lie on the disk. */

export const bareName = (fileName: string) => basename(fileName, extname(fileName))

/** Names that the sidecar of a file may have: that of its whole name counts before that of its name without ending. */
const namesFor = (file: string): string[] => {
  const bare = join(dirname(file), bareName(file))
  return [`${file}.xmp`, `${file}.XMP`, `${bare}.xmp`, `${bare}.XMP`]
}

/** Text of a sidecar, nothing where there is none; a pipe or a device of that name would never end. */
export async function textIn(path: string): Promise<string | undefined> {
  const at = await lstat(path).catch(() => undefined)
  if (!at?.isFile()) return undefined
  if (at.size > MAX_XMP)
    throw new HttpProblem(422, 'too-large', `This sidecar is larger than ${MAX_XMP >> 20} MB.`)
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
export async function placeFor(file: string): Promise<string> {
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

/** Where the sidecar of an original in the library's folder lies. */
export const placeInLibrary = (original: string): string => `${original}.xmp`
