import { z } from 'zod'
import { stepById, STEP_IDS, type StepId, type StepSchemas } from '../steps'
import { broughtUp, SETTINGS_VERSION, STEP_VERSIONS, upgraded } from './migrate'

const share = z.number().min(0).max(1)
const AreaSchema = z.object({ x: share, y: share, width: share, height: share })
export type InterestArea = z.infer<typeof AreaSchema>
/** What counts most for the automatics: rectangles in sensor coordinates, 1 the long edge. */
export const InterestSchema = z.array(AreaSchema).max(12)
/** How far a step is let in. */
export const StrengthSchema = z.number().min(0).max(1.5)

const schemas = Object.fromEntries(
  STEP_IDS.map((id) => [id, stepById.get(id)!.schema.prefault({})]),
) as unknown as { [Id in StepId]: z.ZodPrefault<StepSchemas[Id]> }

/** All settings of one version of a frame. Missing parts take their defaults, unknown parts are refused. */
export const DevelopmentSchema = z.strictObject({
  format: z.literal(SETTINGS_VERSION).default(SETTINGS_VERSION),
  /** Versions of the steps' settings, 1 where not said. */
  versions: z.partialRecord(z.enum(STEP_IDS), z.number().int().min(1)).default(STEP_VERSIONS),
  steps: z.strictObject(schemas).prefault({}),
  /** How far each step is let in, 1 where not said. */
  strength: z.partialRecord(z.enum(STEP_IDS), StrengthSchema).default({}),
  /** Steps that are switched off, their settings kept. */
  off: z.array(z.enum(STEP_IDS)).default([]),
  interest: InterestSchema.default([]),
})
export type Development = z.infer<typeof DevelopmentSchema>

/** The same as stored: settings of any format and step version up to the present ones are brought up. */
export const StoredDevelopmentSchema = broughtUp(upgraded, DevelopmentSchema)

/** What a frame starts with: nothing but the base rendering at its normal grade. */
export const startDevelopment = (): Development => DevelopmentSchema.parse({})

/**
 * Settings from a file or database of any format up to this one.
 * @throws z.ZodError where they are not settings; RangeError where they come from a newer Dunkelkammer
 */
export const readDevelopment = (stored: unknown): Development =>
  DevelopmentSchema.parse(upgraded(stored ?? {}))
