import { MOST_PRESET, PresetError, readPresetText, type ReadPreset } from '@dunkelkammer/core'
import { strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate'
import { HttpProblem } from '../problem'

/** Most files of an archive, and most bytes of all of them as they come out of it. */
const MOST_FILES = 1000
const MOST_BYTES = 32 << 20
/** Most bytes of a file that is sent. */
export const MOST_SENT = 32 << 20
/** Most problems that are told one by one. */
const MOST_TOLD = 20

const refused = (message: string) => new HttpProblem(422, 'unreadable', message)
const shown = (name: string) => (name.length > 60 ? `${name.slice(0, 60)}…` : name)
const isZip = (bytes: Uint8Array) => bytes[0] === 0x50 && bytes[1] === 0x4b
const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes)

/**
 * The presets of a file: one, or an archive of them. Nothing of an archive is written anywhere.
 * @throws HttpProblem with a sentence where there is none, or the archive is not a harmless one
 */
export function readPresetFiles(
  name: string,
  bytes: Uint8Array,
): { found: ReadPreset[]; problems: string[] } {
  const files = isZip(bytes) ? unzipped(name, bytes) : [[name, bytes] as const]
  const found: ReadPreset[] = []
  const problems: string[] = []
  for (const [inside, content] of files)
    try {
      found.push(readPresetText(text(content)))
    } catch (error) {
      if (!(error instanceof PresetError)) throw error
      problems.push(`${shown(inside)}: ${error.message}`)
    }
  if (found.length === 0) throw refused(problems[0] ?? `${shown(name)}: There is no preset in this archive.`)
  const more = problems.length - MOST_TOLD
  if (more > 0) problems.splice(MOST_TOLD, more, `${more} more files are no presets.`)
  return { found, problems }
}

function unzipped(name: string, bytes: Uint8Array): (readonly [string, Uint8Array])[] {
  let [files, size] = [0, 0]
  const filter = ({ name: inside, originalSize }: UnzipFileInfo) => {
    if (++files > MOST_FILES) throw refused(`${shown(name)}: An archive has at most ${MOST_FILES} presets.`)
    if (/^[/\\]|^[a-z]:|\\|(^|\/)\.\.(\/|$)|\p{Cc}/iu.test(inside))
      throw refused(`${shown(name)}: The archive holds a file that would lie outside of it.`)
    size += originalSize
    if (originalSize > MOST_PRESET || size > MOST_BYTES)
      throw refused(`${shown(name)}: What is in the archive is too large.`)
    return inside.toLowerCase().endsWith('.json')
  }
  try {
    return Object.entries(unzipSync(bytes, { filter }))
  } catch (error) {
    if (error instanceof HttpProblem) throw error
    throw refused(`${shown(name)}: The archive is damaged.`)
  }
}

/** A name for the file of a preset, without what disks do not like. */
export const fileNameOf = (name: string): string =>
  `${
    name
      .replace(/[\p{Cc}/\\:*?"<>|]/gu, ' ')
      .replace(/\s+/g, ' ')
      .replace(/^[. ]+|[. ]+$/g, '')
      .slice(0, 80) || 'Preset'
  }.json`

/** Presets as an archive, each a file of its own. */
export function zippedPresets(files: readonly { name: string; file: unknown }[]): Uint8Array {
  const entries: Record<string, Uint8Array> = {}
  for (const { name, file } of files) {
    let called = fileNameOf(name)
    for (let n = 2; called in entries; n++) called = fileNameOf(`${name} ${n}`)
    entries[called] = strToU8(JSON.stringify(file, null, 2))
  }
  return zipSync(entries)
}
