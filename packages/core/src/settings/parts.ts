import { STEP_IDS, type StepId } from '../steps'
import { sameSettings } from './departs'
import type { Development } from './development'
import { isListed, isPlaces, joinedLists, listChange, withChange, type Places } from './listed'
import { versionOf } from './migrate'

/** A part of the settings that changes as one: a step with its strength and switch, or the areas of interest. */
export type Part = StepId | 'interest'

/** A part as it stands. Strength is 1 and the switch on where not said. */
export interface PartState {
  settings: unknown
  strength?: number
  off?: true
}

/**
 * How a part was changed: enough to do it again and to take it back. Of a list in a step's settings whose items have
 * ids, both states hold only the items that changed, with their places.
 */
export interface Change {
  part: Part
  before: PartState
  now: PartState
  /** Version of the step's settings in both, 1 where not said. */
  version?: number
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

type Plain = Record<string, unknown>

/** Two states with what changed in lists instead of the lists. */
function told(before: PartState, now: PartState): Pick<Change, 'before' | 'now'> {
  const [old, fresh] = [before.settings as Plain, now.settings as Plain]
  const changes = Object.keys(fresh).flatMap((name) => {
    const [from, to] = [old[name], fresh[name]]
    return isListed(from) && isListed(to) && from.length + to.length > 0
      ? [[name, listChange(from, to)] as const]
      : []
  })
  if (changes.length === 0) return { before, now }
  const of = (side: 'before' | 'now') => Object.fromEntries(changes.map(([name, c]) => [name, c[side]]))
  return {
    before: { ...before, settings: { ...old, ...of('before') } },
    now: { ...now, settings: { ...fresh, ...of('now') } },
  }
}

/** Calls with every list that is told by what changed in it, as it is on either side. */
function eachList<T>(from: unknown, to: unknown, visit: (name: string, from: Places, to: Places) => T): T[] {
  const [old, fresh] = [from as Plain, to as Plain]
  return Object.keys(fresh).flatMap((name) => {
    const [a, b] = [old[name], fresh[name]]
    return isPlaces(a) && isPlaces(b) ? [visit(name, a, b)] : []
  })
}

/** A state of a part led from one that a change tells of to the other. */
function ledState(present: PartState, from: PartState, to: PartState): PartState {
  const lists = eachList(from.settings, to.settings, (name, before, now) => {
    const list = (present.settings as Plain)[name]
    return [name, withChange(Array.isArray(list) ? list : [], { before, now })] as const
  })
  return lists.length === 0
    ? to
    : { ...to, settings: { ...(to.settings as Plain), ...Object.fromEntries(lists) } }
}

const led = (development: Development, part: Part, from: PartState, to: PartState): Development =>
  withPart(development, part, ledState(partOf(development, part), from, to))

/** What leads from one development to another, part by part in the order of the steps. */
export function changesBetween(from: Development, to: Development): Change[] {
  if (from === to) return []
  const parts: Part[] = [...STEP_IDS, 'interest']
  return parts.flatMap((part) => {
    const [before, now] = [partOf(from, part), partOf(to, part)]
    const { settings, strength, off } = before
    if (strength === now.strength && off === now.off && sameSettings(settings, now.settings)) return []
    const version = part === 'interest' ? 1 : versionOf(part)
    const states = part === 'interest' ? { before, now } : told(before, now)
    return [{ part, ...states, ...(version > 1 && { version }) }]
  })
}

export const applyChanges = (development: Development, changes: readonly Change[]): Development =>
  changes.reduce((d, { part, before, now }) => led(d, part, before, now), development)

/** The development before changes that led to it. */
export const revertChanges = (development: Development, changes: readonly Change[]): Development =>
  changes.reduceRight((d, { part, before, now }) => led(d, part, now, before), development)

/** Whether a change tells lists by what changed in them. */
const tellsLists = ({ before, now }: Change): boolean =>
  eachList(before.settings, now.settings, () => true).length > 0

/** One change and the next of the same part, as one. */
function joined(first: Change, then: Change): Change {
  const [of, next] = [first, then].map(tellsLists)
  if (!of && !next) return { ...then, before: first.before }
  if (!next) return { ...then, before: ledState(then.before, first.now, first.before) }
  if (!of) return { ...then, before: first.before, now: ledState(first.now, then.before, then.now) }
  const out = structuredClone({ before: first.before, now: then.now })
  eachList(first.before.settings, first.now.settings, (name, before, now) => {
    const [b, n] = [then.before.settings as Plain, then.now.settings as Plain]
    const both = joinedLists({ before, now }, { before: b[name] as Places, now: n[name] as Places })
    Object.assign(out.before.settings as Plain, { [name]: both.before })
    Object.assign(out.now.settings as Plain, { [name]: both.now })
  })
  return { ...then, ...out }
}

/** Changes and those that followed them, as if made at once; what came back to where it was is left out. */
export function joinedChanges(first: readonly Change[], then: readonly Change[]): Change[] {
  const out = new Map(first.map((c) => [c.part, c]))
  for (const c of then) {
    const earlier = out.get(c.part)
    out.set(c.part, earlier ? joined(earlier, c) : c)
  }
  return [...out.values()].filter(({ before, now }) => !sameSettings(before, now))
}

/** The parts that two lists of changes have in common. */
export function commonParts(a: readonly Change[], b: readonly Change[]): Part[] {
  const parts = new Set(b.map((c) => c.part))
  return [...new Set(a.map((c) => c.part))].filter((part) => parts.has(part))
}
