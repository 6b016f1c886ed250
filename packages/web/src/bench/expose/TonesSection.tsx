import { fieldsOf, GRIPS, type Grip } from '@dunkelkammer/core'
import { Numbers, shown } from '../steps/StepNumbers'
import { PinButton } from '../steps/PinButton'
import { changer, useSection } from '../steps/props'
import { StepSection } from '../steps/StepSection'
import { heldGrip } from '../tone/gripLimits'

const GRIP_FIELDS = fieldsOf('tones')
const LIFTS = GRIP_FIELDS.filter(({ path }) => path[1] === 'lift').map((f) => shown(f))
const PLACES = GRIP_FIELDS.filter(({ path }) => path[1] === 'at').map((f) => shown(f))

/** What lifts and lowers tones. */
export function TonesSection() {
  const props = useSection('tones')
  const { tones } = props.development.steps
  const set = changer(props, 'tones')
  const values = (part: 'lift' | 'at') => Object.fromEntries(GRIPS.map((g) => [g, tones[g][part]]))
  return (
    <StepSection {...props} title="Tones" steps={['tones']}>
      <Numbers
        numbers={LIFTS}
        values={values('lift')}
        onChange={(g, lift, label) =>
          set((now) => ({ [g]: { ...now[g as Grip], lift } }), label, `grip ${g}`)
        }
        margin={(g, label) => <PinButton step="tones" field={`${g}.lift`} label={label} />}
        onEnd={props.endGesture}
      />
      <details className="mt-1">
        <summary className="cursor-pointer py-1 text-quiet">Positions on the scale</summary>
        <Numbers
          numbers={PLACES}
          values={values('at')}
          onChange={(g, at, label) =>
            set(
              (now) => ({ [g]: { ...now[g as Grip], at: heldGrip(now, g as Grip, at) } }),
              label,
              `grip ${g} at`,
            )
          }
          onEnd={props.endGesture}
        />
      </details>
    </StepSection>
  )
}
