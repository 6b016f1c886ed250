import type { UseQueryResult } from '@tanstack/react-query'
import { sentence } from '../api/client'
import { ErrorNotice, Progress } from './Notice'

/** What stands where a query's data will be: the waiting, or the failure with a way to try again. */
export function Awaited({ query, label }: { query: UseQueryResult<unknown>; label: string }) {
  if (query.isPending) return <Progress label={label} />
  if (!query.error) return null
  return (
    <ErrorNotice
      action={
        <button className="button" onClick={() => void query.refetch()}>
          Try again
        </button>
      }
    >
      {sentence(query.error)}
    </ErrorNotice>
  )
}
