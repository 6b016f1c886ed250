import { stepById, type StepId } from '../steps'
import type { Development } from './development'

/** Whether two settings say the same. */
export const sameSettings = (a: unknown, b: unknown): boolean =>
  a === b || JSON.stringify(a) === JSON.stringify(b)

/** Whether a step's settings would change the picture, were nothing held or switched off. */
export function departs(id: StepId, development: Development): boolean {
  const { neutral, idle } = stepById.get(id)!
  const settings = development.steps[id]
  return !sameSettings(settings, neutral) && !idle?.(settings)
}
