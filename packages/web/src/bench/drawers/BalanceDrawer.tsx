import { ShareControl } from '../../controls/ShareControl'
import { StepSection } from '../../controls/StepSection'
import { HueSection, type HueProps } from './balance/HueSection'
import { LookSection } from './balance/LookSection'
import { MonochromeSection } from './balance/MonochromeSection'
import { PrimariesSection } from './balance/PrimariesSection'
import { TintsSection } from './balance/TintsSection'
import { WhiteSection, type WhiteProps } from './balance/WhiteSection'
import { changer, type DrawerProps } from './props'

export function BalanceDrawer(
  props: DrawerProps & {
    white: WhiteProps
    hue: HueProps
    onLooks(): void
    onCompare(): void
  },
) {
  const { development, endGesture } = props
  const { all, muted, spareSkin } = development.steps.colourfulness
  const set = changer(props, 'colourfulness')
  return (
    <>
      <WhiteSection {...props} {...props.white} />
      <LookSection {...props} onOpen={props.onLooks} />
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
      <HueSection {...props} {...props.hue} />
      <TintsSection {...props} />
      <PrimariesSection {...props} />
      <MonochromeSection {...props} onCompare={props.onCompare} />
    </>
  )
}
