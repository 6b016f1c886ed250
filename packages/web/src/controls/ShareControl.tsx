import { NumberControl } from './NumberControl'

/** A share of 0 to 1, shown and typed in per cent. */
export function ShareControl(props: {
  label: string
  value: number
  start: number
  onChange(value: number): void
  onEnd?(): void
}) {
  return (
    <NumberControl
      label={props.label}
      unit="%"
      value={Math.round(props.value * 100)}
      min={0}
      max={100}
      step={5}
      digits={0}
      start={props.start * 100}
      onChange={(v) => props.onChange(v / 100)}
      onEnd={props.onEnd}
    />
  )
}
