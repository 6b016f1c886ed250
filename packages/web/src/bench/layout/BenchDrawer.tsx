import { useAtomValue } from 'jotai'
import type { StageId } from '@dunkelkammer/core'
import type { ComponentType } from 'react'
import { frameAtom, stageAtom, toolProblemAtom } from '../state/atoms'
import { OrdinarySections } from '../steps/OrdinarySection'
import { useBench } from '../state/bench'
import { RotateCcw } from 'lucide-react'
import { setStageBack, stageChangedAtom } from './setBack'
import { AboutFrame } from './AboutFrame'
import { STAGE_LIST } from '../state/stages'

/** The controls of the stage that is worked on. */
export function BenchDrawer({
  drawers,
}: {
  drawers: readonly { stage: StageId; Sections: ComponentType }[]
}) {
  const stage = useAtomValue(stageAtom)
  const frame = useAtomValue(frameAtom)
  return (
    <aside aria-label="Drawer" className="flex w-[320px] shrink-0 flex-col border-r border-line bg-panel">
      <div key={stage} className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
        <StageTitle />
        {drawers.map(({ stage: of, Sections }) => of === stage && <Sections key={Sections.name} />)}
        <OrdinarySections stage={stage} />
      </div>
      <ToolProblem />
      <AboutFrame frame={frame} />
    </aside>
  )
}

function StageTitle() {
  const bench = useBench()
  const stage = useAtomValue(stageAtom)
  const changed = useAtomValue(stageChangedAtom)
  const { name } = STAGE_LIST.find((s) => s.id === stage)!
  return (
    <div className="mb-2 flex h-6 items-center justify-between">
      <h2 className="font-semibold text-bright">{name}</h2>
      <button
        className="icon-button !h-6 !w-6"
        disabled={!changed}
        aria-label={`Set ${name} back`}
        title={`Set all of ${name} back`}
        onClick={() => setStageBack(bench)}
      >
        <RotateCcw className="h-3.5 w-3.5" aria-hidden />
      </button>
    </div>
  )
}

function ToolProblem() {
  const problem = useAtomValue(toolProblemAtom)
  return (
    problem && (
      <p role="alert" className="shrink-0 border-t border-line px-4 py-2 text-info">
        {problem}
      </p>
    )
  )
}
