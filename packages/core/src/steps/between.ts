import { z } from 'zod'
import { FIELD_WORDS } from './field'
import { bareSchema } from './fields'
import { stepById, type StepId } from './list'

/** A hue of 0 to 360 degrees on the shorter way to another. */
function around(a: number, b: number, t: number): number {
  const way = ((((b - a) % 360) + 540) % 360) - 180
  return (((a + way * t) % 360) + 360) % 360
}

const PASSES = {
  evenly: (a: number, b: number, t: number) => a + (b - a) * t,
  around,
  reciprocally: (a: number, b: number, t: number) => 1 / (1 / a + (1 / b - 1 / a) * t),
}

/** Numbers pass, parts by parts; what has no middle, such as a choice or lists of other lengths, stays until the end. */
function valueBetween(schema: z.ZodType, a: unknown, b: unknown, t: number): unknown {
  const bare = bareSchema(schema)
  if (bare instanceof z.ZodNumber && typeof a === 'number' && typeof b === 'number') {
    const how = (FIELD_WORDS.get(schema) ?? FIELD_WORDS.get(bare))?.passes ?? 'evenly'
    return PASSES[how](a, b, t)
  }
  if (bare instanceof z.ZodObject && a && b)
    return Object.fromEntries(
      Object.entries(a).map(([name, part]) => [
        name,
        valueBetween(bare.shape[name] as z.ZodType, part, (b as Record<string, unknown>)[name], t),
      ]),
    )
  if (Array.isArray(a) && Array.isArray(b) && a.length === b.length) {
    const of = (i: number) =>
      bare instanceof z.ZodTuple ? bare.def.items[i] : bare instanceof z.ZodArray ? bare.element : undefined
    return a.map((part, i) => (of(i) ? valueBetween(of(i) as z.ZodType, part, b[i], t) : part))
  }
  return a
}

/**
 * Settings of a step on their way from one moment of a sequence to another, field by field.
 * @param t 0 the first, 1 the second
 */
export function settingsBetween<S>(id: StepId, from: S, to: S, t: number): S {
  if (t <= 0) return from
  if (t >= 1) return to
  return valueBetween(stepById.get(id)!.schema, from, to, t) as S
}
