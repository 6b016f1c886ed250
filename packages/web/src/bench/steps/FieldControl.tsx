import { valueOf, withValue, type Field, type StepId } from '@dunkelkammer/core'
import { Select } from '../../controls/Select'
import { Toggle } from '../../controls/Toggle'
import { withStep } from './withStep'
import type { SectionProps } from './props'
import { capital, Numbers, shown } from './StepNumbers'

/** The control of one field: a number, a choice or a switch. */
export function FieldControl(
  props: Pick<SectionProps, 'development' | 'adjust' | 'endGesture'> & {
    step: StepId
    field: Field
    /** What it is called, where that is not its label. */
    label?: string
  },
) {
  const { step, field, development, adjust, endGesture } = props
  const { kind, path, words = {} } = field
  const label = props.label ?? field.label
  const value = valueOf(development.steps[step], field)
  const set = (next: unknown, gesture?: string) =>
    adjust((d) => withStep(d, step, withValue(d.steps[step], path, next) as object), field.label, gesture)
  if (kind === 'number') {
    const number = { ...shown(field, path.length - 1), label }
    return (
      <Numbers
        numbers={[number]}
        values={{ [number.name]: value }}
        onChange={(_, v) => set(v, `${step} ${path.join(' ')}`)}
        onEnd={endGesture}
      />
    )
  }
  if (kind === 'switch') return <Toggle label={label} checked={value === true} onChange={(on) => set(on)} />
  if (kind !== 'choice') return null
  const options = Object.entries(words).map(([of, text]) => ({ value: of, label: capital(text) }))
  return <Select label={label} value={String(value)} options={options} onChange={(v) => set(v)} />
}
