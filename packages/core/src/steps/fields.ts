import { z } from 'zod'
import { FIELD_WORDS, type FieldWords } from './field'
import { stepById, type StepId } from './list'

/** A value in a step's settings that is set as one. */
export interface Field extends FieldWords {
  /** Names on the way to it: one, or two for a part of a part. */
  path: readonly string[]
  kind: 'number' | 'choice' | 'switch' | 'other'
  /** As stored. */
  start: unknown
  /** Least and largest, as stored, of a number. */
  min?: number
  max?: number
}

/** A schema without its default and other covers. */
export const bareSchema = (schema: z.ZodType): z.ZodType =>
  schema instanceof z.ZodDefault || schema instanceof z.ZodPrefault || schema instanceof z.ZodOptional
    ? bareSchema(schema.unwrap() as z.ZodType)
    : schema

function fieldOf(path: readonly string[], schema: z.ZodType, start: unknown): Field[] {
  const words = FIELD_WORDS.get(schema)
  const bare = bareSchema(schema)
  if (!words)
    return bare instanceof z.ZodObject
      ? Object.entries(bare.shape).flatMap(([name, part]) =>
          fieldOf([...path, name], part as z.ZodType, (start as Record<string, unknown> | undefined)?.[name]),
        )
      : []
  // where other fields have no start, all of them together have none
  const base = { ...words, path, start: start ?? schema.safeParse(undefined).data }
  if (bare instanceof z.ZodNumber)
    return [{ ...base, kind: 'number', min: bare.minValue ?? undefined, max: bare.maxValue ?? undefined }]
  const kind = bare instanceof z.ZodBoolean ? 'switch' : bare instanceof z.ZodEnum ? 'choice' : 'other'
  return [{ ...base, kind }]
}

/** The fields of any settings, in the order of their schema. */
export const fieldsIn = (schema: z.ZodType): readonly Field[] => {
  const start = schema.safeParse({}).data
  return fieldOf([], schema, start)
}

const known = new Map<StepId, readonly Field[]>()

/** The fields of a step's settings. */
export function fieldsOf(id: StepId): readonly Field[] {
  let fields = known.get(id)
  if (!fields) known.set(id, (fields = fieldsIn(stepById.get(id)!.schema)))
  return fields
}

/** The value of a field in settings. */
export const valueOf = (settings: unknown, { path }: Pick<Field, 'path'>): unknown =>
  path.reduce<unknown>((part, name) => (part as Record<string, unknown> | undefined)?.[name], settings)

/** Settings with a field as said, parts on the way to it renewed. */
export function withValue(settings: unknown, [name, ...rest]: readonly string[], value: unknown): unknown {
  const parts = settings as Record<string, unknown>
  return { ...parts, [name]: rest.length === 0 ? value : withValue(parts[name], rest, value) }
}

/** Whether a strength lets numbers of a step in, one by one; other steps are mixed with the picture before them. */
export const letsNumbersIn = (id: StepId): boolean => fieldsOf(id).some((f) => f.strength !== undefined)

/** Settings of a step let in by a strength of 0 to 1.5, as its fields say. */
export function letIn<S>(id: StepId, settings: S, strength: number): S {
  const out = { ...(settings as Record<string, unknown>) }
  for (const { path, strength: how, without, start, min = -Infinity, max = Infinity } of fieldsOf(id)) {
    if (how === undefined) continue
    const from = without ?? Number(start)
    const value = from + strength * (Number(out[path[0]]) - from)
    out[path[0]] = how === 'held' ? Math.min(Math.max(value, min), max) : value
  }
  return out as S
}
