import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import type { DrawerProps } from '../steps/props'

const BURN = numbersOf('edgeBurn', 'ev', 'begin', 'run', 'shape')
const GRAIN = numbersOf('grain', 'strength', 'size')

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
