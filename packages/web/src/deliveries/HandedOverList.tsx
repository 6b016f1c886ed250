import type { HandedOver } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { RotateCcw, X } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient } from '../api/queries'
import { moment } from '../shell/format'
import { ErrorNotice } from '../shell/Notice'
import { TableHead } from '../shell/TableHead'

const KEY = ['handed over']
const COLUMNS = [['Frame', 'w-[30%]'], ['Given', 'w-[17%]'], ['To', 'w-[20%]'], ['Result']] as const

/** Files that were given to other programs and may still come back; nothing where there are none. */
export function HandedOverList() {
  const query = useQuery({ queryKey: KEY, queryFn: api.handedOver, refetchInterval: 3000 })
  const [problem, setProblem] = useState<string>()
  const attempt = async (what: (id: string) => Promise<unknown>, { id }: HandedOver) => {
    setProblem(undefined)
    await what(id).catch((error: unknown) => setProblem(sentence(error)))
    await queryClient.invalidateQueries({ queryKey: KEY })
  }
  if (!query.data?.length) return null
  return (
    <section aria-label="Handed over" className="mt-10">
      <h2 className="mb-3 text-base font-semibold text-bright">Handed over</h2>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      <table className="w-full table-fixed border-collapse text-left">
        <TableHead columns={COLUMNS} />
        <tbody>
          {query.data.map((handed) => (
            <tr key={handed.id} className="border-b border-line align-top">
              <td className="truncate py-2.5 pr-4" title={handed.path}>
                <Link
                  className="text-bright hover:underline"
                  to={`/shoots/${handed.shootId}/frames/${handed.frameId}`}
                >
                  {handed.frameName}
                </Link>
                <span className="text-quiet">, {handed.delivery}</span>
              </td>
              <td className="py-2.5 pr-4 text-quiet">{moment(handed.given)}</td>
              <td className="truncate py-2.5 pr-4" title={handed.path}>
                {handed.program ?? 'Whoever watches the folder'}
              </td>
              <td className="py-2.5 pr-4 break-words text-quiet">
                {cameBack(handed.back)}
                {handed.problem && <p role="status">{handed.problem}</p>}
              </td>
              <td className="py-1 text-right whitespace-nowrap">
                {handed.program !== undefined && (
                  <button
                    className="icon-button"
                    aria-label={`Give ${handed.frameName} to ${handed.program} again`}
                    title="Give it again"
                    onClick={() => void attempt(api.giveAgain, handed)}
                  >
                    <RotateCcw className="h-4 w-4" aria-hidden />
                  </button>
                )}
                <button
                  className="icon-button"
                  aria-label={`Wait no longer for ${handed.frameName}`}
                  title="Wait no longer for what comes back"
                  onClick={() => void attempt(api.waitNoLonger, handed)}
                >
                  <X className="h-4 w-4" aria-hidden />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

const cameBack = (frames: number) =>
  frames === 0 ? 'Nothing came back yet.' : `${frames} ${frames === 1 ? 'frame' : 'frames'} came back.`
