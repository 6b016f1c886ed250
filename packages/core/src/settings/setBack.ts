import type { StepId } from '../steps'
import { sameSettings } from './departs'
import { startDevelopment, type Development } from './development'

const START = startDevelopment()

/** Whether steps stand as they began: their settings, let in wholly, not switched off. */
export function atStart(development: Development, ids: readonly StepId[]): boolean {
  return ids.every(
    (id) =>
      sameSettings(development.steps[id], START.steps[id]) &&
      (development.strength[id] ?? 1) === 1 &&
      !development.off.includes(id),
  )
}

/** A development with some steps as they began. */
export function setBack(development: Development, ids: readonly StepId[]): Development {
  const strength = { ...development.strength }
  for (const id of ids) delete strength[id]
  return {
    ...development,
    steps: { ...development.steps, ...Object.fromEntries(ids.map((id) => [id, START.steps[id]])) },
    strength,
    off: development.off.filter((id) => !ids.includes(id)),
  }
}
