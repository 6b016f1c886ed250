import { lookById } from '@dunkelkammer/core'
import { StepSection } from '../steps/StepSection'
import type { DrawerProps } from '../steps/props'
import { section } from '../steps/section'

export const lookName = (look: DrawerProps['development']['steps']['look']): string =>
  look.kind === 'none' ? 'None' : look.kind === 'own' ? (lookById(look.id)?.name ?? look.name) : look.name

export const LookSection = section<DrawerProps & { onOpen(): void }>(['look'], function LookSection(props) {
  const { look } = props.development.steps
  return (
    <StepSection {...props} title="Look" steps={['look']}>
      <button className="button w-full !justify-between" onClick={props.onOpen} aria-haspopup="dialog">
        <span className={`truncate ${look.kind === 'none' ? 'text-quiet' : 'text-bright'}`}>
          {lookName(look)}
        </span>
        <span className="text-quiet">Choose</span>
      </button>
    </StepSection>
  )
})
