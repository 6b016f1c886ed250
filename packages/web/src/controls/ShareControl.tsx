import { NumberControl } from './NumberControl'

/** A share of 0 to 1, shown and typed in per cent. */
export function ShareControl(props: {
  label: string
  value: number
  start: number
  /** Least and largest share, 0 and 1 where not said. */
  min?: number
  max?: number
  step?: number
  onChange(value: number): void
  onEnd?(): void
}) {
  return (
    <NumberControl
      label={props.label}
      unit="%"
      value={Math.round(props.value * 100)}
      min={(props.min ?? 0) * 100}
      max={(props.max ?? 1) * 100}
      step={props.step ?? 5}
      signed={(props.min ?? 0) < 0}
      digits={0}
      start={props.start * 100}
      onChange={(v) => props.onChange(v / 100)}
      onEnd={props.onEnd}
    />
  )
}
