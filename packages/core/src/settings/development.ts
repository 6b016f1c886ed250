import { z } from 'zod'
import { STAGES, stepById, STEP_IDS, type StepId, type StepSchemas } from '../steps'

/** Format of the settings; older ones are brought up by `migrate`. */
export const SETTINGS_VERSION = 1

const share = z.number().min(0).max(1)
const AreaSchema = z.object({ x: share, y: share, width: share, height: share })
export type InterestArea = z.infer<typeof AreaSchema>
export const MOST_PINS = 8

const schemas = Object.fromEntries(
  STEP_IDS.map((id) => [id, stepById.get(id)!.schema.prefault({})]),
) as unknown as { [Id in StepId]: z.ZodPrefault<StepSchemas[Id]> }

/** All settings of one version of a frame. Missing parts take their defaults, unknown parts are refused. */
export const DevelopmentSchema = z.strictObject({
  format: z.literal(SETTINGS_VERSION).default(SETTINGS_VERSION),
  steps: z.strictObject(schemas).prefault({}),
  /** How far each step is let in, 1 where not said. */
  strength: z.partialRecord(z.enum(STEP_IDS), z.number().min(0).max(1.5)).default({}),
  /** Steps that are switched off, their settings kept. */
  off: z.array(z.enum(STEP_IDS)).default([]),
  /** What counts most for the automatics: rectangles in sensor coordinates, 1 the long edge. */
  interest: z.array(AreaSchema).max(12).default([]),
  /** Places whose readings are kept in sight, in the same coordinates. */
  pins: z
    .array(z.object({ x: share, y: share }))
    .max(MOST_PINS)
    .default([]),
  /** Stages held off for a moment: their steps run as at the start. */
  held: z.array(z.enum(STAGES)).default([]),
})
export type Development = z.infer<typeof DevelopmentSchema>

/** What a frame starts with: nothing but the base rendering at its normal grade. */
export const startDevelopment = (): Development => DevelopmentSchema.parse({})

/** Older formats by number: each brings settings up by one. */
const MIGRATIONS: Readonly<Record<number, (old: Record<string, unknown>) => Record<string, unknown>>> = {}

/**
 * Settings from a file or database of any format up to this one.
 * @throws z.ZodError where they are not settings; RangeError where they come from a newer Dunkelkammer
 */
export function readDevelopment(stored: unknown): Development {
  let data = stored
  if (data && typeof data === 'object' && 'format' in data) {
    const format = Number((data as { format: unknown }).format)
    if (format > SETTINGS_VERSION) throw new RangeError('These settings were made by a newer Dunkelkammer.')
    for (let f = format; f < SETTINGS_VERSION; f++) data = MIGRATIONS[f](data as Record<string, unknown>)
  }
  return DevelopmentSchema.parse(data ?? {})
}
