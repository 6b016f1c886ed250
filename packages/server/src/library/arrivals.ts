import type { AtImport } from '@dunkelkammer/contract'
import { extname } from 'node:path'
import { toProblem } from '../problem'
import { readRecords, type FrameRecord, type Records } from './sidecars/records'
import type { Sidecar } from './sidecars/xmp'
import type { Beginning } from './versions'

/** A file that comes in, beside its bytes. */
export interface Arrival {
  fileName: string
  /** When the file was last changed. */
  fileDate?: string
  text?: AtImport
  sidecar?: Sidecar
  /** What is known of it, where more is to be put back than its words. */
  kept?: Kept
  /** What it begins with; by the rules for new frames where missing. */
  begins?: Beginning
  /** The stack that it is put into. */
  stack?: string
}

/** One of the frames that a sidecar speaks of. */
export interface Kept {
  record: FrameRecord
  of: Records
}

/** The ending of a name where it is a plain one. */
export function safeEnding(name: string): string {
  const ending = extname(name).toLowerCase()
  return /^\.[a-z0-9]{1,5}$/.test(ending) ? ending : '.file'
}

/** The ending that an original has in the library's folder. */
export const endingOf = ({ format, fileName }: { format: string; fileName: string }): string =>
  format === 'dng' ? '.dng' : safeEnding(fileName)

/** What a sidecar says, as values of a frame's row. */
export const sidecarValues = ({ text, rating, mark }: Sidecar, more: readonly string[] = []) => ({
  ...text,
  ...(text.keywords && { keywords: [...new Set([...text.keywords, ...more])].slice(0, 200) }),
  ...(rating !== undefined && { rating }),
  ...(mark !== undefined && { mark }),
})

/**
 * What the sidecar of a file knows of its frame, where it was written for that file: by its content, or by its name
 * where other programs have written into it since.
 * @param problem called with a sentence where it cannot be read
 */
export function keptFor(
  { sidecar, fileName }: Arrival,
  hash: string,
  problem: (sentence: string) => void,
): Kept | undefined {
  if (sidecar?.development === undefined) return undefined
  try {
    const of = readRecords(sidecar.development)
    const byContent = of.frames.find((f) => f.original === hash)
    const record = byContent ?? of.frames.find((f) => f.fileName.toLowerCase() === fileName.toLowerCase())
    return record && { record, of }
  } catch (error) {
    problem(toProblem(error).message)
    return undefined
  }
}

/** Whether anything was done to any of its versions. */
export const isDeveloped = ({ record }: Kept): boolean =>
  record.versions.some((v) => {
    const { entries, settings } = (v ?? {}) as { entries?: unknown; settings?: unknown }
    return settings !== undefined || (Array.isArray(entries) && entries.length > 0)
  })

/** What a sidecar knows of a frame, as values of its row. Words that other programs have written since count. */
export function keptValues({ record }: Kept, { sidecar, text }: Arrival) {
  const { rating, mark, stack = null, delivered = null, fileDate = null } = record
  const { deliveredBy = [], deliveredAs = null } = record
  const words = sidecarValues(sidecar ?? { text: {} }, text?.keywords)
  return { ...record.text, rating, mark, stack, delivered, deliveredBy, deliveredAs, fileDate, ...words }
}
