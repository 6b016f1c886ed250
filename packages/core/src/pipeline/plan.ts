import { partOf, sameSettings as same, startDevelopment, withPart, type Development } from '../settings'
import type { OutputSpace } from '../output'
import {
  isAtWork,
  maskedBy,
  letIn,
  stepById,
  takesEffect,
  STEP_IDS,
  STEPS,
  type Apart,
  type PartId,
  type Patch,
  type PictureContext,
  type StageId,
  type Step,
  type StepId,
  type Surveyed,
} from '../steps'
import type { SquareSettings } from '../geometry'
import { plannedMask, type PlannedMask } from '../masks/planned'
import type { Mask } from '../masks/schema'

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- each step has settings of its own
const order: readonly (Step<any, any> & { id: PartId })[] = STEPS

/** The step by whose settings a part of the pipeline goes. */
const ownerOf = ({ id, settingsOf }: { id: PartId; settingsOf?: string }) => (settingsOf ?? id) as StepId

/** A step with the settings it is to run with; plain data. */
export interface PlannedStep {
  id: PartId
  settings: unknown
  /** 1 is the step as it is. */
  strength: number
  /** Where it is let in, for a pass in an area; all over the picture where missing. */
  mask?: PlannedMask
  /** Where the maps of its survey lie; filled in by the engine. */
  surveyed?: Surveyed
}

/** What to compute for one development: the parts that are kept in between, and the rest. */
export interface Plan {
  /** Mosaic to demosaiced picture; kept as 16-bit float at full size. */
  develop: readonly PlannedStep[]
  /** Repairs of the full picture, in their order. */
  patches: readonly Patch[]
  /** Where the pixels of the frame come from; missing where the picture stays as it is. */
  square?: SquareSettings
  /** What is done to the frame's pixels in camera light, before colour: sharpness above all. */
  refine: readonly PlannedStep[]
  /** From there to the light that the output wants. */
  render: readonly PlannedStep[]
  /** Same key, same demosaiced picture. */
  developKey: string
  /** Same key, same picture when it has been mended. */
  mendedKey: string
}

/** A development with some steps as they are at the start. */
export function withoutSteps(development: Development, ids: readonly StepId[]): Development {
  const neutral = Object.fromEntries(ids.map((id) => [id, stepById.get(id)!.neutral]))
  const strength = { ...development.strength }
  for (const id of ids) delete strength[id]
  return {
    ...development,
    steps: { ...development.steps, ...neutral },
    strength,
    off: development.off.filter((id) => !ids.includes(id)),
  }
}

/** A development with all steps of some stages as they are at the start: held off to be looked at without them. */
export const withoutStages = (development: Development, stages: readonly StageId[]): Development =>
  stages.length === 0
    ? development
    : withoutSteps(
        development,
        STEP_IDS.filter((id) => stages.includes(stepById.get(id)!.stage)),
      )

/** Something of a value that does not change, computed once. */
function once<K extends object, V>(known: WeakMap<K, V>, key: K, make: () => V): V {
  let found = known.get(key)
  if (found === undefined) known.set(key, (found = make()))
  return found
}

/** An area at work, with its mask as planned. */
interface WorkingArea {
  steps: Readonly<Record<string, unknown>>
  strength: number
  mask: PlannedMask
}

const plannedMasks = new WeakMap<Mask, PlannedMask>()

/** Areas that can change the picture, in their order. */
function areasOf({ steps, off, strength }: Development): WorkingArea[] {
  const share = strength.areas ?? 1
  if (off.includes('areas') || share === 0) return []
  const { areas } = steps.areas
  return areas.flatMap((area) => {
    const { mask } = maskedBy(area, areas)
    if (!isAtWork(area, { mask })) return []
    return {
      steps: area.steps,
      strength: area.strength * share,
      mask: once(plannedMasks, mask, () => plannedMask(mask)),
    }
  })
}

const changesNothing = (step: Step<unknown> & { id: PartId }, settings: unknown) =>
  same(settings, step.neutral) || step.idle?.(settings) === true

