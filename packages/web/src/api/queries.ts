import { QueryClient, useQuery } from '@tanstack/react-query'
import { api } from './client'

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5000, refetchOnWindowFocus: true } },
})

export const useShoots = () => useQuery({ queryKey: ['shoots'], queryFn: api.shoots })

export const useShoot = (id: string) => useQuery({ queryKey: ['shoot', id], queryFn: () => api.shoot(id) })

export const useFrame = (id: string) =>
  useQuery({
    queryKey: ['frame', id],
    queryFn: () => api.frame(id),
    staleTime: 0,
    gcTime: 0,
    refetchOnWindowFocus: false,
  })

/** The job list, looked at often while something is going on. */
export const useJobs = () =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: api.jobs,
    refetchInterval: (query) =>
      query.state.data?.some((j) => j.state === 'running' || j.state === 'waiting') ? 400 : 5000,
  })
