import type { Frame, ShootPage } from '@dunkelkammer/contract'
import { keepPreviousData, QueryClient, useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { recover } from '../desk/recover'
import { api } from './client'

export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 5000, refetchOnWindowFocus: true } },
})

export const useShoots = () => useQuery({ queryKey: ['shoots'], queryFn: api.shoots })

/** Looks that the user has brought or made. */
export const useLooks = () => useQuery({ queryKey: ['looks'], queryFn: api.looks })
/** Lenses whose names hold the words of a search. */
export const useLenses = (search: string) =>
  useQuery({
    queryKey: ['lenses', search],
    queryFn: () => api.lenses(search),
    placeholderData: keepPreviousData,
  })
/** One lens with all its measurements. */
export const useLens = (id: string | undefined) =>
  useQuery({ queryKey: ['lens', id], queryFn: () => api.lens(id!), enabled: id !== undefined })
/** With which look new frames begin. */
export const useNewFrames = () => useQuery({ queryKey: ['new-frames'], queryFn: api.newFrames })

const NEWS_MS = 1500

/** A shoot with all its frames. It is fetched once; what changes afterwards comes as news. */
export function useShoot(id: string) {
  const query = useQuery({
    queryKey: ['shoot', id],
    queryFn: () => api.shoot(id),
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  })
  const known = query.data !== undefined
  useEffect(() => {
    if (!known) return
    const stop = new AbortController()
    const timer = setInterval(() => {
      if (document.visibilityState === 'visible') void fetchNews(id, stop.signal)
    }, NEWS_MS)
    return () => {
      stop.abort()
      clearInterval(timer)
    }
  }, [id, known])
  return query
}

/** Takes changed frames into a page's list: known ones are replaced, new ones join. */
export function withNews(page: ShootPage, changed: readonly Frame[], at: number): ShootPage {
  const by = new Map(changed.map((f) => [f.id, f]))
  const frames = page.frames.map((f) => {
    const now = by.get(f.id)
    by.delete(f.id)
    return now ?? f
  })
  return { ...page, frames: [...frames, ...by.values()], at }
}

let asking = false
/** Asks what has changed in a shoot since it was last asked. */
export async function fetchNews(id: string, signal?: AbortSignal): Promise<void> {
  const key = ['shoot', id]
  const before = queryClient.getQueryData<ShootPage>(key)
  if (asking || !before) return
  asking = true
  try {
    const news = await api.news(id, before.at, signal)
    const page = queryClient.getQueryData<ShootPage>(key)
    // what was changed here meanwhile is newer than the answer
    if (!page || page.at !== before.at || unsettled.size) return
    const next = news.frames.length ? withNews(page, news.frames, news.at) : page
    if (next !== page) queryClient.setQueryData(key, next)
    // some are gone, or more have come than are told at once
    if (news.more || next.frames.length !== news.count) await queryClient.refetchQueries({ queryKey: key })
  } catch {
    // the page shows what it has; asking again comes by itself
  } finally {
    asking = false
  }
}

/** Changes on their way to the server: until they are there, its news is older than the page. */
export const unsettled = new Set<object>()

export const useFrame = (id: string) =>
  useQuery({
    queryKey: ['frame', id],
    // what an earlier window could not save belongs to what is shown
    queryFn: () => recover().then(() => api.frame(id)),
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

/** Gives a shoot another name, and has all pages know. */
export async function renameShoot(id: string, name: string): Promise<void> {
  await api.renameShoot(id, name)
  await Promise.all([
    queryClient.invalidateQueries({ queryKey: ['shoots'] }),
    queryClient.invalidateQueries({ queryKey: ['shoot', id] }),
  ])
}
