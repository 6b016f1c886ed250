import { useAtomValue } from 'jotai'
import type { StageId } from '@dunkelkammer/core'
import type { ComponentType } from 'react'
import { frameAtom, stageAtom, toolProblemAtom } from '../state/atoms'
import { OrdinarySections } from '../steps/OrdinarySection'
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
        <h2 className="mb-2 font-semibold text-bright">{STAGE_LIST.find((s) => s.id === stage)!.name}</h2>
        {drawers.map(({ stage: of, Sections }) => of === stage && <Sections key={Sections.name} />)}
        <OrdinarySections stage={stage} />
      </div>
      <ToolProblem />
      <AboutFrame frame={frame} />
    </aside>
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
