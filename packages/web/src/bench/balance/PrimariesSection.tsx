import { fieldsOf, PRIMARIES } from '@dunkelkammer/core'
import { Numbers, shown } from '../steps/StepNumbers'
import { StepSection } from '../steps/StepSection'
import { changer, useSection } from '../steps/props'

const NUMBERS = PRIMARIES.map((p) =>
  fieldsOf('primaries')
    .filter(({ path }) => path[0] === p)
    .map((field) => shown(field, 1)),
)

export function PrimariesSection() {
  const props = useSection('primaries')
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
}
