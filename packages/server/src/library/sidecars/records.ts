import {
  AtImportSchema,
  IdSchema,
  LogEntrySchema,
  LogPlaceSchema,
  MarkSchema,
  NameSchema,
  RatingSchema,
  TextSchema,
  VersionViewSchema,
} from '@dunkelkammer/contract'
import { BulkNameSchema, bulkNamesIn, LensProfileSchema, StoredDevelopmentSchema } from '@dunkelkammer/core'
import { z } from 'zod'
import { HttpProblem } from '../../problem'

/** Developments as a sidecar carries them: readable JSON in a property of our own. */

const KIND = 'dunkelkammer-development'
const FORMAT = 1
const MOST_VERSIONS = 200
const MOST_ENTRIES = 50000
const MOST_FRAMES = 100

const time = z.iso.datetime()

/** A version of a frame, with the log of what was done to it. */
export const KeptVersionSchema = z.object({
  id: IdSchema,
  name: NameSchema,
  /** What the frame began with; nothing but the base rendering where missing. */
  begun: StoredDevelopmentSchema.optional(),
  begunAs: z.string().max(300),
  head: LogPlaceSchema,
  tip: LogPlaceSchema,
  /** The settings where it stands; as begun where missing. */
  settings: StoredDevelopmentSchema.optional(),
  entries: z.array(LogEntrySchema).max(MOST_ENTRIES),
  view: VersionViewSchema.catch({ pins: [] }),
  revision: z.number().int().min(0),
  changed: time,
  deleted: time.optional(),
})
export type KeptVersion = z.output<typeof KeptVersionSchema>

/** All that a library knows of a frame and cannot be read from its file. */
const FrameRecordSchema = z.object({
  id: IdSchema,
  fileName: z.string().min(1).max(300),
  /** SHA-256 of the original. */
  original: z.string().regex(/^[0-9a-f]{64}$/),
  fileDate: time.optional(),
  rating: RatingSchema,
  mark: MarkSchema,
  text: TextSchema,
  stack: IdSchema.optional(),
  /** The version that the sheet shows; the first where missing. */
  shown: IdSchema.optional(),
  delivered: time.optional(),
  /** Names of deliveries, and what the thumbnail of the settings that were delivered is called. */
  deliveredBy: z.array(z.string().max(80)).max(1000).optional(),
  deliveredAs: z.string().max(20).optional(),
  shoot: z.object({ id: IdSchema, name: NameSchema, created: time, atImport: AtImportSchema.catch({}) }),
  /** Each as `KeptVersionSchema`, read one by one. */
  versions: z.array(z.unknown()).min(1).max(MOST_VERSIONS),
})
export type FrameRecord = z.output<typeof FrameRecordSchema>

const LensSchema = z.object({
  id: z.string().min(1).max(80),
  origin: z.enum(['imported', 'picture']),
  profile: LensProfileSchema,
})
export type KeptLens = z.output<typeof LensSchema>

const RecordsSchema = z.object({
  kind: z.literal(KIND),
  format: z.number().int().min(1),
  /** The frame that was written last comes first; one file may be a frame of several shoots. */
  frames: z.array(z.unknown()).max(MOST_FRAMES),
  /** What settings speak of by name, such as painted paths, in base64. */
  bulk: z.record(BulkNameSchema, z.base64()).default({}),
  /** Profiles of lenses that were chosen by name and do not ship. */
  lenses: z.array(z.unknown()).max(1000).default([]),
})
type Stored = z.output<typeof RecordsSchema>

/** What a sidecar says of developments. */
export interface Records {
  frames: FrameRecord[]
  bulk: ReadonlyMap<string, Uint8Array>
  lenses: KeptLens[]
}

const newer = () =>
  new HttpProblem(409, 'newer', 'The settings in its sidecar were written by a newer Dunkelkammer.')
const damaged = () => new HttpProblem(422, 'damaged', 'The settings in its sidecar are damaged.')

function stored(text: string): Stored {
  let parsed: unknown
  try {
    parsed = JSON.parse(text)
  } catch {
    throw damaged()
  }
  const result = RecordsSchema.safeParse(parsed)
  if (!result.success) throw damaged()
  if (result.data.format > FORMAT) throw newer()
  return result.data
}

const valid = <T>(schema: z.ZodType<T>, values: readonly unknown[]): T[] =>
  values.flatMap((value) => {
    const result = schema.safeParse(value)
    return result.success ? [result.data] : []
  })

/**
 * Reads the developments of a sidecar.
 * @throws HttpProblem where they are damaged or come from a newer Dunkelkammer
 */
export function readRecords(text: string): Records {
  const { frames, bulk, lenses } = stored(text)
  const found = valid(FrameRecordSchema, frames)
  if (found.length === 0) throw damaged()
  const pieces = Object.entries(bulk).map(
    ([name, bytes]) => [name, new Uint8Array(Buffer.from(bytes, 'base64'))] as const,
  )
  return { frames: found, bulk: new Map(pieces), lenses: valid(LensSchema, lenses) }
}

const idOf = (value: unknown) => (value as { id?: unknown } | null)?.id

/**
 * Writes the developments of a frame. What is there already of other frames stays, and so do versions of this one that
 * the library does not know: they may have been made elsewhere, or by a newer Dunkelkammer.
 * @param before what the sidecar holds
 * @param bulk the bytes of a name; those that are not there are left out
 * @throws HttpProblem where what is there cannot be read and would be lost
 */
export function writeRecords(
  before: string | undefined,
  own: FrameRecord,
  lenses: readonly KeptLens[],
  bulk: (name: string) => Uint8Array | undefined,
): string {
  const there: Stored =
    before === undefined ? { kind: KIND, format: FORMAT, frames: [], bulk: {}, lenses: [] } : stored(before)
  const known = new Set(own.versions.map(idOf))
  const past = there.frames.find((f) => idOf(f) === own.id) as { versions?: unknown } | undefined
  const unknown = Array.isArray(past?.versions) ? past.versions.filter((v) => !known.has(idOf(v))) : []
  const frame = { ...own, versions: [...own.versions, ...unknown].slice(0, MOST_VERSIONS) }
  const frames = [frame, ...there.frames.filter((f) => idOf(f) !== own.id)].slice(0, MOST_FRAMES)
  const spoken = [...bulkNamesIn(frames)].flatMap((name) => {
    const bytes = there.bulk[name] ?? bulk(name)
    return bytes ? [[name, typeof bytes === 'string' ? bytes : Buffer.from(bytes).toString('base64')]] : []
  })
  const carried = new Map([...there.lenses, ...lenses].map((lens) => [idOf(lens), lens]))
  const out: Partial<Record<keyof Stored, unknown>> = { kind: KIND, format: FORMAT, frames }
  if (spoken.length > 0) out.bulk = Object.fromEntries(spoken)
  if (carried.size > 0) out.lenses = [...carried.values()]
  // XML knows none of these, JSON writes them otherwise
  return JSON.stringify(out).replace(/[\u007f-\u009f\ufffe\uffff]/g, (c) => {
    return `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`
  })
}
