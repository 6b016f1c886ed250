/** A line of text under its name. */
export function LabelledInput(props: {
  label: string
  value: string
  onChange(value: string): void
  maxLength?: number
  autoFocus?: boolean
  className?: string
}) {
  return (
    <label className={`flex flex-col gap-1 ${props.className ?? ''}`}>
      <span className="text-quiet">{props.label}</span>
      <input
        className="field"
        value={props.value}
        maxLength={props.maxLength}
        autoFocus={props.autoFocus}
        onChange={(e) => props.onChange(e.target.value)}
      />
    </label>
  )
}
