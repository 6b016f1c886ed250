import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { HueSection, type HueProps } from './HueSection'
import { LookSection } from './LookSection'
import { MonochromeSection } from './MonochromeSection'
import { PrimariesSection } from './PrimariesSection'
import { TintsSection } from './TintsSection'
import { WhiteSection, type WhiteProps } from './WhiteSection'
import type { DrawerProps } from '../steps/props'
import { section } from '../steps/section'

const COLOURFULNESS = numbersOf('colourfulness', 'all', 'muted', 'spareSkin')

const ColourfulnessSection = section<DrawerProps>(['colourfulness'], function ColourfulnessSection(props) {
  return (
    <StepSection {...props} title="Colourfulness" steps={['colourfulness']}>
      <StepNumbers {...props} step="colourfulness" numbers={COLOURFULNESS} />
    </StepSection>
  )
})

export function BalanceDrawer(
  props: DrawerProps & { white: WhiteProps; hue: HueProps; onLooks(): void; onCompare(): void },
) {
  const { white, hue, onLooks, onCompare, ...rest } = props
  return (
    <>
      <WhiteSection {...rest} {...white} />
      <LookSection {...rest} onOpen={onLooks} />
      <ColourfulnessSection {...rest} />
      <HueSection {...rest} {...hue} />
      <TintsSection {...rest} />
      <PrimariesSection {...rest} />
      <MonochromeSection {...rest} onCompare={onCompare} />
    </>
  )
}
