import { atStart, setBack, STEP_IDS, stepById, type StageId } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { developmentAtom, stageAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { STAGE_LIST } from '../state/stages'

const stepsOf = (stage: StageId) => STEP_IDS.filter((id) => stepById.get(id)!.stage === stage)

/** Whether anything of the stage that is worked on departs from the start. */
export const stageChangedAtom = atom((get) => !atStart(get(developmentAtom), stepsOf(get(stageAtom))))
export const anyChangedAtom = atom((get) => !atStart(get(developmentAtom), STEP_IDS))

export function setStageBack({ get, adjust }: Bench): void {
  const { id, name } = STAGE_LIST.find((s) => s.id === get(stageAtom))!
  adjust((d) => setBack(d, stepsOf(id)), `${name} reset`)
}

export function setAllBack({ adjust }: Bench): void {
  adjust((d) => setBack(d, STEP_IDS), 'Everything reset')
}
