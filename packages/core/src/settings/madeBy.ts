import { strFromU8, strToU8, unzlibSync, zlibSync } from 'fflate'
import { z } from 'zod'
import { fromBase64, toBase64 } from '../base64'
import { BulkNameSchema, bulkName, bulkNamesIn, MOST_BULK } from '../bulk'
import { readDevelopment, type Development } from './development'

/** How a delivered file was made, as a property of ours in its XMP holds it: JSON, deflated, in base64. */

const KIND = 'dunkelkammer-made-by'
const FORMAT = 1
/** Most characters of the property: with everything else it has to fit into one segment of a JPEG. */
export const MOST_MADE_BY = 48_000
/** Most bytes that it may unfold to. */
const MOST_UNFOLDED = 32 << 20

/** Where the property lies in a file's XMP, which stands in the file as it is (ISO 16684-3, 5.3). */
export const MADE_BY = { open: '<dk:madeBy>', close: '</dk:madeBy>' } as const

export interface MadeBy {
  delivery: string
  version: string
  development: Development
  /** What the settings speak of by name. */
  bulk: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
}

const MadeBySchema = z.object({
  kind: z.literal(KIND),
  format: z.literal(FORMAT),
  delivery: z.string().max(300),
  version: z.string().max(300),
  settings: z.unknown(),
  bulk: z.record(BulkNameSchema, z.base64()),
})

/**
 * How a file was made, as its XMP is to hold it.
 * @param find gives what settings speak of by name
 * @returns nothing where it is too much for a file: much that was painted
 */
export function writeMadeBy(
  { delivery, version, development }: Omit<MadeBy, 'bulk'>,
  find: (name: string) => Uint8Array | undefined,
): string | undefined {
  const bulk = Object.fromEntries(
    [...bulkNamesIn(development)].flatMap((name) => {
      const bytes = find(name)
      return bytes ? [[name, toBase64(bytes)]] : []
    }),
  )
  const record = { kind: KIND, format: FORMAT, delivery, version, settings: development, bulk }
  const text = toBase64(zlibSync(strToU8(JSON.stringify(record)), { level: 9 }))
  return text.length > MOST_MADE_BY ? undefined : text
}

/** How a file was made. @returns nothing where that is not known here */
export function readMadeBy(text: string): MadeBy | undefined {
  if (text.length > MOST_MADE_BY) return undefined
  try {
    const unfolded = unzlibSync(fromBase64(text), { out: new Uint8Array(MOST_UNFOLDED) })
    const { delivery, version, settings, bulk } = MadeBySchema.parse(JSON.parse(strFromU8(unfolded)))
    const pieces = Object.entries(bulk).map(([name, piece]) => [name, fromBase64(piece)] as const)
    // what bears a name is what it was named for
    if (pieces.some(([name, bytes]) => bytes.length > MOST_BULK || bulkName(bytes) !== name)) return undefined
    return { delivery, version, development: readDevelopment(settings), bulk: new Map(pieces) }
  } catch {
    return undefined
  }
}

/** How a file was made, looked for in its bytes. @returns nothing where it does not say */
export function madeByIn(file: Uint8Array): MadeBy | undefined {
  const { open, close } = MADE_BY
  const start = find(file, open, 0)
  if (start < 0) return undefined
  const from = start + open.length
  const end = find(file, close, from, from + MOST_MADE_BY + close.length)
  return end < 0 ? undefined : readMadeBy(strFromU8(file.subarray(from, end), true))
}

/** Where bytes of a text stand first. */
function find(file: Uint8Array, text: string, from: number, to = file.length): number {
  const bytes = strToU8(text)
  for (let i = file.indexOf(bytes[0], from); i >= 0 && i < to; i = file.indexOf(bytes[0], i + 1))
    if (bytes.every((b, k) => file[i + k] === b)) return i
  return -1
}
