import { StepNumbers, type Shown } from './StepNumbers'
import { StepSection } from './StepSection'
import type { DrawerProps } from './props'

const BURN: readonly Shown[] = [
  { name: 'ev', label: 'At the edge', unit: 'EV', range: [-4, 4, 0.05] },
  { name: 'begin', label: 'Begins at', range: [0, 120, 5], start: 45, percent: true },
  { name: 'run', label: 'Run-out', range: [5, 150, 5], start: 70, percent: true },
  { name: 'shape', label: 'Shape like the frame', range: [0, 100, 5], start: 50, percent: true },
]
const GRAIN: readonly Shown[] = [
  { name: 'strength', label: 'Strength of the grain', range: [0, 100, 5], percent: true },
  { name: 'size', label: 'Size of the grain', unit: '‰', range: [0.2, 4, 0.1], start: 0.8 },
]

export function FinishDrawer(props: DrawerProps) {
  const { development, tool, take } = props
  return (
    <>
      <StepSection {...props} title="Edge burn" steps={['edgeBurn']}>
        <StepNumbers {...props} step="edgeBurn" numbers={BURN} />
        <button
          className="button mt-1 w-full"
          aria-pressed={tool === 'centre'}
          onClick={() => take(tool === 'centre' ? undefined : 'centre')}
        >
          {tool === 'centre' ? 'Drag the centre on the picture' : 'Move the centre'}
        </button>
        <p className="mt-1 text-[12px] text-quiet">
          Shares of half the diagonal. The ratios of the colours stay.
        </p>
      </StepSection>
      <StepSection {...props} title="Film grain" steps={['grain']}>
        <StepNumbers {...props} step="grain" numbers={GRAIN} />
        <p className="mt-1 text-[12px] text-quiet">
          Thousandths of the long edge: {(development.steps.grain.size * 0.3).toFixed(2)} mm on a print of 30
          cm. The whole picture shows the grain as that print would.
        </p>
      </StepSection>
    </>
  )
}
