import {
  fieldsOf,
  letsNumbersIn,
  settingsBetween,
  stepById,
  valueOf,
  withValue,
  type Field,
  type StepId,
} from '../steps'
import { forOthers, MOST_AREAS, type Area } from '../steps/areas/schema'
import { MOST_NODES, type HueNode } from '../steps/hueNodes/schema'
import { MOST_PATCHES, type Patch } from '../steps/patches/schema'
import { departs, partOf, sameSettings, withPart, type Development, type PartState } from '../settings'
import { stepsSetBy, type PartialSettings, type Portion } from './portion'

/** Most that a step or an area is let in, whatever the strengths that are multiplied. */
const MOST = { step: 1.5, area: 2 }

const hold = (v: number, least: number, most: number) => Math.min(Math.max(v, least), most)

/** The fields of a step that some settings hold. */
export const fieldsHeld = (id: StepId, some: PartialSettings | undefined): readonly Field[] =>
  some === undefined ? [] : fieldsOf(id).filter((field) => valueOf(some, field) !== undefined)

/** Settings with some fields as said. */
export const withSome = <S>(id: StepId, settings: S, some: PartialSettings | undefined): S =>
  fieldsHeld(id, some).reduce<unknown>(
    (s, field) => withValue(s, field.path, valueOf(some, field)),
    settings,
  ) as S

/**
 * Whether a step can be let in by a strength: by its own numbers, or mixed with the picture before it. What moves the
 * picture is let in by numbers alone; a mixture of two places would be no picture.
 */
export function isLetIn(id: StepId): boolean {
  const { essential, takes } = stepById.get(id)!
  return letsNumbersIn(id) || (!essential && takes !== 'frame')
}

/** A number on the way from what it is now to what is asked for; beyond that, by as much as that is from nothing. */
function scaled(field: Field, now: number, to: number, strength: number): number {
  const { min = -Infinity, max = Infinity, without, start } = field
  const from = without ?? Number(start)
  const value = strength <= 1 ? now + strength * (to - now) : from + strength * (to - from)
  return hold(value, min, max)
}

/** Whether all that differs in two settings can be halfway. */
const hasMiddle = (id: StepId, a: unknown, b: unknown): boolean => {
  const half = settingsBetween(id, a, b, 0.5)
  return fieldsOf(id).every((f) => {
    const from = valueOf(a, f)
    return sameSettings(from, valueOf(b, f)) || !sameSettings(from, valueOf(half, f))
  })
}

/** A step with some of its fields set, by a strength between 0 and 1.5 but 1. */
function setByStrength(
  id: StepId,
  some: PartialSettings | undefined,
  now: PartState,
  whole: PartState,
  idle: boolean,
  by: number,
): PartState {
  const between = (a = 1, b = 1) => a + hold(by, 0, 1) * (b - a)
  const shared = { ...whole, strength: between(now.strength, whole.strength) }
  if (letsNumbersIn(id)) {
    const numbers = fieldsHeld(id, some).filter((f) => f.strength !== undefined)
    const settings = numbers.reduce<unknown>((s, field) => {
      const [from, to] = [valueOf(now.settings, field), valueOf(whole.settings, field)]
      return withValue(s, field.path, scaled(field, Number(from), Number(to), by))
    }, whole.settings)
    return { ...shared, settings }
  }
  // what has no middle, and what changes nothing yet, is there as asked for and let in by the strength
  const passes = !idle && hasMiddle(id, now.settings, whole.settings)
  if (isLetIn(id) && (!passes || by > 1))
    return { ...whole, strength: hold((whole.strength ?? 1) * by, 0, MOST.step) }
  return { ...shared, settings: settingsBetween(id, now.settings, whole.settings, by) }
}

const tidied = ({ settings, strength = 1, off }: PartState): PartState => ({
  settings,
  ...(strength !== 1 && { strength }),
  ...(off && { off }),
})

/** Settings with some fields set; from the start on where they do not go together with what is there. */
function fittingSettings(id: StepId, now: unknown, some: PartialSettings | undefined): unknown {
  const { schema } = stepById.get(id)!
  const set = [now, schema.parse({})].map((from) => withSome(id, from, some))
  return set.find((settings) => schema.safeParse(settings).success) ?? now
}

