import type { Development, StepId } from '@dunkelkammer/core'
import { changer, type DrawerProps } from './props'
import { NumberControl } from '../../controls/NumberControl'

/** A number of some settings, as a control shows it. */
export interface Shown {
  /** Where it stands in the settings. */
  name: string
  label: string
  unit?: string
  /** Least, largest, and one step of it, as shown. */
  range: readonly [number, number, number]
  /** As shown; 0 where not said. */
  start?: number
  /** Stored as a share, shown in whole per cent. */
  percent?: boolean
  /** As shown over as stored, where it is neither of these. */
  scale?: number
}

const digitsOf = (step: number) => (step >= 1 ? 0 : step >= 0.1 ? 1 : 2)

/** Numbers of some settings, one below the other. */
export function Numbers(props: {
  numbers: readonly Shown[]
  values: Readonly<Record<string, unknown>>
  disabled?: boolean
  onChange(name: string, value: number, label: string): void
  onEnd(): void
}) {
  const { numbers, values, disabled, onChange, onEnd } = props
  return numbers.map(({ name, label, unit, range: [min, max, step], start = 0, percent, scale = 1 }) => (
    <NumberControl
      key={name}
      label={label}
      unit={percent ? '%' : unit}
      value={percent ? Math.round(Number(values[name]) * 100) : Number(values[name]) * scale}
      min={min}
      max={max}
      step={step}
      digits={digitsOf(step)}
      signed={min < 0 || unit === 'EV'}
      start={start}
      disabled={disabled}
      onChange={(v) => onChange(name, percent ? v / 100 : v / scale, label)}
      onEnd={onEnd}
    />
  ))
}

/** Numbers that stand directly in one step's settings. */
export function StepNumbers(
  props: Pick<DrawerProps, 'development' | 'adjust' | 'endGesture'> & {
    step: StepId
    numbers: readonly Shown[]
    disabled?: boolean
  },
) {
  const { step, numbers, development, endGesture, disabled } = props
  const set = changer(props, step)
  return (
    <Numbers
      numbers={numbers}
      values={development.steps[step]}
      disabled={disabled}
      onChange={(name, value, label) =>
        set({ [name]: value } as unknown as Partial<Development['steps'][StepId]>, label, `${step} ${name}`)
      }
      onEnd={endGesture}
    />
  )
}
