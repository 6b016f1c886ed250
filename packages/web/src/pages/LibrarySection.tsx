import { ProblemList } from '../shell/ProblemList'
import type { Job, LibraryPage } from '@dunkelkammer/contract'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient, useJobs } from '../api/queries'
import { Awaited } from '../shell/Awaited'
import { megabytes } from '../shell/format'
import { ErrorNotice } from '../shell/Notice'
import { useLibrary } from './useLibrary'

const counted = (n: number, what: string) => `${n.toLocaleString('en-GB')} ${what}${n === 1 ? '' : 's'}`

/** Where the library lies, whether its originals are as they came in, and files that it does not know. */
export function LibrarySection() {
  const query = useLibrary(true)
  const { data } = query
  return (
    <section aria-labelledby="library-heading" className="mb-10">
      <h2 id="library-heading" className="mb-3 text-base text-bright">
        Library
      </h2>
      <Awaited query={query} label="Loading the library" />
      {data && (
        <>
          <dl className="mb-4 max-w-3xl">
            <Row label="Folder">{data.folder}</Row>
            <Row label="Originals">
              {counted(data.originals.count, 'file')}, {megabytes(data.originals.bytes)}
              {data.originals.inPlace > 0 && `, ${data.originals.inPlace} of them left in other folders`}
            </Row>
          </dl>
          <Check />
          {data.unknown.count > 0 && <Unknown unknown={data.unknown} />}
        </>
      )}
    </section>
  )
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex gap-6 border-b border-line py-2">
      <dt className="w-28 shrink-0 text-quiet">{label}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </div>
  )
}

const isOpen = (job: Job | undefined) => job?.state === 'running' || job?.state === 'waiting'

/** Compares all originals with what they were when they came in. */
function Check() {
  const { data: jobs } = useJobs()
  const [problem, setProblem] = useState<string>()
  const job = jobs?.find((j) => j.kind === 'check')
  const start = async () => {
    setProblem(undefined)
    try {
      await api.checkOriginals()
    } catch (error) {
      setProblem(sentence(error))
    }
    void queryClient.invalidateQueries({ queryKey: ['jobs'] })
  }
  const cancel = async () => {
    if (job) await api.cancelJob(job.id).catch(() => undefined)
    void queryClient.invalidateQueries({ queryKey: ['jobs'] })
  }
  return (
    <div className="mb-4">
      <div className="flex items-center gap-4">
        {isOpen(job) ? (
          <button className="button" onClick={() => void cancel()}>
            Cancel the check
          </button>
        ) : (
          <button className="button" onClick={() => void start()}>
            Check the originals
          </button>
        )}
        <span className="text-quiet" role="status">
          {job?.message ?? 'Compares every original with what it was when it was brought in.'}
        </span>
      </div>
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      <ProblemList
        problems={job?.problems ?? []}
        className="mt-3 max-h-60 max-w-3xl border border-line bg-panel p-3"
      />
    </div>
  )
}

/** Files in the library's folder that the library does not know. */
function Unknown({ unknown }: { unknown: LibraryPage['unknown'] }) {
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const [found, setFound] = useState<{ to: string; label: string }>()
  const run = (work: () => Promise<unknown>) => async () => {
    setBusy(true)
    setProblem(undefined)
    try {
      await work()
    } catch (error) {
      setProblem(sentence(error))
    }
    setBusy(false)
    for (const key of ['library', 'shoots', 'jobs']) void queryClient.invalidateQueries({ queryKey: [key] })
  }
  const bringIn = run(async () => {
    const { shoot } = await api.bringInUnknown()
    setFound(
      shoot
        ? { to: `/shoots/${shoot.id}`, label: `Open the shoot ${shoot.name}` }
        : { to: '/', label: 'Open the shoots' },
    )
  })
  const setAside = run(api.setUnknownAside)
  return (
    <div className="max-w-3xl border border-edge bg-panel p-4">
      <p className="text-bright">
        {counted(unknown.count, 'file')} in the library’s folder {unknown.count === 1 ? 'is' : 'are'} not
        known to the library ({megabytes(unknown.bytes)}).
      </p>
      <p className="mt-1 text-quiet">
        Bring them in, into the shoots that their sidecars name or else into a new one, or move them to the
        folder “set-aside”. Nothing is deleted.
      </p>
      <ul className="my-3 max-h-40 overflow-y-auto text-[12px] text-quiet">
        {unknown.names.map((name) => (
          <li key={name} className="truncate" title={name}>
            {name}
          </li>
        ))}
        {unknown.count > unknown.names.length && <li>and {unknown.count - unknown.names.length} more</li>}
      </ul>
      <div className="flex items-center gap-2">
        <button className="button" disabled={busy} onClick={() => void bringIn()}>
          Bring in
        </button>
        <button className="button" disabled={busy} onClick={() => void setAside()}>
          Set aside
        </button>
        {found && (
          <Link className="ml-2 text-quiet underline hover:text-bright" to={found.to}>
            {found.label}
          </Link>
        )}
      </div>
      {problem && (
        <div className="mt-3">
          <ErrorNotice>{problem}</ErrorNotice>
        </div>
      )}
    </div>
  )
}
