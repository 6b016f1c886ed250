import type { Job } from '@dunkelkammer/contract'
import { ChevronDown, ChevronRight, Download, Pause, Play, RotateCcw, X } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { api, sentence } from '../api/client'
import { queryClient, useJobs } from '../api/queries'
import { Awaited } from '../shell/Awaited'
import { moment } from '../shell/format'
import { ErrorNotice } from '../shell/Notice'
import { JobFiles } from './JobFiles'
import { ProgressBar } from './ProgressBar'
import { TableHead } from '../shell/TableHead'

const STATE: Readonly<Record<Job['state'], string>> = {
  waiting: 'waiting',
  running: 'at work',
  paused: 'paused',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  interrupted: 'interrupted',
}

const COLUMNS = [['Job', 'w-[30%]'], ['Started', 'w-[17%]'], ['Status', 'w-[13%]'], ['Result']] as const

/** The queue: what is being made, and what came of it. */
export function JobTable() {
  const query = useJobs()
  const jobs = query.data
  return (
    <section aria-label="Queue">
      <Awaited query={query} label="Loading the queue" />
      {jobs?.length === 0 && (
        <p className="text-quiet">
          Nothing delivered yet. Frames are delivered from the contact sheet or from the bench.
        </p>
      )}
      {jobs && jobs.length > 0 && (
        <table className="w-full table-fixed border-collapse text-left">
          <TableHead columns={COLUMNS} />
          <tbody>
            {jobs.map((job) => (
              <JobRow key={job.id} job={job} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

function JobRow({ job }: { job: Job }) {
  const [shown, show] = useState(false)
  const [problem, setProblem] = useState<string>()
  const open = job.state === 'running' || job.state === 'waiting'
  const delivers = job.kind === 'deliver'
  const change = async (how: (id: string) => Promise<unknown>) => {
    setProblem(undefined)
    await how(job.id).catch((error: unknown) => setProblem(sentence(error)))
    void queryClient.invalidateQueries({ queryKey: ['jobs'] })
  }
  const act = (label: string, icon: ReactNode, how: (id: string) => Promise<unknown>) => (
    <button
      className="icon-button"
      aria-label={`${label}: ${job.title}`}
      title={label}
      onClick={() => void change(how)}
    >
      {icon}
    </button>
  )
  return (
    <>
      <tr className="border-b border-line align-top">
        <td className="py-2.5 pr-4">
          {delivers ? (
            <button
              className="flex w-full min-w-0 items-center gap-1 text-left text-bright"
              aria-expanded={shown}
              title={job.title}
              onClick={() => show(!shown)}
            >
              {shown ? (
                <ChevronDown className="h-4 w-4 shrink-0" aria-hidden />
              ) : (
                <ChevronRight className="h-4 w-4 shrink-0" aria-hidden />
              )}
              <span className="truncate">{job.title}</span>
            </button>
          ) : (
            <span className="block truncate pl-5 text-bright" title={job.title}>
              {job.title}
            </span>
          )}
        </td>
        <td className="py-2.5 pr-4 text-quiet">{moment(job.created)}</td>
        <td className="py-2.5 pr-4">
          {STATE[job.state]}
          {job.state === 'running' && (
            <div className="mt-1.5 w-24">
              <ProgressBar label={job.title} share={job.progress} />
            </div>
          )}
        </td>
        <td className="py-2.5 pr-4 break-words text-quiet">
          {job.message}
          {job.problems.slice(0, 5).map((p) => (
            <p key={p}>{p}</p>
          ))}
          {job.problems.length > 5 && <p>and {job.problems.length - 5} more</p>}
          {problem && <ErrorNotice>{problem}</ErrorNotice>}
        </td>
        <td className="py-1 text-right whitespace-nowrap">
          {job.pauses && act('Pause', <Pause className="h-4 w-4" aria-hidden />, api.pauseJob)}
          {job.retries &&
            (job.state === 'paused'
              ? act('Continue', <Play className="h-4 w-4" aria-hidden />, api.continueJob)
              : act('Try again', <RotateCcw className="h-4 w-4" aria-hidden />, api.continueJob))}
          {(open || job.state === 'paused') &&
            act('Cancel', <X className="h-4 w-4" aria-hidden />, api.cancelJob)}
          {job.state === 'done' && delivers && (
            <a
              className="icon-button"
              href={job.fileName ? api.madeFileUrl(job.id, 0) : api.zippedFilesUrl(job.id)}
              aria-label={`Download ${job.fileName ?? job.title}`}
              title="Download"
              download
            >
              <Download className="h-4 w-4" aria-hidden />
            </a>
          )}
        </td>
      </tr>
      {shown && (
        <tr>
          <td colSpan={5} className="border-b border-line bg-panel p-0">
            <JobFiles job={job} />
          </td>
        </tr>
      )}
    </>
  )
}
