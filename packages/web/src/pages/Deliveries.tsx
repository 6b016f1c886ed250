import type { Job } from '@dunkelkammer/contract'
import { Download } from 'lucide-react'
import { api } from '../api/client'
import { queryClient, useJobs } from '../api/queries'
import { moment } from '../shell/format'
import { Awaited } from '../shell/Awaited'
import { Page } from '../shell/Page'

const STATE: Record<Job['state'], string> = {
  waiting: 'waiting',
  running: 'at work',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
}

/** The queue: what is being made, and what came of it. */
export function DeliveriesPage() {
  const query = useJobs()
  const jobs = query.data
  return (
    <Page title="Deliveries">
      <Awaited query={query} label="Loading the deliveries" />
      {jobs?.length === 0 && (
        <p className="text-quiet">Nothing delivered yet. A picture is delivered from the bench.</p>
      )}
      {jobs && jobs.length > 0 && (
        <table className="w-full table-fixed border-collapse text-left">
          <thead>
            <tr className="border-b border-line text-quiet">
              <th className="w-[30%] py-2 pr-4 font-normal">Delivery</th>
              <th className="w-[17%] py-2 pr-4 font-normal">Started</th>
              <th className="w-[13%] py-2 pr-4 font-normal">Status</th>
              <th className="py-2 pr-4 font-normal">Result</th>
              <th className="w-24 py-2 font-normal">
                <span className="sr-only">Actions</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {jobs.map((job) => (
              <JobRow key={job.id} job={job} />
            ))}
          </tbody>
        </table>
      )}
    </Page>
  )
}

function JobRow({ job }: { job: Job }) {
  const open = job.state === 'running' || job.state === 'waiting'
  const cancel = async () => {
    await api.cancelJob(job.id).catch(() => undefined)
    void queryClient.invalidateQueries({ queryKey: ['jobs'] })
  }
  return (
    <tr className="border-b border-line align-top">
      <td className="truncate py-3 pr-4 text-bright" title={job.title}>
        {job.title}
      </td>
      <td className="py-3 pr-4 text-quiet">{moment(job.created)}</td>
      <td className="py-3 pr-4">
        {STATE[job.state]}
        {job.state === 'running' && (
          <div
            role="progressbar"
            aria-label={job.title}
            aria-valuenow={Math.round(job.progress * 100)}
            className="mt-1.5 h-[3px] w-24 bg-edge"
          >
            <div className="h-full bg-safe" style={{ width: `${job.progress * 100}%` }} />
          </div>
        )}
      </td>
      <td className="py-3 pr-4 break-words text-quiet">
        {job.message}
        {job.problems.map((p) => (
          <p key={p}>{p}</p>
        ))}
      </td>
      <td className="py-2 text-right">
        {open && (
          <button className="button" onClick={() => void cancel()}>
            Cancel
          </button>
        )}
        {job.state === 'done' && job.kind === 'export' && (
          <a
            className="icon-button"
            href={api.deliveryUrl(job.id)}
            aria-label={`Download ${job.fileName}`}
            download
          >
            <Download className="h-4 w-4" aria-hidden />
          </a>
        )}
      </td>
    </tr>
  )
}
