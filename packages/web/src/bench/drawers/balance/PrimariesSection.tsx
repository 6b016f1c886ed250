import { PRIMARIES } from '@dunkelkammer/core'
import { Numbers, type Shown } from '../StepNumbers'
import { StepSection } from '../StepSection'
import { changer, type DrawerProps } from '../props'
import { section } from '../section'

const NAMES = { red: 'Red', green: 'Green', blue: 'Blue' } as const
const NUMBERS = PRIMARIES.map((p): readonly Shown[] => [
  { name: 'turn', label: `${NAMES[p]} turned`, unit: '°', range: [-30, 30, 0.5] },
  { name: 'spread', label: `${NAMES[p]} spread`, range: [-50, 50, 1], percent: true },
])

export const PrimariesSection = section<DrawerProps>(['primaries'], function PrimariesSection(props) {
  const settings = props.development.steps.primaries
  const set = changer(props, 'primaries')
  return (
    <StepSection {...props} title="Primaries" steps={['primaries']} folded>
      {PRIMARIES.map((p, i) => (
        <Numbers
          key={p}
          numbers={NUMBERS[i]}
          values={settings[p]}
          onChange={(name, value, label) =>
            set((now) => ({ [p]: { ...now[p], [name]: value } }), label, `primary ${p} ${name}`)
          }
          onEnd={props.endGesture}
        />
      ))}
    </StepSection>
  )
})
