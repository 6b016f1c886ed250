import { Radio, RadioGroup } from '@headlessui/react'

/** One of a few, side by side. */
export function Choice<T extends string | number>(props: {
  label: string
  value: T
  options: readonly { value: T; label: string }[]
  onChange(value: NoInfer<T>): void
  className?: string
}) {
  return (
    <RadioGroup
      value={props.value}
      onChange={(value: T) => props.onChange(value)}
      aria-label={props.label}
      className={`flex ${props.className ?? ''}`}
    >
      {props.options.map((o) => (
        <Radio
          key={o.value}
          value={o.value}
          className="-ml-px flex-1 cursor-pointer border border-edge px-2.5 py-1 text-center whitespace-nowrap text-quiet first:ml-0 hover:text-bright data-checked:z-10 data-checked:border-safe data-checked:text-bright"
        >
          {o.label}
        </Radio>
      ))}
    </RadioGroup>
  )
}
