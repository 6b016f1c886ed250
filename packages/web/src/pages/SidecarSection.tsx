import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, sentence } from '../api/client'
import { queryClient, useJobs } from '../api/queries'
import { Choice } from '../controls/Choice'
import { LabelledInput } from '../controls/LabelledInput'
import { Toggle } from '../controls/Toggle'
import { ErrorNotice } from '../shell/Notice'
import { ProblemList } from '../shell/ProblemList'
import { useLibrary } from './useLibrary'

const BOX = 'mt-3 max-h-60 max-w-3xl border border-line bg-panel p-3'

/** Sidecars of all frames: kept up to date, and read again to rebuild a library. */
export function SidecarSection() {
  const { data } = useLibrary()
  const always = useMutation({
    mutationFn: api.keepSidecars,
    onSettled: () => queryClient.invalidateQueries({ queryKey: ['library'] }),
  })
  return (
    <section aria-labelledby="sidecars-heading" className="mb-10">
      <h2 id="sidecars-heading" className="mb-1 text-base text-bright">
        Sidecars
      </h2>
      <p className="mb-3 max-w-2xl text-quiet">
        A sidecar holds the words, stars and versions of a frame, with all that was done to them, in a file
        beside its original.
      </p>
      {data && (
        <>
          <div className="flex max-w-3xl items-center gap-6">
            <Toggle
              label="Write them with every change"
              checked={always.isPending ? always.variables : data.sidecars.always}
              onChange={(on) => always.mutate(on)}
            />
            <span className="text-quiet" role="status">
              {stateOf(data.sidecars)}
            </span>
          </div>
          {always.error && <ErrorNotice>{sentence(always.error)}</ErrorNotice>}
          <ProblemList problems={data.sidecars.problems} className={BOX} />
        </>
      )}
      <Rebuild />
    </section>
  )
}

function stateOf({ always, waiting, problems }: { always: boolean; waiting: number; problems: string[] }) {
  if (!always) return 'They are written when you ask for it, on the sheet.'
  if (waiting > 0) return `${waiting.toLocaleString('en-GB')} to be written.`
  return problems.length > 0 ? 'These could not be written:' : 'All of them are up to date.'
}

/** Brings a folder back into the shoots that its sidecars name. */
function Rebuild() {
  const [path, setPath] = useState('')
  const [keep, setKeep] = useState<'copy' | 'in place'>('in place')
  const { data: jobs } = useJobs()
  const start = useMutation({
    mutationFn: () => api.rebuild(path.trim(), keep),
    onSettled: () => {
      for (const key of ['library', 'shoots', 'jobs']) void queryClient.invalidateQueries({ queryKey: [key] })
    },
  })
  const job = jobs?.find((j) => j.id === start.data?.job.id)
  return (
    <form
      className="mt-5 max-w-3xl"
      onSubmit={(e) => {
        e.preventDefault()
        start.mutate()
      }}
    >
      <h3 className="mb-1 text-bright">Rebuild from a folder</h3>
      <p className="mb-3 max-w-2xl text-quiet">
        Brings the pictures of a folder back into the shoots that their sidecars name, as the frames that they
        were. Frames that are here already stay as they are.
      </p>
      <div className="flex items-end gap-2">
        <LabelledInput
          label="Path of a folder on the server’s machine"
          value={path}
          onChange={setPath}
          className="flex-1"
        />
        <Choice
          label="Originals"
          value={keep}
          options={[
            { value: 'in place', label: 'Leave where they are' },
            { value: 'copy', label: 'Copy into the library' },
          ]}
          onChange={(v) => setKeep(v)}
          className="h-8"
        />
        <button className="button" disabled={path.trim() === '' || start.isPending}>
          Rebuild
        </button>
      </div>
      {start.error && (
        <div className="mt-3">
          <ErrorNotice>{sentence(start.error)}</ErrorNotice>
        </div>
      )}
      {job && (
        <p className="mt-3 flex gap-4">
          <span role="status">{job.message || 'It will begin in a moment.'}</span>
          <Link className="text-quiet underline hover:text-bright" to="/">
            Open the shoots
          </Link>
        </p>
      )}
      <ProblemList problems={job?.problems ?? []} className={BOX} />
    </form>
  )
}
