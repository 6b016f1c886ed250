/** One of many, from a list. */
export function Select<T extends string>(props: {
  label: string
  value: T
  options: readonly { value: T; label: string }[]
  onChange(value: T): void
}) {
  return (
    <label className="flex items-center justify-between gap-3 py-1.5">
      <span>{props.label}</span>
      <select
        className="field !w-44 py-1"
        value={props.value}
        onChange={(e) => props.onChange(e.target.value as T)}
      >
        {props.options.map((o) => (
          <option key={o.value} value={o.value}>
            {o.label}
          </option>
        ))}
      </select>
    </label>
  )
}