/** The settings that a step has at full strength for the whole picture; none where it is let in by another one. */
function actingOf(development: Development, step: Step<unknown> & { id: PartId }): unknown {
  const strength = development.strength[ownerOf(step)] ?? 1
  if (strength === 0 || development.off.includes(ownerOf(step))) return step.neutral
  return strength === 1 ? development.steps[ownerOf(step)] : undefined
}

/** A step for the whole picture; none where it changes nothing. */
function passFor(development: Development, step: Step<unknown> & { id: PartId }): PlannedStep[] {
  const own = ownerOf(step)
  const strength = development.strength[own] ?? 1
  const absent = development.off.includes(own) || strength === 0
  const settings = absent ? step.neutral : development.steps[own]
  if (step.essential) {
    const soft = absent || strength === 1 ? settings : letIn(own, settings, strength)
    return [{ id: step.id, settings: soft, strength: 1 }]
  }
  return changesNothing(step, settings) ? [] : [{ id: step.id, settings, strength }]
}

/** All runs of the steps, in their order: for the whole picture, then in each area. */
function planned(development: Development): PlannedStep[] {
  const out: PlannedStep[] = []
  const areas = areasOf(development)
  for (const step of order) {
    if (step.takes === 'frame' || step.takes === 'whole' || step.takes === 'passes') continue
    if (!step.given) out.push(...passFor(development, step))
    if (!step.inArea) continue
    for (const { steps, strength, mask } of areas) {
      // steps of areas alone have no settings but theirs, second parts those of their step
      const settings = steps[step.id] ?? steps[ownerOf(step)]
      if (settings === undefined) continue
      const stays = step.instead
        ? same(settings, actingOf(development, step))
        : changesNothing(step, settings)
      // what is put in place of something is there in full at most
      const most = step.instead ? Math.min(strength, 1) : strength
      if (!stays) out.push({ id: step.id, settings, strength: most, mask })
    }
  }
  return out
}

/** The steps that move the picture, in the order in which they act. */
export const FRAME_STEPS = order
  .filter((s) => s.takes === 'frame')
  .map((s) => s.id) as (keyof SquareSettings)[]

/** A development with the frame of another: what one of them shows stands where the other shows it. */
export const withFrameOf = (development: Development, other: Development): Development =>
  (FRAME_STEPS as readonly StepId[]).reduce((d, id) => withPart(d, id, partOf(other, id)), development)

/** Settings of the steps that square up, as they act: neutral where switched off, let in by their strength. */
export function squareSettings(development: Development): SquareSettings {
  const entries = FRAME_STEPS.map((id) => {
    const step = stepById.get(id)!
    const strength = development.strength[id] ?? 1
    if (development.off.includes(id) || strength === 0) return [id, step.absent ?? step.neutral]
    const settings: unknown = step.idle?.(development.steps[id]) ? step.neutral : development.steps[id]
    return [id, strength === 1 ? settings : letIn(id, settings, strength)]
  })
  return Object.fromEntries(entries) as unknown as SquareSettings
}

/** Steps on the frame before its colours. */
const REFINE: readonly PartId[] = order
  .slice(order.findLastIndex((s) => s.takes === 'frame') + 1)
  .filter((s) => s.yields === 'camera')
  .map((s) => s.id)

const working = new WeakMap<readonly Patch[], readonly Patch[]>()
const wordsOf = new WeakMap<readonly Patch[], string>()
const NO_PATCHES: readonly Patch[] = []

/** Repairs that are at work. */
function patchesOf({ steps, off, strength }: Development): readonly Patch[] {
  const share = strength.patches ?? 1
  if (off.includes('patches') || share === 0) return NO_PATCHES
  const { patches } = steps.patches
  const found = once(working, patches, () => patches.filter(takesEffect))
  return share === 1 ? found : found.map((p) => ({ ...p, opacity: Math.min(p.opacity * share, 1) }))
}

function keysOf(develop: readonly PlannedStep[], patches: readonly Patch[]) {
  const developKey = JSON.stringify(develop)
  if (patches.length === 0) return { developKey, mendedKey: developKey }
  return { developKey, mendedKey: `${developKey} ${once(wordsOf, patches, () => JSON.stringify(patches))}` }
}

const REACHES: Record<'display' | 'linear-rec2020' | 'camera', readonly string[]> = {
  display: ['mosaic', 'camera', 'scene', 'display'],
  'linear-rec2020': ['mosaic', 'camera', 'scene'],
  camera: ['mosaic', 'camera'],
}

