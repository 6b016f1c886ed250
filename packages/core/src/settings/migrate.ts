import { z } from 'zod'
import { stepById, STEP_IDS, type StepId } from '../steps'

/** Format of the settings as a whole; each step's settings have a version of their own besides. */
export const SETTINGS_VERSION = 2

type Plain = Record<string, unknown>
/** Brings settings up by one version. */
export type Migration = (old: never) => unknown
/** The migrations of a step's settings, from version 1 on. */
export type MigrationsOf = (id: StepId) => readonly Migration[]

/** Older formats by number: each brings settings up by one. */
const MIGRATIONS: Readonly<Record<number, (old: Plain) => Plain>> = {
  // what is only looked at left the settings: stages held off, and pinned readings
  1: ({ held: _held, pins: _pins, ...rest }) => ({ ...rest, format: 2 }),
}

const ownMigrations: MigrationsOf = (id) => stepById.get(id)?.migrations ?? []

/** Version of a step's settings today, 1 where they never changed. */
export const versionOf = (id: StepId, of: MigrationsOf = ownMigrations): number => of(id).length + 1

/** Versions of the steps whose settings have changed since they were first described. */
export const STEP_VERSIONS: Partial<Record<StepId, number>> = Object.fromEntries(
  STEP_IDS.filter((id) => versionOf(id) > 1).map((id) => [id, versionOf(id)]),
)

const isPlain = (v: unknown): v is Plain => typeof v === 'object' && v !== null && !Array.isArray(v)
const newer = () => new RangeError('These settings were made by a newer Dunkelkammer.')

/**
 * Settings of one step, brought up from an older version of them.
 * @throws RangeError where the version is newer than is known
 */
export function upgradedStep(
  id: StepId,
  settings: unknown,
  version = 1,
  of: MigrationsOf = ownMigrations,
): unknown {
  const migrations = of(id)
  if (version > migrations.length + 1) throw newer()
  return migrations.slice(version - 1).reduce((old, migrate) => migrate(old as never), settings)
}

/**
 * Settings as stored, brought up to the present format; what is not settings at all comes back as it is.
 * @throws RangeError where they are newer than is known
 */
export function upgraded(stored: unknown, of: MigrationsOf = ownMigrations): unknown {
  if (!isPlain(stored)) return stored
  let data = stored
  if ('format' in stored) {
    const format = Number(stored.format)
    if (format > SETTINGS_VERSION) throw newer()
    for (let f = format; f < SETTINGS_VERSION; f++) data = MIGRATIONS[f]?.(data) ?? data
  }
  const { versions, steps } = data
  // without a format they are written by hand, as the steps are today
  if (!('format' in data) || !isPlain(steps)) return data
  const known = isPlain(versions) ? versions : {}
  const raised = Object.entries(steps).map(([id, settings]) => [
    id,
    upgradedStep(id as StepId, settings, Number(known[id] ?? 1), of),
  ])
  return { ...data, versions: STEP_VERSIONS, steps: Object.fromEntries(raised) }
}

/** A schema of what may be stored in an older form: it is brought up first, and refused where that cannot be. */
export const broughtUp = <T extends z.ZodType>(bringUp: (stored: unknown) => unknown, schema: T) =>
  z.preprocess((stored, context) => {
    try {
      return bringUp(stored)
    } catch (error) {
      context.addIssue((error as Error).message)
      return z.NEVER
    }
  }, schema)
