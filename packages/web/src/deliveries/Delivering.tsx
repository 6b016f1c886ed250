import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient } from '../api/queries'
import { ErrorNotice } from '../shell/Notice'
import { ProgressBar } from './ProgressBar'

const ENDED = ['done', 'failed', 'cancelled', 'interrupted', 'paused']

/** How far a job has come that makes files, and what came of it. */
export function Delivering({ jobId, onClose, onAgain }: { jobId: string; onClose(): void; onAgain(): void }) {
  const { data: job, error } = useQuery({
    queryKey: ['job', jobId],
    queryFn: () => api.job(jobId),
    refetchInterval: (q) => (q.state.data && ENDED.includes(q.state.data.state) ? false : 250),
  })
  const open = !job || !ENDED.includes(job.state)
  const change = async (how: (id: string) => Promise<unknown>) => {
    await how(jobId).catch(() => undefined)
    await queryClient.invalidateQueries({ queryKey: ['job', jobId] })
  }
  const files = useQuery({
    queryKey: ['files', jobId, job?.state],
    queryFn: () => api.filesOfJob(jobId),
    enabled: job?.state === 'done',
  })
  const made = files.data?.filter((f) => f.state === 'done') ?? []
  return (
    <div className="flex flex-col gap-5">
      {error && <ErrorNotice>{sentence(error)}</ErrorNotice>}
      {open ? (
        <div role="status">
          <p className="mb-2">
            {job?.title ?? 'Making the files'}{' '}
            <span className="text-quiet">
              {job?.message || `${Math.round((job?.progress ?? 0) * 100)} %`}
            </span>
          </p>
          <ProgressBar label={job?.title ?? 'Making the files'} share={job?.progress ?? 0} />
          <p className="mt-3 text-[12px] text-quiet">It goes on when this is closed.</p>
        </div>
      ) : (
        <div>
          <p role="status" className={job.state === 'done' ? 'text-bright' : 'text-info'}>
            {job.state === 'paused' ? 'Paused.' : job.message}
          </p>
          {job.problems.map((p) => (
            <p key={p} className="text-quiet">
              {p}
            </p>
          ))}
        </div>
      )}
      <div className="flex justify-end gap-2">
        {open && (
          <button className="button" onClick={() => void change(api.cancelJob)}>
            Cancel
          </button>
        )}
        {!open && job.retries && (
          <button className="button" onClick={() => void change(api.continueJob)}>
            {job.state === 'paused' ? 'Continue' : 'Try again'}
          </button>
        )}
        {!open && (
          <button className="button" onClick={onAgain}>
            Deliver another
          </button>
        )}
        {made.length === 1 && (
          <a className="button button-main" href={api.madeFileUrl(jobId, made[0].number)} download>
            Download
          </a>
        )}
        {made.length > 1 && (
          <a className="button button-main" href={api.zippedFilesUrl(jobId)} download>
            Download all
          </a>
        )}
        <Link className="button" to="/deliveries">
          Show the queue
        </Link>
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
    </div>
  )
}
