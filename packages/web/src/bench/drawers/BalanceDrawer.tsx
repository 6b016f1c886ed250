import { ShareControl } from '../../controls/ShareControl'
import { StepSection } from '../../controls/StepSection'
import { HueSection, type HueProps } from './balance/HueSection'
import { LookSection } from './balance/LookSection'
import { MonochromeSection } from './balance/MonochromeSection'
import { PrimariesSection } from './balance/PrimariesSection'
import { TintsSection } from './balance/TintsSection'
import { WhiteSection, type WhiteProps } from './balance/WhiteSection'
import { changer, type DrawerProps } from './props'
import { section } from './section'

const ColourfulnessSection = section<DrawerProps>(['colourfulness'], function ColourfulnessSection(props) {
  const { endGesture } = props
  const { all, muted, spareSkin } = props.development.steps.colourfulness
  const set = changer(props, 'colourfulness')
  return (
    <StepSection {...props} title="Colourfulness" steps={['colourfulness']}>
      <ShareControl
        label="All colours"
        value={all}
        start={0}
        min={-1}
        onChange={(v) => set({ all: v }, 'Colourfulness', 'colour all')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Muted colours"
        value={muted}
        start={0}
        min={-1}
        onChange={(v) => set({ muted: v }, 'Muted colours', 'colour muted')}
        onEnd={endGesture}
      />
      <ShareControl
        label="Skin spared"
        value={spareSkin}
        start={1}
        onChange={(v) => set({ spareSkin: v }, 'Skin spared', 'colour skin')}
        onEnd={endGesture}
      />
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
