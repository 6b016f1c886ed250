import { Line } from './fields'

/** A colour in sRGB. */
export function Colour(props: { label: string; value: string; onChange(value: string): void }) {
  return (
    <Line label={props.label}>
      <span className="text-quiet tabular-nums">{props.value}</span>
      <input
        type="color"
        aria-label={props.label}
        value={props.value}
        className="h-6 w-10 cursor-pointer border border-edge bg-night p-0"
        onChange={(e) => props.onChange(e.target.value)}
      />
    </Line>
  )
}
