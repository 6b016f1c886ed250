import type { Job } from '@dunkelkammer/contract'
import { ProblemList } from '../shell/ProblemList'
import { useEffect, useRef, useState } from 'react'
import { api } from '../api/client'
import { fetchNews, queryClient, useJobs } from '../api/queries'
import { isQuiet, startedHere } from './started'

/** What a job is doing, by its kind. */
const DOING = {
  import: { says: 'Bringing in the folder', first: 'reading its contents' },
  settings: { says: 'Applying settings', first: 'writing them down' },
  areas: { says: 'Pasting an area', first: 'writing it down' },
  dust: { says: 'Looking for dust', first: 'opening the frames' },
} as const
type Kind = keyof typeof DOING
const isShown = (job: Job): job is Job & { kind: Kind } =>
  job.kind in DOING && !(isQuiet(job.id) && job.problems.length === 0 && job.state !== 'failed')

/** Work on a shoot that is being done, or was done while this page was open. */
export function ShootJobs({ shootId }: { shootId: string }) {
  const { data: jobs } = useJobs()
  const seen = useRef(new Set<string>())
  const [away, setAway] = useState<ReadonlySet<string>>(new Set())
  const all = jobs?.filter(isShown) ?? []
  const open = all.filter((j) => j.state === 'running' || j.state === 'waiting')
  for (const job of open) seen.current.add(job.id)
  const shown = all.filter((j) => (seen.current.has(j.id) || startedHere(j.id)) && !away.has(j.id))
  const finished = shown.filter((j) => !open.includes(j)).length
  useEffect(() => {
    if (finished > 0) void fetchNews(shootId)
  }, [finished, shootId])
  const takeBack = async (id: string) => {
    // why not is said by the job itself
    await api.takeJobBack(id).catch(() => undefined)
    await queryClient.invalidateQueries({ queryKey: ['jobs'] })
    void fetchNews(shootId)
  }
  return shown.map((job) => (
    <div key={job.id} className="border-b border-line bg-panel px-6 py-2 text-[12px]">
      <div className="flex items-center gap-4" role="status">
        {open.includes(job) && (
          <span className="h-[3px] w-24 shrink-0 bg-edge" aria-hidden>
            <span className="block h-full bg-safe" style={{ width: `${job.progress * 100}%` }} />
          </span>
        )}
        <span className="min-w-0 flex-1 truncate">
          {open.includes(job)
            ? `${DOING[job.kind].says}: ${job.message || DOING[job.kind].first}`
            : job.message}
        </span>
        {job.takesBack && (
          <button className="button !py-0.5" onClick={() => void takeBack(job.id)}>
            Take back
          </button>
        )}
        {open.includes(job) ? (
          <button className="button !py-0.5" onClick={() => void api.cancelJob(job.id)}>
            Cancel
          </button>
        ) : (
          <button className="button !py-0.5" onClick={() => setAway(new Set([...away, job.id]))}>
            Close
          </button>
        )}
      </div>
      <ProblemList problems={job.problems} className="mt-1 max-h-32 text-info" />
    </div>
  ))
}
