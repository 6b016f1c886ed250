import { wordsOf, type Portion } from '@dunkelkammer/core'
import { useMemo } from 'react'

/** What a portion sets, step by step. */
export function SetList({ portion }: { portion: Portion }) {
  const steps = useMemo(() => wordsOf(portion), [portion])
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5 text-[12px]">
      {steps.map(({ step, name, lines }) => (
        <div key={step} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd className="min-w-0 text-text tabular-nums">{lines.join(', ')}</dd>
        </div>
      ))}
    </dl>
  )
}
