import { NumberControl } from '../../controls/NumberControl'
import { Toggle } from '../../controls/Toggle'
import { withStep, type DrawerProps } from './props'

export function RefineDrawer({ development, adjust, endGesture }: DrawerProps) {
  const { defects } = development.steps
  return (
    <>
      <Toggle
        label="Mend hot and dead pixels"
        checked={defects.mend}
        onChange={(mend) =>
          adjust((d) => withStep(d, 'defects', { mend }), mend ? 'Mend defects' : 'Leave defects')
        }
      />
      <NumberControl
        label="Threshold above the noise"
        value={defects.threshold}
        min={1}
        max={10}
        step={0.5}
        digits={1}
        unit="σ"
        start={5}
        disabled={!defects.mend}
        onChange={(threshold) =>
          adjust((d) => withStep(d, 'defects', { threshold }), 'Defects threshold', 'defects')
        }
        onEnd={endGesture}
      />
      <p className="mt-1 text-[12px] text-quiet">
        Lower finds more. What the lens has spread over its neighbours, as real points of light are, stays.
      </p>
    </>
  )
}
