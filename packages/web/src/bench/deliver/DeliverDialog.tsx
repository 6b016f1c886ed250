import { DeliveryOptionsSchema, LONG_EDGE, spaces, SPACE_IDS, type DeliveryOptions } from '@dunkelkammer/core'
import type { Job, NewExport } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { fitLongEdge } from '@dunkelkammer/engine/browser'
import { useState, type FormEvent } from 'react'
import { api, sentence, ServerProblem } from '../../api/client'
import { queryClient } from '../../api/queries'
import { Choice } from '../../controls/Choice'
import { readNumber } from '../../controls/readNumber'
import { useStored } from '../../shell/useStored'
import { Modal } from '../../shell/Modal'
import { ErrorNotice } from '../../shell/Notice'

interface Props {
  open: boolean
  onClose(): void
  versionId: string
  fileName: string
  picture: { width: number; height: number }
  /** Waits until the server knows the settings as they are on the screen. */
  settle(): Promise<void>
}

const SPACES = [
  ...SPACE_IDS.map((id) => ({ id, label: spaces[id].label })),
  { id: 'linear-rec2020', label: 'Rec. 2020, linear scene light' },
  { id: 'camera', label: 'Camera channels, linear' },
] as const

/** Makes a file from the version on the bench. */
export function DeliverDialog(props: Props) {
  const [jobId, setJobId] = useState<string>()
  return (
    <Modal open={props.open} onClose={props.onClose} title="Deliver">
      {jobId ? (
        <Delivering jobId={jobId} onClose={props.onClose} onAgain={() => setJobId(undefined)} />
      ) : (
        <DeliverForm {...props} onStarted={(job) => setJobId(job.id)} />
      )}
    </Modal>
  )
}

const CARRIES = ['all', 'no position', 'nothing'] as const satisfies readonly NewExport['carry'][]

/** Why a longer side cannot be delivered, in a sentence; nothing where it can, or where full size is meant. */
function sideProblem(text: string): string | undefined {
  if (text.trim() === '') return undefined
  const side = readNumber(text, true)
  if (side === undefined) return 'The longer side is a whole number of pixels.'
  if (side < LONG_EDGE.least) return `The longer side must be at least ${LONG_EDGE.least} pixels.`
  return side > LONG_EDGE.most ? `The longer side may be at most ${LONG_EDGE.most} pixels.` : undefined
}

const stored = (): DeliveryOptions => {
  try {
    return DeliveryOptionsSchema.parse(JSON.parse(localStorage.getItem('delivery') ?? '{}'))
  } catch {
    return DeliveryOptionsSchema.parse({})
  }
}

