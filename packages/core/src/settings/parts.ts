import { z } from 'zod'
import { stepById, STEP_IDS, type StepId } from '../steps'
import { sameSettings } from './departs'
import { InterestSchema, StrengthSchema, type Development } from './development'
import { broughtUp, upgradedStep, versionOf } from './migrate'

/** A part of the settings that changes as one: a step with its strength and switch, or the areas of interest. */
export type Part = StepId | 'interest'

/** A part as it stands. Strength is 1 and the switch on where not said. */
export interface PartState {
  settings: unknown
  strength?: number
  off?: true
}

/** How a part was changed: enough to do it again and to take it back. */
export interface Change {
  part: Part
  before: PartState
  now: PartState
  /** Version of the step's settings in both, 1 where not said. */
  version?: number
}

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

const CurrentChangeSchema = z.discriminatedUnion('part', [
  ofPart('interest', InterestSchema),
  ...STEP_IDS.map((id) => ofPart(id, stepById.get(id)!.schema)),
])

/** A change as sent or stored, its settings brought up to the step's present version. */
export const ChangeSchema = broughtUp(upgradedChange, CurrentChangeSchema) as z.ZodType<Change>

function upgradedChange(stored: unknown): unknown {
  const { part, before, now, version } = (stored ?? {}) as Partial<Change>
  if (!part || part === 'interest' || !before || !now || !stepById.has(part)) return stored
  const current = versionOf(part)
  if ((version ?? 1) === current) return stored
  const up = (state: PartState) => ({ ...state, settings: upgradedStep(part, state.settings, version) })
  return { part, before: up(before), now: up(now), version: current }
}

/** A part of a development as it stands. */
export function partOf(development: Development, part: Part): PartState {
  if (part === 'interest') return { settings: development.interest }
  const strength = development.strength[part] ?? 1
  return {
    settings: development.steps[part],
    ...(strength !== 1 && { strength }),
    ...(development.off.includes(part) && { off: true as const }),
  }
}

/** A development with one part as said; the others are the same objects. */
export function withPart(development: Development, part: Part, state: PartState): Development {
  if (part === 'interest') return { ...development, interest: state.settings as Development['interest'] }
  const strength = { ...development.strength }
  delete strength[part]
  if (state.strength !== undefined) strength[part] = state.strength
  const off = development.off.filter((id) => id !== part)
  if (state.off) off.push(part)
  return {
    ...development,
    steps: { ...development.steps, [part]: state.settings },
    strength,
    // in the order of the steps, so that the same settings are written the same
    off: STEP_IDS.filter((id) => off.includes(id)),
  }
}

/** What leads from one development to another, part by part in the order of the steps. */
export function changesBetween(from: Development, to: Development): Change[] {
  if (from === to) return []
  const parts: Part[] = [...STEP_IDS, 'interest']
  return parts.flatMap((part) => {
    const [before, now] = [partOf(from, part), partOf(to, part)]
    const { settings, strength, off } = before
    if (strength === now.strength && off === now.off && sameSettings(settings, now.settings)) return []
    const version = part === 'interest' ? 1 : versionOf(part)
    return [{ part, before, now, ...(version > 1 && { version }) }]
  })
}

export const applyChanges = (development: Development, changes: readonly Change[]): Development =>
  changes.reduce((d, { part, now }) => withPart(d, part, now), development)

/** The development before changes that led to it. */
export const revertChanges = (development: Development, changes: readonly Change[]): Development =>
  changes.reduceRight((d, { part, before }) => withPart(d, part, before), development)

/** Changes and those that followed them, as if made at once; what came back to where it was is left out. */
export function joinedChanges(first: readonly Change[], then: readonly Change[]): Change[] {
  const out = new Map(first.map((c) => [c.part, c]))
  for (const c of then) {
    const earlier = out.get(c.part)
    out.set(c.part, earlier ? { ...c, before: earlier.before } : c)
  }
  return [...out.values()].filter(({ before, now }) => !sameSettings(before, now))
}

/** The parts that two lists of changes have in common. */
export function commonParts(a: readonly Change[], b: readonly Change[]): Part[] {
  const parts = new Set(b.map((c) => c.part))
  return [...new Set(a.map((c) => c.part))].filter((part) => parts.has(part))
}
