import { useQuery } from '@tanstack/react-query'
import { Link, Navigate, useSearchParams } from 'react-router'
import { api } from '../api/client'
import { Awaited } from '../shell/Awaited'
import { Page } from '../shell/Page'

/** Opens a picture of the server's disk at the bench, by its path in the address. */
export function OpenFilePage() {
  const path = useSearchParams()[0].get('path') ?? ''
  const query = useQuery({
    queryKey: ['open', path],
    queryFn: () => api.openFile(path),
    enabled: path !== '',
    retry: false,
    gcTime: 0,
  })
  if (query.data)
    return <Navigate replace to={`/shoots/${query.data.shootId}/frames/${query.data.frameId}`} />
  return (
    <Page title="Open a picture">
      {path ? (
        <>
          <p className="mb-4 break-all text-quiet">{path}</p>
          <Awaited query={query} label="Looking at the file" />
        </>
      ) : (
        <p className="text-quiet">
          The address names no file: it ends in <code>?path=</code> and the path of the picture.
        </p>
      )}
      {(query.error || !path) && (
        <p className="mt-4">
          <Link to="/" className="text-bright underline">
            Go to the shoots
          </Link>
        </p>
      )}
    </Page>
  )
}