function DeliverForm(props: Props & { onStarted(job: Job): void }) {
  const [options, setOptions] = useState(stored)
  const [fileName, setFileName] = useState(props.fileName.replace(/\.[^.]*$/, ''))
  // what is told of places and people stays as it was chosen
  const [carry, setCarry] = useStored('delivery metadata', 'all', CARRIES)
  const [side, setSide] = useState(String(options.longEdge ?? ''))
  const wrongSide = sideProblem(side)
  const [problem, setProblem] = useState<{ code: string; text: string }>()
  const [busy, setBusy] = useState(false)
  const set = (part: Partial<DeliveryOptions>) => {
    setProblem(undefined)
    setOptions((o) => ({ ...o, ...part }))
  }
  const size = fitLongEdge(props.picture.width, props.picture.height, options.longEdge)

  const start = async (taken: 'ask' | 'number' | 'replace') => {
    setBusy(true)
    setProblem(undefined)
    try {
      await props.settle()
      const job = await api.deliver({ versionId: props.versionId, options, carry, fileName, taken })
      localStorage.setItem('delivery', JSON.stringify(options))
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      props.onStarted(job)
    } catch (error) {
      setProblem({ code: error instanceof ServerProblem ? error.code : '', text: sentence(error) })
    } finally {
      setBusy(false)
    }
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    void start('ask')
  }
  return (
    <form onSubmit={submit} className="flex flex-col gap-4">
      <label className="flex flex-col gap-1">
        <span className="text-quiet">File name</span>
        <input
          className="field"
          value={fileName}
          maxLength={200}
          onChange={(e) => {
            setProblem(undefined)
            setFileName(e.target.value)
          }}
        />
      </label>
      <div className="flex flex-col gap-1">
        <span className="text-quiet">Format</span>
        <Choice
          label="Format"
          value={options.format}
          options={[
            { value: 'jpeg', label: 'JPEG' },
            { value: 'png', label: 'PNG' },
            { value: 'tiff', label: 'TIFF' },
          ]}
          onChange={(format) =>
            set({ format, bits: format === 'jpeg' ? 8 : format === 'tiff' ? 16 : options.bits })
          }
        />
      </div>
      {options.format === 'jpeg' ? (
        <label className="flex items-center justify-between gap-4">
          <span className="text-quiet">Quality</span>
          <span className="flex items-center gap-3">
            <input
              type="range"
              min={1}
              max={100}
              value={options.quality}
              aria-label="Quality"
              onChange={(e) => set({ quality: Number(e.target.value) })}
              className="!w-48"
            />
            <span className="w-8 text-right">{options.quality}</span>
          </span>
        </label>
      ) : (
        <div className="flex flex-col gap-1">
          <span className="text-quiet">Depth</span>
          <Choice
            label="Depth"
            value={options.bits}
            options={[
              { value: 8, label: '8 bit' },
              { value: 16, label: '16 bit' },
            ]}
            onChange={(bits) => set({ bits })}
          />
        </div>
      )}
      {options.format === 'tiff' && (
        <div className="flex flex-col gap-1">
          <span className="text-quiet">Compression</span>
          <Choice
            label="Compression"
            value={options.compression}
            options={[
              { value: 'deflate', label: 'Deflate, lossless' },
              { value: 'none', label: 'None' },
            ]}
            onChange={(compression) => set({ compression })}
          />
        </div>
      )}
      <label className="flex flex-col gap-1">
        <span className="text-quiet">Colour space</span>
        <select
          className="field"
          value={options.space}
          onChange={(e) => set({ space: e.target.value as DeliveryOptions['space'] })}
        >
          {SPACES.map((s) => (
            <option key={s.id} value={s.id}>
              {s.label}
            </option>
          ))}
        </select>
      </label>
      <label className="flex flex-col gap-1">
        <span className="text-quiet">Longer side in pixels; empty for full size</span>
        <span className="flex items-center gap-3">
          <input
            className={`field !w-28 ${wrongSide ? '!border-safe' : ''}`}
            inputMode="numeric"
            aria-invalid={wrongSide ? true : undefined}
            aria-describedby={wrongSide && 'wrong-side'}
            value={side}
            onChange={(e) => {
              const text = e.target.value
              setSide(text)
              set({ longEdge: sideProblem(text) ? undefined : readNumber(text, true) })
            }}
          />
          {wrongSide ? (
            <span id="wrong-side" role="alert" className="text-bright">
              {wrongSide}
            </span>
          ) : (
            <span className="text-quiet">
              {size.width} × {size.height}
            </span>
          )}
        </span>
      </label>
      <label className="flex flex-col gap-1">
        <span className="text-quiet">Metadata</span>
        <select className="field" value={carry} onChange={(e) => setCarry(e.target.value as typeof carry)}>
          <option value="all">All</option>
          <option value="no position">All but the position</option>
          <option value="nothing">Nothing</option>
        </select>
      </label>
      {problem && (
        <ErrorNotice
          action={
            problem.code === 'exists' && (
              <span className="flex gap-2">
                <button type="button" className="button" onClick={() => void start('number')}>
                  Keep both
                </button>
                <button type="button" className="button" onClick={() => void start('replace')}>
                  Replace
                </button>
              </span>
            )
          }
        >
          {problem.text}
        </ErrorNotice>
      )}
      <div className="flex justify-end gap-2">
        <button type="button" className="button" onClick={props.onClose}>
          Cancel
        </button>
        <button
          type="submit"
          className="button button-main"
          disabled={busy || !fileName.trim() || wrongSide !== undefined}
        >
          Deliver
        </button>
      </div>
    </form>
  )
}

function Delivering({ jobId, onClose, onAgain }: { jobId: string; onClose(): void; onAgain(): void }) {
  const { data: job, error } = useQuery({
    queryKey: ['job', jobId],
    queryFn: () => api.job(jobId),
    refetchInterval: (q) =>
      q.state.data && !['waiting', 'running'].includes(q.state.data.state) ? false : 250,
  })
  const open = !job || job.state === 'waiting' || job.state === 'running'
  return (
    <div className="flex flex-col gap-5">
      {error && <ErrorNotice>{sentence(error)}</ErrorNotice>}
      {open ? (
        <div role="status">
          <p className="mb-2">
            Making {job?.title ?? 'the file'}{' '}
            <span className="text-quiet">{Math.round((job?.progress ?? 0) * 100)} %</span>
          </p>
          <div className="h-[3px] bg-edge">
            <div className="h-full bg-safe" style={{ width: `${(job?.progress ?? 0) * 100}%` }} />
          </div>
        </div>
      ) : (
        <p role="status" className={job.state === 'done' ? 'text-bright' : 'text-info'}>
          {job.message}
        </p>
      )}
      <div className="flex justify-end gap-2">
        {open && (
          <button className="button" onClick={() => void api.cancelJob(jobId).catch(() => undefined)}>
            Cancel
          </button>
        )}
        {!open && (
          <button className="button" onClick={onAgain}>
            Deliver another
          </button>
        )}
        {job?.state === 'done' && (
          <a className="button button-main" href={api.deliveryUrl(jobId)} download>
            Download
          </a>
        )}
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
    </div>
  )
}
