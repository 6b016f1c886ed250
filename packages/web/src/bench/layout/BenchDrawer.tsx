import { useAtom, useAtomValue } from 'jotai'
import type { StageId } from '@dunkelkammer/core'
import type { ComponentType } from 'react'
import { frameAtom, ownDrawerAtom, stageAtom, toolProblemAtom } from '../state/atoms'
import { OwnDrawer } from '../own/OwnDrawer'
import { OrdinarySections } from '../steps/OrdinarySection'
import { useBench } from '../state/bench'
import { RotateCcw, Rows2, Rows4 } from 'lucide-react'
import { setStageBack, stageChangedAtom } from './setBack'
import { AboutFrame } from './AboutFrame'
import { FoldButton, FoldedSide } from './Fold'
import { compactAtom, drawerShownAtom } from './room'
import { STAGE_LIST } from '../state/stages'

const SIDE = { name: 'drawer', keys: 'T', side: 'left', shown: drawerShownAtom } as const

/** The controls of the stage that is worked on. */
export function BenchDrawer({
  drawers,
}: {
  drawers: readonly { stage: StageId; Sections: ComponentType }[]
}) {
  const stage = useAtomValue(stageAtom)
  const own = useAtomValue(ownDrawerAtom)
  const frame = useAtomValue(frameAtom)
  const compact = useAtomValue(compactAtom)
  if (!useAtomValue(drawerShownAtom)) return <FoldedSide {...SIDE} />
  return (
    <aside
      aria-label="Drawer"
      data-rows={compact ? 'compact' : undefined}
      className="flex w-[320px] shrink-0 flex-col border-r border-line bg-panel"
    >
      {own ? (
        <div className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <OwnDrawer />
        </div>
      ) : (
        <div key={stage} className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <StageTitle />
          {drawers.map(({ stage: of, Sections }) => of === stage && <Sections key={Sections.name} />)}
          <OrdinarySections stage={stage} />
        </div>
      )}
      <ToolProblem />
      <AboutFrame frame={frame} />
    </aside>
  )
}

function StageTitle() {
  const bench = useBench()
  const stage = useAtomValue(stageAtom)
  const changed = useAtomValue(stageChangedAtom)
  const [compact, setCompact] = useAtom(compactAtom)
  const Rows = compact ? Rows4 : Rows2
  const { name } = STAGE_LIST.find((s) => s.id === stage)!
  return (
    <div className="mb-1 flex h-6 items-center">
      <h2 className="flex-1 font-semibold text-bright">{name}</h2>
      <button
        className="icon-button !h-6 !w-6"
        disabled={!changed}
        aria-label={`Reset ${name}`}
        title={`Reset all of ${name}`}
        onClick={() => setStageBack(bench)}
      >
        <RotateCcw className="h-3.5 w-3.5" aria-hidden />
      </button>
      <button
        className="icon-button !h-6 !w-6"
        aria-label="Compact rows"
        aria-pressed={compact}
        title="Compact rows (P)"
        onClick={() => setCompact(!compact)}
      >
        <Rows className="h-4 w-4" aria-hidden />
      </button>
      <FoldButton {...SIDE} />
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
