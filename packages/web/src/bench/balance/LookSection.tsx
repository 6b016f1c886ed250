import { lookById, type Development } from '@dunkelkammer/core'
import { StepSection } from '../steps/StepSection'
import { useSection } from '../steps/props'
import { looksOpenAtom } from '../state/atoms'
import { useBench } from '../state/bench'

export const lookName = (look: Development['steps']['look']): string =>
  look.kind === 'none' ? 'None' : look.kind === 'own' ? (lookById(look.id)?.name ?? look.name) : look.name

export function LookSection() {
  const props = useSection('look')
  const { set } = useBench()
  const { look } = props.development.steps
  return (
    <StepSection {...props} title="Look" steps={['look']}>
      <button
        className="button w-full !justify-between"
        onClick={() => set(looksOpenAtom, true)}
        aria-haspopup="dialog"
      >
        <span className={`truncate ${look.kind === 'none' ? 'text-quiet' : 'text-bright'}`}>
          {lookName(look)}
        </span>
        <span className="text-quiet">Choose</span>
      </button>
    </StepSection>
  )
}
