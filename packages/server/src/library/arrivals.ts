import type { AtImport } from '@dunkelkammer/contract'
import { extname } from 'node:path'
import type { Sidecar } from './xmp'

/** A file that comes in, beside its bytes. */
export interface Arrival {
  fileName: string
  /** When the file was last changed. */
  fileDate?: string
  text?: AtImport
  sidecar?: Sidecar
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
