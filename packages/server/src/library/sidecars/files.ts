import { sidecarAmong, sidecarPlace } from '@dunkelkammer/engine'
import { decodedXml, encodingOf, type XmlEncoding } from '@dunkelkammer/engine/words'
import { lstat, readdir, readFile } from 'node:fs/promises'
import { basename, dirname, extname, join } from 'node:path'
import { HttpProblem } from '../../problem'
import { MAX_XMP, readXmp, type Sidecar } from './xmp'

/** Where sidecars lie on the disk. */

export const bareName = (fileName: string) => basename(fileName, extname(fileName))

/** A sidecar's text, and the encoding that it lies in. */
export interface SidecarText {
  text: string
  encoding: XmlEncoding
}

/** Text of a sidecar, nothing where there is none; a pipe or a device of that name would never end. */
export async function textIn(path: string): Promise<SidecarText | undefined> {
  const at = await lstat(path).catch(() => undefined)
  if (!at?.isFile()) return undefined
  if (at.size > MAX_XMP)
    throw new HttpProblem(422, 'too-large', `This sidecar is larger than ${MAX_XMP >> 20} MB.`)
  const bytes = await readFile(path)
  return { text: decodedXml(bytes), encoding: encodingOf(bytes) }
}

/** What the sidecar of a file says. @throws HttpProblem where there is one that cannot be read */
export async function sidecarOf(file: string): Promise<Sidecar | undefined> {
  const folder = dirname(file)
  const bare = join(folder, bareName(file))
  for (const path of [file, bare].flatMap((name) => [`${name}.xmp`, `${name}.XMP`])) {
    const found = await textIn(path)
    if (!found) continue
    // whose it is the other files tell; a folder is large, and not read for those that have none
    const own = sidecarAmong(basename(file), await readdir(folder))
    return own === basename(path) ? readXmp(found.text) : undefined
  }
  return undefined
}

/** Where the sidecar of a file is written: two pictures that differ in their ending alone have one each. */
export const placeFor = async (file: string): Promise<string> =>
  join(dirname(file), sidecarPlace(basename(file), await readdir(dirname(file))))

/** Where the sidecar of an original in the library's folder lies. */
export const placeInLibrary = (original: string): string => `${original}.xmp`
