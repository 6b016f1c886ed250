import { fromBase64, toBase64 } from '../base64'
import { z } from 'zod'
import { bulkName, bulkNamesIn, BulkNameSchema, MOST_BULK } from '../bulk'
import { withPathsNamed } from '../mend'
import { STEP_IDS, type StepId } from '../steps'
import { STEP_VERSIONS, upgradedStep, versionOf } from '../settings'
import { PortionSchema, SomeStepsSchema, setsNothing, type Portion } from './portion'

/** Format of a preset's file. */
export const PRESET_FORMAT = 1
export const PRESET_KIND = 'dunkelkammer-preset'
/** Most bytes of the file of a preset. */
export const MOST_PRESET = 4 << 20

const text = (most: number) => z.string().trim().max(most)

/** What a preset is called, and what it is for. */
export const PresetWordsSchema = z.strictObject({
  name: text(80).min(1),
  group: text(80).default(''),
  notes: text(2000).default(''),
  /** Whether a strength other than 100 % makes sense of it. */
  scalable: z.boolean().default(true),
})

export const PresetSchema = PresetWordsSchema.extend({ portion: PortionSchema })
/** A named part of a development, to apply elsewhere. */
export type Preset = z.infer<typeof PresetSchema>

/** How far a preset is applied that is asked for at a strength: one that does not scale, wholly or not at all. */
export const appliedAt = ({ scalable }: Pick<Preset, 'scalable'>, strength: number): number =>
  scalable ? strength : strength > 0 ? 1 : 0

/** One preset as a file: readable JSON. */
export const PresetFileSchema = z.strictObject({
  kind: z.literal(PRESET_KIND),
  format: z.literal(PRESET_FORMAT),
  ...PresetWordsSchema.shape,
  /** Versions of the steps' settings, 1 where not said. */
  versions: z.partialRecord(z.enum(STEP_IDS), z.number().int().min(1)).default({}),
  ...PortionSchema.shape,
  /** What areas and patches speak of by name, such as painted paths, in base64. */
  bulk: z.record(BulkNameSchema, z.base64()).default({}),
})

type BulkData = ReadonlyMap<string, Uint8Array>

/**
 * A preset as its file holds it.
 * @param bulk what it speaks of by name; more than that is left out
 */
export function presetFile(
  { portion, ...words }: Preset,
  bulk: BulkData = new Map(),
): z.input<typeof PresetFileSchema> {
  const spoken = [...bulkNamesIn(portion)].flatMap((name) => {
    const bytes = bulk.get(name)
    return bytes ? [[name, toBase64(bytes)] as const] : []
  })
  const { steps, strength, off, nodes, areas, automatic } = portion
  const versions = Object.fromEntries(
    Object.entries(STEP_VERSIONS).filter(([id]) => steps[id as StepId] !== undefined),
  )
  return {
    ...{ kind: PRESET_KIND, format: PRESET_FORMAT, ...words, versions, steps },
    ...(Object.keys(strength).length > 0 && { strength }),
    ...(Object.keys(off).length > 0 && { off }),
    ...(nodes.length > 0 && { nodes }),
    ...(areas.length > 0 && { areas }),
    ...(automatic.length > 0 && { automatic }),
    ...(spoken.length > 0 && { bulk: Object.fromEntries(spoken) }),
  }
}

/** A file that is no preset, with a sentence that says why. */
export class PresetError extends Error {}

/** A preset that was read, and what of it is not known here, in sentences. */
export interface ReadPreset {
  preset: Preset
  leftOut: string[]
  /** What it speaks of by name. */
  bulk: BulkData
}

type Plain = Record<string, unknown>
const isPlain = (v: unknown): v is Plain => typeof v === 'object' && v !== null && !Array.isArray(v)

/** Most things that are named one by one. */
const NAMED = 8
const quoted = (name: string) => `“${name.length > 40 ? `${name.slice(0, 40)}…` : name}”`

/** Where in a file something is wrong. */
const placeOf = (path: readonly PropertyKey[]) => path.map(String).join('.').slice(0, 120)

/** What is wrong, where. */
function told({ issues: [issue] }: z.ZodError): string {
  const outside = issue.code === 'too_big' || issue.code === 'too_small'
  const what = outside ? 'This is out of range.' : issue.message.slice(0, 200).replace(/\.?$/, '.')
  return `${placeOf(issue.path) || 'The preset'}: ${what}`
}

/** A value without the parts that a schema does not know; their places are told. */
function pruned(schema: z.ZodType, value: unknown, unknown: (place: string) => void): unknown {
  const result = schema.safeParse(value)
  if (result.success) return value
  let out = value
  for (const issue of result.error.issues) {
    if (issue.code !== 'unrecognized_keys') continue
    out = withoutKeys(out, issue.path, new Set(issue.keys))
    for (const key of issue.keys) unknown(placeOf([...issue.path, key]))
  }
  return out
}

