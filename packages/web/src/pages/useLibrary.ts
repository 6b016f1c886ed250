import { useQuery } from '@tanstack/react-query'
import { api } from '../api/client'

/** What the library's folder holds. */
export const useLibrary = (watch = false) =>
  useQuery({
    queryKey: ['library'],
    queryFn: api.library,
    staleTime: 0,
    // what is unknown may be on its way in, sidecars on their way out
    refetchInterval: ({ state: { data } }) =>
      watch && (data?.unknown.count || data?.sidecars.waiting) ? 2000 : false,
  })
