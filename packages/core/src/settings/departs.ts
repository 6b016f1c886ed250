import { stepById, type StepId } from '../steps'
import type { Development } from './development'

/** Whether a step's settings would change the picture, were nothing held or switched off. */
export function departs(id: StepId, development: Development): boolean {
  const { neutral, idle } = stepById.get(id)!
  const settings = development.steps[id]
  return JSON.stringify(settings) !== JSON.stringify(neutral) && !idle?.(settings)
}
