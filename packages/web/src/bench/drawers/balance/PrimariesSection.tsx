import { PRIMARIES } from '@dunkelkammer/core'
import { NumberControl } from '../../../controls/NumberControl'
import { StepSection } from '../../../controls/StepSection'
import { changer, type DrawerProps } from '../props'
import { section } from '../section'

const NAMES = { red: 'Red', green: 'Green', blue: 'Blue' } as const

export const PrimariesSection = section<DrawerProps>(['primaries'], function PrimariesSection(props) {
  const { development, endGesture } = props
  const settings = development.steps.primaries
  const set = changer(props, 'primaries')
  return (
    <StepSection {...props} title="Primaries" steps={['primaries']} folded>
      {PRIMARIES.map((p) => (
        <div key={p}>
          <NumberControl
            label={`${NAMES[p]} turned`}
            unit="°"
            value={settings[p].turn}
            min={-30}
            max={30}
            step={0.5}
            digits={1}
            signed
            start={0}
            onChange={(turn) =>
              set((now) => ({ [p]: { ...now[p], turn } }), `${NAMES[p]} primary`, `primary ${p} turn`)
            }
            onEnd={endGesture}
          />
          <NumberControl
            label={`${NAMES[p]} spread`}
            unit="%"
            value={Math.round(settings[p].spread * 100)}
            min={-50}
            max={50}
            step={1}
            digits={0}
            signed
            start={0}
            onChange={(v) =>
              set(
                (now) => ({ [p]: { ...now[p], spread: v / 100 } }),
                `${NAMES[p]} primary`,
                `primary ${p} spread`,
              )
            }
            onEnd={endGesture}
          />
        </div>
      ))}
    </StepSection>
  )
})
