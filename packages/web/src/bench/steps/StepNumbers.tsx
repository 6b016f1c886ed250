import { fieldsIn, fieldsOf, type Development, type Field, type StepId } from '@dunkelkammer/core'
import type { ReactNode } from 'react'
import type { z } from 'zod'
import { changer, type SectionProps } from './props'
import { NumberControl } from '../../controls/NumberControl'
import { PinButton } from './PinButton'

/** A number of some settings, as a control shows it. */
export interface Shown {
  /** Where it stands in the settings. */
  name: string
  label: string
  unit?: string
  /** Least, largest, and one step of it, as shown. */
  range: readonly [number, number, number]
  /** As shown; missing where there is no going back to it. */
  start?: number
  /** As shown over as stored. */
  scale: number
}

const digitsOf = (step: number) => (step >= 1 ? 0 : step >= 0.1 ? 1 : 2)
/** What a multiplication leaves behind the last digit. */
const clean = (v: number) => Number(v.toFixed(6))

/** A field as a control shows it. @param part of its path by which the values name it */
export function shown(field: Field, part = 0): Shown {
  const { label, unit, scale = 1, step = 1, start, path } = field
  const [min, max] = field.offers ?? [field.min! * scale, field.max! * scale]
  return {
    ...{ name: path[part], label, unit, scale },
    range: [clean(min), clean(max), step],
    start: clean(Number(start) * scale),
  }
}

const pick = (fields: readonly Field[], names: readonly string[]): readonly Shown[] =>
  names.map((name) => shown(fields.find(({ path }) => path.at(-1) === name)!))

/** Numbers of a step by their names. */
export const numbersOf = (step: StepId, ...names: string[]): readonly Shown[] => pick(fieldsOf(step), names)

/** Numbers of any settings by their names. */
export const numbersIn = (schema: z.ZodType, ...names: string[]): readonly Shown[] =>
  pick(fieldsIn(schema), names)

export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** The values of a choice in a step's settings, with their words. */
export function optionsOf<Id extends StepId, Name extends keyof Development['steps'][Id] & string>(
  step: Id,
  name: Name,
): readonly { value: Development['steps'][Id][Name] & string; label: string }[] {
  const { words = {} } = fieldsOf(step).find(({ path }) => path[0] === name)!
  return Object.entries(words).map(([value, text]) => ({ value: value as never, label: capital(text) }))
}

/** Numbers of some settings, one below the other. */
export function Numbers(props: {
  numbers: readonly Shown[]
  values: Readonly<Record<string, unknown>>
  disabled?: boolean
  /** What stands in the margin of a number. */
  margin?(name: string, label: string): ReactNode
  onChange(name: string, value: number, label: string): void
  onEnd(): void
}) {
  const { numbers, values, disabled, margin, onChange, onEnd } = props
  return numbers.map(({ name, label, unit, range: [min, max, step], start, scale }) => (
    <NumberControl
      key={name}
      label={label}
      unit={unit}
      margin={margin?.(name, label)}
      value={
        unit === '%' && step >= 1 ? Math.round(Number(values[name]) * scale) : Number(values[name]) * scale
      }
      min={min}
      max={max}
      step={step}
      digits={digitsOf(step)}
      signed={min < 0 || unit === 'EV'}
      start={start}
      disabled={disabled}
      onChange={(v) => onChange(name, v / scale, label)}
      onEnd={onEnd}
    />
  ))
}

/** Numbers that stand directly in one step's settings. */
export function StepNumbers(
  props: Pick<SectionProps, 'development' | 'adjust' | 'endGesture'> & {
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
      margin={(name, label) => <PinButton step={step} field={name} label={label} />}
      onChange={(name, value, label) =>
        set({ [name]: value } as unknown as Partial<Development['steps'][StepId]>, label, `${step} ${name}`)
      }
      onEnd={endGesture}
    />
  )
}
