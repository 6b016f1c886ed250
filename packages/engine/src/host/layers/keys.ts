import {
  log2,
  stepById,
  STEPS,
  type PartId,
  type Plan,
  type PlannedStep,
  type StepId,
} from '@dunkelkammer/core'

/** What steps amount to, without the places of their maps. */
export const keyOf = (steps: readonly PlannedStep[]): string =>
  JSON.stringify(steps.map(({ id, settings, strength, mask }) => [id, settings, strength, mask?.key]))

/** Where a step stands in the order of computation. */
export const placeOf = (id: PartId) => STEPS.findIndex((s) => s.id === id)

/** Steps for the whole picture, without those in areas: what is found out about it does not depend on areas. */
export const withoutAreas = (steps: readonly PlannedStep[]): PlannedStep[] => steps.filter((p) => !p.mask)

/** A plan's later steps for the whole picture as far as one of them, which need not be in it. */
export function stepsBefore(plan: Plan, until: StepId): PlannedStep[] {
  return withoutAreas(plan.render).filter((p) => placeOf(p.id) < placeOf(until))
}

/**
 * Steps without the one that only multiplies the light, where those after it follow, and the stops that it amounts to:
 * maps made without it hold with it, so that moving the exposure makes none anew.
 */
export function unscaled(steps: readonly PlannedStep[]): { before: readonly PlannedStep[]; lift: number } {
  const at = steps.findIndex((p) => stepById.get(p.id)!.scales)
  if (at < 0 || !steps.slice(at + 1).every((p) => stepById.get(p.id)!.follows))
    return { before: steps, lift: 0 }
  const { id, settings, strength } = steps[at]
  const gain = 1 + strength * (stepById.get(id)!.scales!(settings) - 1)
  if (!(gain > 0)) return { before: steps, lift: 0 }
  const before = steps.filter((_, i) => i !== at)
  // what follows had its own maps moved by as much: without the exposure they lie where they were
  return {
    before: before.map((p) => (p.surveyed?.lift ? { ...p, surveyed: { ...p.surveyed, lift: 0 } } : p)),
    lift: log2(gain),
  }
}
