import type { StageId } from '@dunkelkammer/core'

/** The stages as the bench shows them. */
export const STAGE_LIST: readonly { id: StageId; name: string; open: boolean }[] = [
  { id: 'square-up', name: 'Square up', open: true },
  { id: 'expose', name: 'Expose', open: true },
  { id: 'balance', name: 'Balance', open: true },
  { id: 'refine', name: 'Refine', open: true },
  { id: 'mend', name: 'Mend', open: true },
  { id: 'shape', name: 'Shape', open: true },
  { id: 'finish', name: 'Finish', open: true },
]

export const OPEN_STAGES = STAGE_LIST.filter((s) => s.open)

export const isOpenStage = (id: string | null): id is StageId => OPEN_STAGES.some((s) => s.id === id)
