import { ProblemList } from '../shell/ProblemList'
import { useEffect, useRef, useState } from 'react'
import { api } from '../api/client'
import { fetchNews, useJobs } from '../api/queries'
import { startedHere } from './started'

/** Folders of the server that are coming in, or came in while this page was open. */
export function FolderJobs({ shootId }: { shootId: string }) {
  const { data: jobs } = useJobs()
  const seen = useRef(new Set<string>())
  const [away, setAway] = useState<ReadonlySet<string>>(new Set())
  const imports = jobs?.filter((j) => j.kind === 'import') ?? []
  const open = imports.filter((j) => j.state === 'running' || j.state === 'waiting')
  for (const job of open) seen.current.add(job.id)
  const shown = imports.filter((j) => (seen.current.has(j.id) || startedHere(j.id)) && !away.has(j.id))
  const finished = shown.filter((j) => !open.includes(j)).length
  useEffect(() => {
    if (finished > 0) void fetchNews(shootId)
  }, [finished, shootId])
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
            ? `Bringing in the folder: ${job.message || 'reading its contents'}`
            : job.message}
        </span>
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
