import { NumberControl } from '../../controls/NumberControl'
import { withStep, type DrawerProps } from './props'

export function ExposeDrawer({ development, adjust, endGesture }: DrawerProps) {
  const { exposure, baseRendering } = development.steps
  return (
    <>
      <NumberControl
        label="Exposure"
        unit="EV"
        value={exposure.ev}
        min={-5}
        max={5}
        step={0.05}
        digits={2}
        signed
        start={0}
        onChange={(ev) => adjust((d) => withStep(d, 'exposure', { ev }), 'Exposure', 'exposure')}
        onEnd={endGesture}
      />
      <NumberControl
        label="Grade"
        value={baseRendering.grade}
        min={0}
        max={5}
        step={0.1}
        digits={1}
        start={2}
        onChange={(grade) => adjust((d) => withStep(d, 'baseRendering', { grade }), 'Grade', 'grade')}
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">0 soft, 2 normal, 5 hard. Mid grey stays where it is.</p>
    </>
  )
}
