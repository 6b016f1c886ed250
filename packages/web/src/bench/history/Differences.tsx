import { changesBetween, differencesOf, type Development } from '@dunkelkammer/core'
import { useMemo } from 'react'

/** What changed from one development to another, thing by thing. */
export function Differences(props: { from: Development; to: Development; className?: string }) {
  const { from, to } = props
  const all = useMemo(() => changesBetween(from, to).flatMap(differencesOf), [from, to])
  if (all.length === 0) return <p className={`text-quiet ${props.className ?? ''}`}>Nothing differs.</p>
  return (
    <table className={`w-full text-[12px] ${props.className ?? ''}`}>
      <tbody>
        {all.map((d, i) => (
          <tr key={i} className="border-t border-line align-baseline first:border-t-0">
            <th scope="row" className="py-0.5 pr-2 text-left font-normal text-text">
              {d.what}
            </th>
            <td className="py-0.5 text-right whitespace-nowrap text-quiet tabular-nums">{d.from}</td>
            <td className="w-5 py-0.5 text-center text-quiet" aria-label="to">
              {d.from !== undefined && '→'}
            </td>
            <td className="py-0.5 text-right whitespace-nowrap text-bright tabular-nums">{d.to}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
