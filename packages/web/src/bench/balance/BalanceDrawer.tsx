import { numbersOf, StepNumbers } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { HueSection } from './HueSection'
import { LookSection } from './LookSection'
import { MonochromeSection } from './MonochromeSection'
import { PrimariesSection } from './PrimariesSection'
import { TintsSection } from './TintsSection'
import { WhiteSection } from './WhiteSection'
import { useSection } from '../steps/props'

const COLOURFULNESS = numbersOf('colourfulness', 'all', 'muted', 'spareSkin')

function ColourfulnessSection() {
  const props = useSection('colourfulness')
  return (
    <StepSection {...props} title="Colourfulness" steps={['colourfulness']}>
      <StepNumbers {...props} step="colourfulness" numbers={COLOURFULNESS} />
    </StepSection>
  )
}

/** The sections of balancing. */
export function BalanceDrawer() {
  return (
    <>
      <WhiteSection />
      <LookSection />
      <ColourfulnessSection />
      <HueSection />
      <TintsSection />
      <PrimariesSection />
      <MonochromeSection />
    </>
  )
}
