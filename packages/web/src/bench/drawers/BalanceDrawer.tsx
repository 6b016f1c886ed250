import { numbersOf, StepNumbers } from './StepNumbers'
import { StepSection } from './StepSection'
import { HueSection, type HueProps } from './balance/HueSection'
import { LookSection } from './balance/LookSection'
import { MonochromeSection } from './balance/MonochromeSection'
import { PrimariesSection } from './balance/PrimariesSection'
import { TintsSection } from './balance/TintsSection'
import { WhiteSection, type WhiteProps } from './balance/WhiteSection'
import type { DrawerProps } from './props'
import { section } from './section'

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
