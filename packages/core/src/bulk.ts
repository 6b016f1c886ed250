import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { z } from 'zod'

/**
 * Bulk data of settings, such as painted paths: it lies apart, and settings hold its name. The name is the hash of the
 * content, so what bears a name never changes.
 */
export const BulkNameSchema = z.string().regex(/^sha256-[0-9a-f]{64}$/, 'This is no name of bulk data.')

/** Most bytes of one piece of bulk data. */
export const MOST_BULK = 16 << 20

/** The name of some bytes. */
export const bulkName = (bytes: Uint8Array): string => `sha256-${bytesToHex(sha256(bytes))}`

/** The names of bulk data in settings or changes of them. */
export function bulkNamesIn(value: unknown, found = new Set<string>()): Set<string> {
  if (typeof value === 'string') {
    if (value.startsWith('sha256-') && BulkNameSchema.safeParse(value).success) found.add(value)
  } else if (typeof value === 'object' && value !== null)
    for (const part of Object.values(value)) bulkNamesIn(part, found)
  return found
}
