import { BURN_CENTRE } from './tools'
import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { useSection } from '../steps/props'

const BURN = numbersOf('edgeBurn', 'ev', 'begin', 'run', 'shape')
const GRAIN = numbersOf('grain', 'strength', 'size')

/** The sections of finishing. */
export function FinishDrawer() {
  const props = useSection('edgeBurn', 'grain')
  const { development, tool, toggleTool } = props
  return (
    <>
      <StepSection {...props} title="Edge burn" steps={['edgeBurn']}>
        <StepNumbers {...props} step="edgeBurn" numbers={BURN} />
        <button
          className="button mt-1 w-full"
          aria-pressed={tool === BURN_CENTRE}
          onClick={() => toggleTool(BURN_CENTRE)}
        >
          {tool === BURN_CENTRE ? 'Drag the centre on the picture' : 'Move the centre'}
        </button>
        <p className="hint">Start and softness are in per cent of half the diagonal.</p>
      </StepSection>
      <StepSection {...props} title="Film grain" steps={['grain']}>
        <StepNumbers {...props} step="grain" numbers={GRAIN} />
        <p className="hint">
          Thousandths of the long edge: {(development.steps.grain.size * 0.3).toFixed(2)} mm on a print of 30
          cm. The whole picture shows the grain as that print would.
        </p>
      </StepSection>
    </>
  )
}