/** The steps that a development needs for an output; those that would change nothing are left out. */
export function makePlan(development: Development, space: OutputSpace): Plan {
  const wanted = REACHES[space === 'linear-rec2020' || space === 'camera' ? space : 'display']
  const steps = planned(development).filter((p) => wanted.includes(stepById.get(p.id)!.yields))
  const kept = steps.findLastIndex((p) => stepById.get(p.id)!.keep) + 1
  const develop = steps.slice(0, kept)
  const refined = steps.findIndex((p, i) => i >= kept && !REFINE.includes(p.id))
  const from = refined < 0 ? steps.length : refined
  const square = squareSettings(development)
  const patches = patchesOf(development)
  const squared = FRAME_STEPS.some((id) => !same(square[id], stepById.get(id)!.neutral))
  return {
    develop,
    patches,
    square: squared ? square : undefined,
    refine: steps.slice(kept, from),
    render: steps.slice(from),
    ...keysOf(develop, patches),
  }
}

const untouched = new Map<OutputSpace, string>()

/** Whether a plan does nothing but what every picture needs. */
export function isUntouched(plan: Plan, space: OutputSpace): boolean {
  if (plan.square || plan.patches.length) return false
  const start = untouched.get(space) ?? stepsOf(makePlan(startDevelopment(), space))
  untouched.set(space, start)
  return stepsOf(plan) === start
}

const stepsOf = ({ develop, refine, render }: Plan) => JSON.stringify([develop, refine, render])

/** The frame as it came, squared up alike: what a development is compared with. */
export const untouchedOf = (development: Development): Development =>
  withoutSteps(startAfterKept(development), ['noise'])

/** The start again for all that comes after squaring up; what is shown, and how it was read, stay as they are. */
export function startAfterKept(development: Development): Development {
  const start = startDevelopment()
  const before = order.slice(0, order.findLastIndex((s) => s.keep || s.takes === 'frame') + 1)
  const ids = before.map(ownerOf)
  const kept = Object.fromEntries(ids.map((id) => [id, development.steps[id]]))
  const { strength, off } = development
  return {
    ...start,
    steps: { ...start.steps, ...kept },
    strength: Object.fromEntries(Object.entries(strength).filter(([id]) => ids.includes(id as StepId))),
    off: off.filter((id) => ids.includes(id)),
  }
}

/** A plan with red and blue laid onto green before the demosaic. */
export function withApart(plan: Plan, apart: Apart): Plan {
  const at = plan.develop.findIndex(({ id }) => stepById.get(id)!.yields !== 'mosaic')
  const part: PlannedStep = { id: 'mosaicFringes', settings: apart, strength: 1 }
  const develop = [...plan.develop.slice(0, at), part, ...plan.develop.slice(at)]
  return { ...plan, develop, ...keysOf(develop, plan.patches) }
}

/** What a quick picture is made with: the steps on the mosaic that it cannot do without. */
export const quickSteps = (steps: readonly PlannedStep[]): readonly PlannedStep[] =>
  steps.filter(({ id }) => stepById.get(id)!.yields === 'mosaic' && !stepById.get(id)!.spare)

/** The masks of passes, each once, by their keys. */
export const masksOf = (steps: readonly PlannedStep[]): ReadonlyMap<string, PlannedMask> =>
  new Map(steps.flatMap(({ mask }) => (mask ? [[mask.key, mask] as const] : [])))

/** Pixels of surroundings that a run of steps needs at a scale, with room for the kernels' groups of four. */
export function reachOf(
  steps: readonly PlannedStep[],
  scale: number,
  context: PictureContext,
  draft?: boolean,
): number {
  let sum = 0
  /** Of those that stand in place of each other the farthest. */
  const instead = new Map<PartId, number>()
  for (const p of steps) {
    const step = stepById.get(p.id)!
    const reach = step.reach(p.settings, scale, context, draft)
    if (step.instead) instead.set(p.id, Math.max(instead.get(p.id) ?? 0, reach))
    else sum += reach
  }
  for (const reach of instead.values()) sum += reach
  return sum === 0 ? 0 : ((sum + 3) & ~3) + 4
}
