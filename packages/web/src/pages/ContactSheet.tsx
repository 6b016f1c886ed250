import type { Frame } from '@dunkelkammer/contract'
import { FolderInput, ImagePlus } from 'lucide-react'
import { useEffect, useRef, useState, type DragEvent, type FormEvent } from 'react'
import { Link, useParams } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient, useJobs, useShoot } from '../api/queries'
import { theEngine } from '../engine/engine'
import { takingLine } from '../shell/format'
import { Modal } from '../shell/Modal'
import { ErrorNotice, Progress } from '../shell/Notice'
import { Awaited } from '../shell/Awaited'
import { Page } from '../shell/Page'
import { Thumb } from '../shell/Thumb'

/** What came of bringing in files from this computer. */
interface Uploads {
  all: number
  done: number
  added: number
  known: number
  problems: string[]
}

/** The frames of one shoot, and the ways to bring in more. */
export function ContactSheetPage() {
  const { shootId = '' } = useParams()
  const query = useShoot(shootId)
  const { data } = query
  const [uploads, setUploads] = useState<Uploads>()
  const [askFolder, setAskFolder] = useState(false)
  const [over, setOver] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  // the engine starts while the user is choosing, so that the first frame need not wait for it
  useEffect(() => void theEngine().catch(() => undefined), [])
  const busy = uploads !== undefined && uploads.done < uploads.all

  const bringIn = async (files: readonly File[]) => {
    if (files.length === 0 || busy) return
    const state: Uploads = { all: files.length, done: 0, added: 0, known: 0, problems: [] }
    setUploads({ ...state })
    for (const file of files) {
      try {
        const { known } = await api.upload(shootId, file)
        if (known) state.known++
        else state.added++
      } catch (problem) {
        state.problems.push(`${file.name}: ${sentence(problem)}`)
      }
      state.done++
      setUploads({ ...state, problems: [...state.problems] })
    }
    void queryClient.invalidateQueries({ queryKey: ['shoot', shootId] })
    void queryClient.invalidateQueries({ queryKey: ['shoots'] })
  }
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void bringIn([...event.dataTransfer.files])
  }

  const actions = data && (
    <>
      <button className="button" onClick={() => setAskFolder(true)}>
        <FolderInput className="h-4 w-4" aria-hidden /> Folder on the server
      </button>
      <button className="button" disabled={busy} onClick={() => input.current?.click()}>
        <ImagePlus className="h-4 w-4" aria-hidden /> Bring in files
      </button>
    </>
  )
  return (
    <Page title={data?.shoot.name ?? 'Contact sheet'} actions={actions}>
      <input
        ref={input}
        type="file"
        multiple
        accept=".dng"
        aria-label="Raw files to bring in"
        className="hidden"
        onChange={(e) => {
          void bringIn([...(e.target.files ?? [])])
          e.target.value = ''
        }}
      />
      <div
        onDragOver={(e) => {
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
        className={`min-h-80 ${over ? 'outline-2 outline-offset-8 outline-safe outline-dashed' : ''}`}
      >
        <Awaited query={query} label="Looking up the frames" />
        {uploads && <UploadReport uploads={uploads} onClose={() => setUploads(undefined)} />}
        <FolderJobs />
        {data?.frames.length === 0 && (
          <p className="text-quiet">
            No frames yet. Drop raw files here, or bring them in with the buttons above.
          </p>
        )}
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-4">
          {data?.frames.map((frame) => (
            <FrameCard key={frame.id} frame={frame} />
          ))}
        </ul>
      </div>
      <FolderDialog shootId={shootId} open={askFolder} onClose={() => setAskFolder(false)} />
    </Page>
  )
}

function FrameCard({ frame }: { frame: Frame }) {
  return (
    <li>
      <Link
        to={`/shoots/${frame.shootId}/frames/${frame.id}`}
        className="block border border-line bg-panel hover:border-edge"
      >
        <Thumb frame={frame} className="aspect-[3/2] w-full bg-night" />
        <div className="px-3 py-2">
          <p className="truncate text-bright" title={frame.fileName}>
            {frame.fileName}
          </p>
          <p className="truncate text-[12px] text-quiet">
            {takingLine(frame) || `${frame.width} × ${frame.height}`}
          </p>
        </div>
      </Link>
    </li>
  )
}

function UploadReport({ uploads: u, onClose }: { uploads: Uploads; onClose(): void }) {
  const finished = u.done === u.all
  const summary = [
    `${u.added} brought in`,
    u.known ? `${u.known} there already` : '',
    u.problems.length ? `${u.problems.length} not readable` : '',
  ]
  return (
    <div className="mb-6 border border-line bg-panel p-4">
      {finished ? (
        <div className="flex items-center justify-between gap-4">
          <p role="status">{summary.filter(Boolean).join(', ')}.</p>
          <button className="button" onClick={onClose}>
            Put away
          </button>
        </div>
      ) : (
        <Progress label={`Bringing in ${u.done + 1} of ${u.all}`} share={u.done / u.all} />
      )}
      <ProblemList problems={u.problems} />
    </div>
  )
}

function ProblemList({ problems }: { problems: readonly string[] }) {
  if (problems.length === 0) return null
  return (
    <ul className="mt-3 list-inside list-disc text-info">
      {problems.slice(0, 20).map((p) => (
        <li key={p} className="break-words">
          {p}
        </li>
      ))}
      {problems.length > 20 && <li>and {problems.length - 20} more</li>}
    </ul>
  )
}

/** Imports that are going on, or ended while this page was open. */
function FolderJobs() {
  const { data: jobs } = useJobs()
  const seen = useRef(new Set<string>())
  const imports = jobs?.filter((j) => j.kind === 'import') ?? []
  const open = imports.filter((j) => j.state === 'running' || j.state === 'waiting')
  for (const job of open) seen.current.add(job.id)
  const shown = imports.filter((j) => seen.current.has(j.id))
  const finished = shown.filter((j) => !open.includes(j)).length
  useEffect(() => {
    if (finished > 0) void queryClient.invalidateQueries({ queryKey: ['shoot'] })
  }, [finished])
  return shown.map((job) => (
    <div key={job.id} className="mb-6 border border-line bg-panel p-4">
      {open.includes(job) ? (
        <div className="flex items-center justify-between gap-4">
          <Progress label={`Bringing in the folder, ${job.message || 'looking through it'}`} />
          <button className="button" onClick={() => void api.cancelJob(job.id)}>
            Cancel
          </button>
        </div>
      ) : (
        <p role="status">{job.message}</p>
      )}
      <ProblemList problems={job.problems} />
    </div>
  ))
}

function FolderDialog({ shootId, open, onClose }: { shootId: string; open: boolean; onClose(): void }) {
  const [path, setPath] = useState('')
  const [problem, setProblem] = useState('')
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    setProblem('')
    try {
      await api.importFolder(shootId, path.trim())
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      onClose()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  return (
    <Modal open={open} onClose={onClose} title="Bring in a folder of the server">
      <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-4">
        <label className="flex flex-col gap-1">
          <span className="text-quiet">Path of the folder on the server’s machine</span>
          <input className="field" value={path} onChange={(e) => setPath(e.target.value)} autoFocus />
        </label>
        {problem && <ErrorNotice>{problem}</ErrorNotice>}
        <div className="flex justify-end gap-2">
          <button type="button" className="button" onClick={onClose}>
            Leave it
          </button>
          <button type="submit" className="button button-main" disabled={!path.trim()}>
            Bring in
          </button>
        </div>
      </form>
    </Modal>
  )
}
