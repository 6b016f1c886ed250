import type { ReactNode } from 'react'
import { NumberField } from '../../controls/NumberField'

/** A name and what it is set by, in one line. */
export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-8 items-center justify-between gap-4">
      <span className="text-quiet">{label}</span>
      <span className="flex items-center gap-2">{children}</span>
    </div>
  )
}

/** A list to choose one thing from, in one line with its name. */
export function Pick<T extends string>(props: {
  label: string
  value: T
  options: readonly { value: T; label: string }[]
  onChange(value: T): void
}) {
  return (
    <label className="flex min-h-8 items-center justify-between gap-4">
      <span className="text-quiet">{props.label}</span>
      <select
        className="field !w-60 py-1"
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

/** A number between two ends, with its unit. */
export function Amount(props: {
  label: string
  value: number
  unit: string
  least: number
  most: number
  whole?: boolean
  onChange(value: number): void
}) {
  const { least, most } = props
  return (
    <>
      <NumberField
        label={props.label}
        className="field !w-20 py-1 text-right"
        shown={String(props.value)}
        whole={props.whole}
        title={`${least} to ${most}`}
        onChange={(v) => props.onChange(Math.min(Math.max(v, least), most))}
      />
      <span className="w-8 text-quiet">{props.unit}</span>
    </>
  )
}

export function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="border-t border-line py-3">
      <h3 className="mb-1 font-semibold text-bright">{title}</h3>
      {children}
    </section>
  )
}