function withStepSet(d: Development, id: StepId, portion: Portion, strength: number): Development {
  const now = partOf(d, id)
  const some = portion.steps[id]
  const off = portion.off[id] ?? (some === undefined ? now.off === true : false)
  const whole = {
    settings: fittingSettings(id, now.settings, some),
    strength: portion.strength[id] ?? now.strength,
    ...(off && { off: true as const }),
  }
  const idle = now.off === true || !departs(id, d)
  const state = tidied(strength === 1 ? whole : setByStrength(id, some, now, whole, idle, strength))
  return sameSettings(state, tidied(now)) ? d : withPart(d, id, state)
}

const NODE_MOST = { shift: 60, colour: 1, light: 1 } as const

/** Hue nodes with others that come to them; where there is no room, those that do nothing make it. */
function withNodes(all: readonly HueNode[], come: readonly HueNode[], strength: number): HueNode[] {
  const scaledBy = (node: HueNode, of: keyof typeof NODE_MOST) =>
    hold(node[of] * strength, -NODE_MOST[of], NODE_MOST[of])
  const fresh = come.map((node) => ({
    ...{ ...node, shift: scaledBy(node, 'shift') },
    ...{ colour: scaledBy(node, 'colour'), light: scaledBy(node, 'light') },
  }))
  const kept = all.filter(({ hue }) => !fresh.some((node) => node.hue === hue))
  let over = kept.length + fresh.length - MOST_NODES
  const left = kept.filter(({ shift, colour, light }) => {
    const idle = shift === 0 && colour === 0 && light === 0
    return !(idle && over-- > 0)
  })
  return [...left, ...fresh].sort((a, b) => a.hue - b.hue).slice(0, MOST_NODES)
}

/** Areas with ids of their own; a mask that one takes from another stays so where that comes along. */
function addedAreas(areas: readonly Area[], strength: number, newId: () => string): Area[] {
  const ids = new Map(areas.map(({ id }) => [id, newId()]))
  return areas.map((area) => {
    const { maskOf, ...rest } = forOthers(area)
    const taken = maskOf === undefined ? undefined : ids.get(maskOf)
    const share = hold(area.strength * strength, 0, MOST.area)
    return { ...rest, id: ids.get(area.id)!, strength: share, ...(taken && { maskOf: taken }) }
  })
}

/**
 * A development with a portion applied. What the portion does not hold stays as it is; areas and patches come to those
 * that are there. What is found anew in each picture is not set here.
 * @param strength 0 to 1.5: 0 changes nothing, 1 sets everything as the portion says; up to 1 numbers are so far on
 *   their way from what they are now, beyond that they are so far from what they are without the step
 * @param newId names areas and patches that come
 */
export function withPortion(
  development: Development,
  portion: Portion,
  strength: number,
  newId: () => string,
): Development {
  if (strength <= 0) return development
  const { patches, ...others } = portion.steps
  const plain = { ...portion, steps: others }
  const set = stepsSetBy(plain).reduce((to, id) => withStepSet(to, id, plain, strength), development)
  const { nodes } = portion
  const d =
    nodes.length === 0
      ? set
      : withPart(set, 'hueNodes', {
          ...partOf(set, 'hueNodes'),
          settings: { nodes: withNodes(set.steps.hueNodes.nodes, nodes, strength) },
          off: portion.off.hueNodes ? (true as const) : undefined,
        })
  const come = ((patches?.patches ?? []) as Patch[]).map((patch) => ({ ...patch, id: newId() }))
  const areas = addedAreas(portion.areas, strength, newId)
  if (come.length + areas.length === 0) return d
  const all = {
    patches: [...d.steps.patches.patches, ...come].slice(0, MOST_PATCHES),
    areas: [...d.steps.areas.areas, ...areas].slice(0, MOST_AREAS),
  }
  return {
    ...d,
    steps: {
      ...d.steps,
      ...(come.length > 0 && { patches: { patches: all.patches } }),
      ...(areas.length > 0 && { areas: { areas: all.areas } }),
    },
  }
}
