import { ChangeSchema, StoredDevelopmentSchema, STEP_IDS } from '@dunkelkammer/core'
import { z } from 'zod'
import { IdSchema, NameSchema } from './basics'

/** Versions of a frame, and the log of what was done to each. */

/** Longest sentence that the log keeps of an entry; longer ones are cut. */
export const MAX_LABEL = 200
const LabelSchema = z.string().transform((text) => text.slice(0, MAX_LABEL))
/** Where in a log something is: an entry, or nothing for the untouched frame. */
export const LogPlaceSchema = IdSchema.nullable()
const TimeSchema = z.iso.datetime()

/** The application of a preset that an entry belongs to. */
export const PresetMarkSchema = z.strictObject({
  application: IdSchema,
  preset: z.string().max(40).optional(),
  name: z.string().max(80),
  strength: z.number().min(0).max(1.5),
  from: LogPlaceSchema,
})

export const LogEntrySchema = z.object({
  id: IdSchema,
  /** Counts the operations of a version in the order in which they came. */
  number: z.number().int(),
  parent: LogPlaceSchema,
  label: z.string(),
  changes: z.array(ChangeSchema).readonly(),
  time: TimeSchema,
  /** Entries of one gesture follow each other and count as one. */
  gesture: IdSchema.optional(),
  preset: PresetMarkSchema.optional(),
  /** What the user calls it. */
  name: z.string().optional(),
})
export type LogEntry = z.infer<typeof LogEntrySchema>

const ChangeOperationSchema = z.strictObject({
  kind: z.literal('change'),
  id: IdSchema,
  parent: LogPlaceSchema,
  label: LabelSchema,
  // the steps and the areas of interest, each once
  changes: z
    .array(ChangeSchema)
    .min(1)
    .max(STEP_IDS.length + 1)
    .readonly(),
  time: TimeSchema,
  gesture: IdSchema.optional(),
  preset: PresetMarkSchema.optional(),
})
const GoOperationSchema = z.strictObject({
  kind: z.literal('go'),
  id: IdSchema,
  to: LogPlaceSchema,
  tip: LogPlaceSchema,
})
const NameOperationSchema = z.strictObject({
  kind: z.literal('name'),
  id: IdSchema,
  entry: IdSchema,
  name: NameSchema.nullable(),
})
export const OperationSchema = z.discriminatedUnion('kind', [
  ChangeOperationSchema,
  GoOperationSchema,
  NameOperationSchema,
])

/** Most operations that are sent at once. */
export const MAX_OPERATIONS = 200
export const AppendSchema = z.strictObject({
  /** Where the version stood when the first of them was made. */
  base: LogPlaceSchema,
  operations: z.array(OperationSchema).min(1).max(MAX_OPERATIONS),
})
export type Append = z.output<typeof AppendSchema>

export const MAX_PINS = 8
const share = z.number().min(0).max(1)
/** What is only looked at: it changes no picture and is in no history. */
export const VersionViewSchema = z.strictObject({
  /** Places whose readings are kept in sight, in sensor coordinates, 1 the long edge. */
  pins: z
    .array(z.object({ x: share, y: share }))
    .max(MAX_PINS)
    .default([]),
})
export type VersionView = z.infer<typeof VersionViewSchema>
export type Pin = VersionView['pins'][number]

/** Entries that come with a version: the way back from where it stands, and the way forward. */
export const NEAR_ENTRIES = 100

export const VersionSchema = z.object({
  id: IdSchema,
  frameId: IdSchema,
  name: z.string(),
  /** Counts the operations; a thumbnail is of one of them. */
  revision: z.number(),
  /** The untouched frame. */
  begun: StoredDevelopmentSchema,
  /** How that is called. */
  begunAs: z.string(),
  /** Where it stands. */
  head: LogPlaceSchema,
  /** The end of the branch that it stands on. */
  tip: LogPlaceSchema,
  /** The settings where it stands. */
  development: StoredDevelopmentSchema,
  entries: z.array(LogEntrySchema),
  view: VersionViewSchema,
})
export type Version = z.infer<typeof VersionSchema>

/**
 * What became of operations. "appended": they are where the version stands. "joined": another window had changed other
 * parts, both count now. "aside": another window had changed the same; they are in the log, on a branch of their own.
 */
export const AppendedSchema = z.discriminatedUnion('outcome', [
  z.object({ outcome: z.literal('appended'), revision: z.number() }),
  z.object({ outcome: z.literal('joined'), version: VersionSchema }),
  z.object({
    outcome: z.literal('aside'),
    version: VersionSchema,
    /** The last of them that is a change, where one is. */
    last: LogPlaceSchema,
  }),
])
export type Appended = z.infer<typeof AppendedSchema>

/** A part of a version's log, the newest first. */
export const LogPageSchema = z.object({
  entries: z.array(LogEntrySchema),
  /** Whether there are earlier ones. */
  more: z.boolean(),
})
export type LogPage = z.infer<typeof LogPageSchema>

/** A version's settings at one of its entries, and the entries right behind it. */
export const LogStateSchema = z.object({
  development: StoredDevelopmentSchema,
  entries: z.array(LogEntrySchema),
})

/** A new version: from the untouched frame, or from a place in another one's log. */
export const NewVersionSchema = z.strictObject({
  /** The version that it begins with; the untouched frame where missing. */
  from: IdSchema.optional(),
  /** An entry of that version; where it stands, where missing. */
  entry: LogPlaceSchema.optional(),
  name: NameSchema.optional(),
})
export type NewVersion = z.infer<typeof NewVersionSchema>

/** What is said of a version beside its settings; what is not named stays. */
export const VersionChangeSchema = z.strictObject({ name: NameSchema.optional() })
