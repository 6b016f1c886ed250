import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { Toggle } from '../../controls/Toggle'
import { withStep, type DrawerProps } from './props'

export function RefineDrawer({ development, adjust, endGesture }: DrawerProps) {
  const { defects, greenBalance, demosaic } = development.steps
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
      <div className="mt-4 border-t border-line pt-3">
        <Toggle
          label="Even the two greens"
          checked={greenBalance.even}
          onChange={(even) =>
            adjust((d) => withStep(d, 'greenBalance', { even }), even ? 'Even the greens' : 'Greens as read')
          }
        />
        <ShareControl
          label="Against false colour"
          value={demosaic.falseColour}
          start={0.5}
          onChange={(falseColour) =>
            adjust((d) => withStep(d, 'demosaic', { falseColour }), 'Against false colour', 'falseColour')
          }
          onEnd={endGesture}
        />
        <p className="mt-1 text-[12px] text-quiet">
          Colour that only fine detail feigns gives way to the colour around it. More also takes from small
          coloured things.
        </p>
      </div>
    </>
  )
}
