import { NumberControl } from '../../controls/NumberControl'
import { ShareControl } from '../../controls/ShareControl'
import { StepSection } from '../../controls/StepSection'
import { changer, type DrawerProps } from './props'

export function FinishDrawer(props: DrawerProps) {
  const { development, endGesture, tool, take } = props
  const { edgeBurn, grain } = development.steps
  const burn = changer(props, 'edgeBurn')
  const setGrain = changer(props, 'grain')
  return (
    <>
      <StepSection {...props} title="Edge burn" steps={['edgeBurn']}>
        <NumberControl
          label="At the edge"
          unit="EV"
          value={edgeBurn.ev}
          min={-4}
          max={4}
          step={0.05}
          digits={2}
          signed
          start={0}
          onChange={(ev) => burn({ ev }, 'Edge burn', 'burn')}
          onEnd={endGesture}
        />
        <ShareControl
          label="Begins at"
          value={edgeBurn.begin}
          start={0.45}
          max={1.2}
          onChange={(begin) => burn({ begin }, 'Edge burn begins', 'burn begin')}
          onEnd={endGesture}
        />
        <ShareControl
          label="Run-out"
          value={edgeBurn.run}
          start={0.7}
          min={0.05}
          max={1.5}
          onChange={(run) => burn({ run }, 'Run-out of the edge burn', 'burn run')}
          onEnd={endGesture}
        />
        <ShareControl
          label="Shape like the frame"
          value={edgeBurn.shape}
          start={0.5}
          onChange={(shape) => burn({ shape }, 'Shape of the edge burn', 'burn shape')}
          onEnd={endGesture}
        />
        <button
          className="button mt-1 w-full"
          aria-pressed={tool === 'centre'}
          onClick={() => take(tool === 'centre' ? undefined : 'centre')}
        >
          {tool === 'centre' ? 'Drag the centre on the picture' : 'Move the centre'}
        </button>
        <p className="mt-1 text-[12px] text-quiet">
          Shares of half the diagonal. The ratios of the colours stay.
        </p>
      </StepSection>
      <StepSection {...props} title="Film grain" steps={['grain']}>
        <ShareControl
          label="Strength of the grain"
          value={grain.strength}
          start={0}
          onChange={(strength) => setGrain({ strength }, 'Film grain', 'grain')}
          onEnd={endGesture}
        />
        <NumberControl
          label="Size of the grain"
          unit="‰"
          value={grain.size}
          min={0.2}
          max={4}
          step={0.1}
          digits={1}
          start={0.8}
          onChange={(size) => setGrain({ size }, 'Size of the grain', 'grain size')}
          onEnd={endGesture}
        />
        <p className="mt-1 text-[12px] text-quiet">
          Thousandths of the long edge: {(grain.size * 0.3).toFixed(2)} mm on a print of 30 cm. The whole
          picture shows the grain as that print would.
        </p>
      </StepSection>
    </>
  )
}
