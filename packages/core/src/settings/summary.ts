import { stepById, STEP_IDS, type StageId, type StepId } from '../steps'
import { sameSettings as same } from './departs'
import { startDevelopment, type Development } from './development'

const START = startDevelopment()

/** Whether there is something to say of a step: not where it is as at the start, or was given settings without effect. */
function tells(id: StepId, { steps, off }: Development): boolean {
  const { neutral, idle } = stepById.get(id)!
  const [now, start] = [steps[id], START.steps[id]]
  if (off.includes(id) || same(now, start)) return false
  return !(same(neutral, start) && idle?.(now))
}

/** One line for the stage line: what a stage does to the picture, empty where nothing. */
export function stageSummary(stage: StageId, development: Development): string {
  const parts = STEP_IDS.flatMap((id) => {
    const step = stepById.get(id)!
    if (step.stage !== stage || !tells(id, development)) return []
    return step.says?.(development.steps[id]) ?? []
  })
  return [...new Set(parts)].join(', ')
}
