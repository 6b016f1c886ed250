import { z } from 'zod'
import { bareSchema, stepById, STEP_IDS, type StepId } from '../steps'
import { InterestSchema, StrengthSchema } from './development'
import { isPlaces, type Item, type Places } from './listed'
import { broughtUp, upgradedStep, versionOf, type MigrationsOf } from './migrate'
import type { Change, Part, PartState } from './parts'

const stateOf = (settings: z.ZodType) =>
  z.strictObject({ settings, strength: StrengthSchema.optional(), off: z.literal(true).optional() })

const ofPart = <Id extends Part>(part: Id, settings: z.ZodType) => {
  const state = stateOf(settings)
  return z.strictObject({
    part: z.literal(part),
    before: state,
    now: state,
    version: z.number().int().min(1).optional(),
  })
}

/** Settings of a step with the changed items of its lists in their place; nothing where it has no such list. */
function listedSchema(schema: z.ZodType): z.ZodType | undefined {
  if (!(schema instanceof z.ZodObject)) return undefined
  const lists = Object.entries(schema.shape as Record<string, z.ZodType>).flatMap(([name, field]) => {
    const list = bareSchema(field)
    const item = list instanceof z.ZodArray ? (list.element as z.ZodType) : undefined
    if (!(item instanceof z.ZodObject) || !('id' in item.shape)) return []
    return [[name, z.strictObject({ changed: z.array(z.tuple([z.number().int().min(0), item])) })] as const]
  })
  return lists.length > 0 ? schema.extend(Object.fromEntries(lists)) : undefined
}

const placesIn = (settings: unknown) => Object.values(settings ?? {}).filter(isPlaces).length

function ofStep(id: StepId) {
  const { schema } = stepById.get(id)!
  const listed = listedSchema(schema)
  if (!listed) return ofPart(id, schema)
  return ofPart(id, z.union([schema, listed])).refine(
    ({ before, now }) => placesIn(before.settings) === placesIn(now.settings),
    'A change tells its lists the same way before and after.',
  )
}

const CurrentChangeSchema = z.discriminatedUnion('part', [
  ofPart('interest', InterestSchema),
  ...STEP_IDS.map(ofStep),
])

/** A change as sent or stored, its settings brought up to the step's present version. */
export const ChangeSchema = broughtUp(
  (stored) => upgradedChange(stored),
  CurrentChangeSchema,
) as z.ZodType<Change>

/** A state's settings brought up, also where a list is told by what changed in it. */
function upgradedState(
  id: StepId,
  state: PartState,
  version: number | undefined,
  of?: MigrationsOf,
): PartState {
  const settings = state.settings as Record<string, unknown>
  const lists = Object.entries(settings).filter((e): e is [string, Places] => isPlaces(e[1]))
  const items = lists.map(([name, { changed }]) => [name, changed.map(([, item]) => item)] as const)
  const up = upgradedStep(id, { ...settings, ...Object.fromEntries(items) }, version, of)
  const back = lists.map(([name, { changed }]) => {
    const list = (up as Record<string, readonly Item[]>)[name]
    return [name, { changed: changed.map(([at], i) => [at, list[i]] as const) }] as const
  })
  return { ...state, settings: { ...(up as object), ...Object.fromEntries(back) } }
}

export function upgradedChange(stored: unknown, of?: MigrationsOf): unknown {
  const { part, before, now, version } = (stored ?? {}) as Partial<Change>
  if (!part || part === 'interest' || !before || !now || !stepById.has(part)) return stored
  const current = versionOf(part, of)
  if ((version ?? 1) === current) return stored
  const up = (state: PartState) => upgradedState(part, state, version, of)
  return { part, before: up(before), now: up(now), version: current }
}
