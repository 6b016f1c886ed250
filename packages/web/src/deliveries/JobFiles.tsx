import type { Job, MadeFile } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { Download, File as FileIcon } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { api } from '../api/client'
import { Awaited } from '../shell/Awaited'
import { CompareMade } from './CompareMade'
import { megabytes } from '../shell/format'

const STATE: Readonly<Record<MadeFile['state'], string>> = {
  waiting: 'waiting',
  making: 'at work',
  placing: 'at work',
  done: '',
  skipped: 'skipped',
  failed: 'failed',
}
const nameOf = (path: string) => path.replace(/^.*[/\\]/, '')

/** The files of a job, each with what came of it. */
export function JobFiles({ job }: { job: Job }) {
  const query = useQuery({
    queryKey: ['files', job.id, job.state],
    queryFn: () => api.filesOfJob(job.id),
    refetchInterval: job.state === 'running' ? 1000 : false,
  })
  return (
    <div className="max-h-[420px] overflow-y-auto px-5 py-2">
      {!query.data && <Awaited query={query} label="Loading the files" />}
      <ul aria-label={`Files of ${job.title}`}>
        {query.data?.map((file) => (
          <FileRow key={file.number} jobId={job.id} file={file} />
        ))}
      </ul>
    </div>
  )
}

function FileRow({ jobId, file }: { jobId: string; file: MadeFile }) {
  const done = file.state === 'done'
  return (
    <li className="flex min-h-11 items-center gap-4 border-b border-line last:border-0">
      <span className="flex h-10 w-12 shrink-0 items-center justify-center">
        {done && <MadeThumb jobId={jobId} file={file} />}
      </span>
      <span className="w-56 shrink-0 truncate">
        {file.shootId ? (
          <Link
            className="text-text hover:text-bright hover:underline"
            to={`/shoots/${file.shootId}/frames/${file.frameId}`}
          >
            {file.frameName}
          </Link>
        ) : (
          file.frameName
        )}
        <span className="text-quiet">, {file.delivery}</span>
      </span>
      <span className="min-w-0 flex-1 truncate text-quiet" title={file.path}>
        {done && file.path ? <span className="text-text">{nameOf(file.path)}</span> : STATE[file.state]}{' '}
        {file.message ?? (done && file.path)}
      </span>
      <span className="w-28 text-right text-quiet">{file.width && `${file.width} × ${file.height}`}</span>
      <span className="w-20 text-right text-quiet">{file.bytes !== undefined && megabytes(file.bytes)}</span>
      <span className="w-8">
        {done && file.path && (
          <a
            className="icon-button"
            href={api.madeFileUrl(jobId, file.number)}
            aria-label={`Download ${nameOf(file.path)}`}
            title="Download"
            download
          >
            <Download className="h-4 w-4" aria-hidden />
          </a>
        )}
      </span>
    </li>
  )
}

/** The finished file, small, and beside the frame when clicked; a sign for those that hold no picture. */
function MadeThumb({ jobId, file }: { jobId: string; file: MadeFile }) {
  const [none, setNone] = useState(false)
  const [open, setOpen] = useState(false)
  if (none) return <FileIcon className="h-5 w-5 text-quiet" aria-hidden />
  return (
    <>
      <button
        className="cursor-zoom-in"
        aria-label={`Compare ${file.frameName}, finished and as it came`}
        title="Compare with the frame as it came"
        onClick={() => setOpen(true)}
      >
        <img
          src={api.madePictures(jobId, file.number).thumb}
          alt=""
          loading="lazy"
          className="max-h-10 max-w-12"
          onError={() => setNone(true)}
        />
      </button>
      {open && <CompareMade jobId={jobId} file={file} onClose={() => setOpen(false)} />}
    </>
  )
}
