import type { Frame } from '@dunkelkammer/contract'
import { aboutRows } from './about'

/** What is known of a taking and its file, by name. */
export function AboutList({ frame }: { frame: Frame }) {
  return (
    <dl className="text-[12px]">
      {aboutRows(frame).map(([label, value]) => (
        <div key={label} className="flex gap-3 border-b border-line py-0.5">
          <dt className="w-24 shrink-0 text-quiet">{label}</dt>
          <dd className="min-w-0 flex-1 text-right break-words">{value}</dd>
        </div>
      ))}
    </dl>
  )
}