function withoutKeys(value: unknown, path: readonly PropertyKey[], keys: ReadonlySet<string>): unknown {
  if (path.length === 0)
    return isPlain(value) ? Object.fromEntries(Object.entries(value).filter(([k]) => !keys.has(k))) : value
  const [at, ...rest] = path
  if (Array.isArray(value)) return value.map((v: unknown, i) => (i === at ? withoutKeys(v, rest, keys) : v))
  return isPlain(value) ? { ...value, [at]: withoutKeys(value[String(at)], rest, keys) } : value
}

/** Steps of a file that are known here, brought up to today's versions. */
function knownSteps(steps: Plain, versions: Plain, leave: (sentence: string) => void): Plain {
  const out: Plain = {}
  for (const [id, settings] of Object.entries(steps)) {
    if (!STEP_IDS.includes(id as StepId) || id === 'areas') leave(`The step ${quoted(id)} is not known.`)
    else if (Number(versions[id] ?? 1) > versionOf(id as StepId))
      leave(`The settings of ${quoted(id)} are of a newer version.`)
    else out[id] = upgradedStep(id as StepId, settings, Number(versions[id] ?? 1))
  }
  return out
}

/** A file whose paths may be written as their places, by hand, with these named. */
function namedPaths(file: Plain, keep: (name: string, bytes: Uint8Array) => void): Plain {
  const steps = { ...(file.steps as Plain), areas: { areas: file.areas } }
  try {
    const { areas, ...rest } = (withPathsNamed({ steps }, keep) as { steps: Plain }).steps
    const list = (areas as Plain).areas
    return { ...file, steps: rest, ...(list !== undefined && { areas: list }) }
  } catch (error) {
    throw new PresetError(error instanceof z.ZodError ? told(error) : 'What was painted cannot be read.')
  }
}

/** @throws PresetError where something that it speaks of is missing or damaged */
function requireWhole(portion: Portion, bulk: BulkData): void {
  for (const name of bulkNamesIn(portion)) {
    const bytes = bulk.get(name)
    if (!bytes || bytes.length > MOST_BULK || bulkName(bytes) !== name)
      throw new PresetError('What was painted is not in the file, or damaged.')
  }
}

/**
 * A preset from what its file holds. What comes from a newer Dunkelkammer or is not known here is left out and said.
 * @param options whether what it speaks of has to be in the file
 * @throws PresetError where it is no preset, holds what cannot be, or nothing that is known
 */
export function readPreset(written: unknown, { whole = true } = {}): ReadPreset {
  if (!isPlain(written) || written.kind !== PRESET_KIND) throw new PresetError('This is not a preset.')
  const leftOut: string[] = []
  let more = 0
  const leave = (sentence: string) => {
    if (leftOut.length < NAMED) leftOut.push(sentence)
    else more++
  }
  const format = Number(written.format)
  if (!Number.isInteger(format) || format < 1) throw new PresetError('The preset does not say its format.')
  const newer = format > PRESET_FORMAT
  if (newer) leave('It was made by a newer Dunkelkammer.')
  const versions = isPlain(written.versions) ? written.versions : {}
  const steps = knownSteps(isPlain(written.steps) ? written.steps : {}, versions, leave)
  const unknown = (place: string) => leave(`${quoted(place)} is not known.`)
  const kept: Plain = {}
  for (const [id, settings] of Object.entries(steps)) {
    const one = pruned(SomeStepsSchema, { [id]: settings }, unknown) as Plain
    // a newer preset may hold values that are not known yet; in one of today they are wrong
    if (newer && !SomeStepsSchema.safeParse(one).success)
      leave(`The settings of ${quoted(id)} are not understood.`)
    else Object.assign(kept, one)
  }
  const pieces = new Map<string, Uint8Array>()
  const named = namedPaths({ ...written, steps: kept }, (key, bytes) => pieces.set(key, bytes))
  const known = pruned(PresetFileSchema, { ...named, format: PRESET_FORMAT, versions: {} }, unknown)
  const result = PresetFileSchema.safeParse(known)
  if (!result.success) throw new PresetError(told(result.error))
  const { name, group, notes, scalable, bulk } = result.data
  const { steps: some, strength, off, nodes, areas, automatic } = result.data
  if (more > 0) leftOut.push(`${more} more things are not known.`)
  const portion = { steps: some, strength, off, nodes, areas, automatic }
  const preset = { name, group, notes, scalable, portion }
  if (setsNothing(preset.portion))
    throw new PresetError(['It sets nothing that is known here.', ...leftOut].join(' '))
  for (const [key, text] of Object.entries(bulk)) pieces.set(key, fromBase64(text))
  if (whole) requireWhole(portion, pieces)
  return { preset, leftOut, bulk: pieces }
}

/** The same from the text of a file. @throws PresetError */
export function readPresetText(written: string): ReadPreset {
  if (written.length > MOST_PRESET) throw new PresetError('A preset has at most 4 MB.')
  let parsed: unknown
  try {
    parsed = JSON.parse(written)
  } catch {
    throw new PresetError('This is not a preset: it is not JSON.')
  }
  return readPreset(parsed)
}
