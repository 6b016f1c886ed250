import { z } from 'zod'
import { AreaSchema, MOST_AREAS } from '../steps/areas/schema'
import { FIELD_WORDS, stepById, STEP_IDS, type StepId } from '../steps'
import { bareSchema } from '../steps/fields'
import { HueNodeSchema, MOST_NODES } from '../steps/hueNodes/schema'
import { StrengthSchema } from '../settings'

/** What is not copied but found anew in each picture, in the order in which it is found. */
export const FOUND_ANEW = ['level', 'white', 'exposure', 'points', 'tones'] as const
export type FoundAnew = (typeof FOUND_ANEW)[number]

/** Steps whose settings an automatic finds. */
export const FOUND_IN: Readonly<Record<FoundAnew, StepId>> = {
  level: 'level',
  white: 'cameraColour',
  exposure: 'exposure',
  points: 'points',
  tones: 'tones',
}

/** Some of a step's settings: fields by their names, those inside of others too. */
export type PartialSettings = Readonly<Record<string, unknown>>

/** A schema of some of an object's fields. A field is set as one, or is not there; nothing begins by itself. */
function someOf(schema: z.ZodType): z.ZodType {
  const bare = bareSchema(schema)
  if (FIELD_WORDS.has(schema) || FIELD_WORDS.has(bare) || !(bare instanceof z.ZodObject)) return bare
  return z.strictObject(
    Object.fromEntries(
      Object.entries(bare.shape as Record<string, z.ZodType>).map(([name, part]) => [
        name,
        someOf(part).optional(),
      ]),
    ),
  )
}

/** Lists whose items are added to those that are there; areas have a place of their own in a portion. */
export const SETTABLE = STEP_IDS.filter((id) => id !== 'areas')

/** Some settings of each step. */
export const SomeStepsSchema = z.strictObject(
  Object.fromEntries(SETTABLE.map((id) => [id, someOf(stepById.get(id)!.schema).optional()])),
) as unknown as z.ZodType<Partial<Record<StepId, PartialSettings>>>

const SettableSchema = z.enum(STEP_IDS)

/**
 * A part of a development that is applied to others: it sets the fields that it holds, adds its areas, and leaves all
 * else as it is.
 */
export const PortionSchema = z.strictObject({
  steps: SomeStepsSchema.default({}),
  /** How far steps are let in; what is not named stays as it is. */
  strength: z.partialRecord(SettableSchema, StrengthSchema).default({}),
  /** Steps that are switched off or on. A step with settings here is switched on where nothing is said. */
  off: z.partialRecord(SettableSchema, z.boolean()).default({}),
  /** Hue nodes that come to those that are there, in place of those of the same hue. */
  nodes: z.array(HueNodeSchema).max(MOST_NODES).default([]),
  /** Areas that are added. */
  areas: z.array(AreaSchema).max(MOST_AREAS).default([]),
  /** What is found anew in each picture, after the rest is set. */
  automatic: z.array(z.enum(FOUND_ANEW)).max(FOUND_ANEW.length).default([]),
})
export type Portion = z.infer<typeof PortionSchema>

/** A portion that sets nothing. */
export const emptyPortion = (): Portion => PortionSchema.parse({})

/** The steps that a portion sets something of, in their order. */
export const stepsSetBy = ({ steps, strength, off, nodes, areas, automatic }: Portion): StepId[] =>
  STEP_IDS.filter(
    (id) =>
      steps[id] !== undefined ||
      strength[id] !== undefined ||
      off[id] !== undefined ||
      (id === 'areas' && areas.length > 0) ||
      (id === 'hueNodes' && nodes.length > 0) ||
      automatic.some((a) => FOUND_IN[a] === id),
  )

/** Whether a portion sets nothing at all. */
export const setsNothing = (portion: Portion): boolean => stepsSetBy(portion).length === 0
