import type { NewFiles, SavedDelivery } from '@dunkelkammer/contract'
import { DeliverySchema, type Delivery } from '@dunkelkammer/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { api, sentence } from '../api/client'
import { queryClient } from '../api/queries'
import { PresetChips } from './PresetChips'
import { Awaited } from '../shell/Awaited'
import { duration, gigabytes } from '../shell/format'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'
import { useChosen } from './chosen'
import { Delivering } from './Delivering'
import { DeliveryList } from './DeliveryList'
import { DeliveryEditor } from './editor/DeliveryEditor'
import { ExpectedList } from './ExpectedList'
import { useEstimates } from './useEstimates'
import { forgetDeliveries, useDeliveries } from './useDeliveries'

/** A frame that is to be delivered; the version that stands for it where none is named. */
export interface DeliveredFrame {
  id: string
  versionId?: string
}

interface Props {
  frames: readonly DeliveredFrame[]
  onClose(): void
  /** Waits until the server knows the settings as they are on the screen. */
  settle?(): Promise<void>
  /** Whether presets may be given to these files only. */
  presets?: boolean
}

const counted = (n: number, word: string) => `${n} ${n === 1 ? word : `${word}s`}`

/** Makes files of frames by one or several deliveries. */
export function DeliverDialog(props: Props) {
  const [jobId, setJobId] = useState<string>()
  const [edited, edit] = useState<SavedDelivery | 'new'>()
  const query = useDeliveries()
  const deliveries = query.data ?? []
  const { chosen, toggle, add } = useChosen(deliveries.map((d) => d.id))
  const save = async (delivery: Delivery) => {
    if (edited === 'new') add((await api.addDelivery(delivery)).id)
    else if (edited) await api.changeDelivery(edited.id, delivery)
    await forgetDeliveries()
    edit(undefined)
  }
  if (jobId)
    return (
      <Modal open onClose={props.onClose} title="Deliver" width={640}>
        <Delivering jobId={jobId} onClose={props.onClose} onAgain={() => setJobId(undefined)} />
      </Modal>
    )
  if (edited)
    return (
      <Modal open onClose={() => edit(undefined)} title="Delivery" width={640}>
        <div className="flex h-[600px] max-h-[calc(100vh-180px)] flex-col">
          <DeliveryEditor
            delivery={edited === 'new' ? DeliverySchema.parse({ name: 'New delivery' }) : edited.delivery}
            onSave={save}
            onCancel={() => edit(undefined)}
          />
        </div>
      </Modal>
    )
  return (
    <Modal open onClose={props.onClose} title="Deliver" width={900}>
      {query.data ? (
        <Choosing
          {...props}
          deliveries={deliveries}
          chosen={chosen}
          onToggle={toggle}
          onEdit={edit}
          onStarted={setJobId}
        />
      ) : (
        <Awaited query={query} label="Loading the deliveries" />
      )}
    </Modal>
  )
}

function Choosing(
  props: Props & {
    deliveries: readonly SavedDelivery[]
    chosen: ReadonlySet<string>
    onToggle(id: string): void
    onEdit(saved: SavedDelivery | 'new'): void
    onStarted(jobId: string): void
  },
) {
  const { chosen } = props
  const [frames, setFrames] = useState(props.frames)
  const [presets, setPresets] = useState<NonNullable<NewFiles['presets']>>([])
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  // asked for again where the answer was lost, it is made once
  const [id] = useState(() => crypto.randomUUID())
  const wanted = props.deliveries.filter((d) => chosen.has(d.id)).map((d) => d.delivery)
  const request: NewFiles = { frames: [...frames], deliveries: wanted, presets }
  const some = wanted.length > 0 && frames.length > 0
  const expected = useQuery({
    queryKey: ['expected', request],
    queryFn: ({ signal }) => api.expectFiles(request, signal),
    enabled: some,
    placeholderData: keepPreviousData,
    // what lies in the folders changes without this page
    staleTime: 0,
  })
  const files = some ? (expected.data?.files ?? []) : []
  const start = async () => {
    setBusy(true)
    setProblem(undefined)
    try {
      await props.settle?.()
      const job = await api.deliver({ id, ...request })
      void queryClient.invalidateQueries({ queryKey: ['jobs'] })
      props.onStarted(job.id)
    } catch (error) {
      setProblem(sentence(error))
      setBusy(false)
    }
  }
  const free = expected.data?.free
  const { found, total, seconds } = useEstimates(request, some)
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(e) => {
        e.preventDefault()
        void start()
      }}
    >
      <div className="grid h-[420px] max-h-[calc(100vh-260px)] grid-cols-[320px_1fr] gap-4">
        <div className="flex min-h-0 flex-col gap-2">
          <DeliveryList
            deliveries={props.deliveries}
            chosen={chosen}
            onToggle={props.onToggle}
            onEdit={props.onEdit}
          />
          <button type="button" className="button" onClick={() => props.onEdit('new')}>
            <Plus className="h-4 w-4" aria-hidden /> New delivery
          </button>
        </div>
        <div className="flex min-h-0 flex-col gap-2">
          {some ? (
            <ExpectedList
              files={files}
              deliveries={wanted}
              sizes={found}
              onDrop={
                frames.length > 1
                  ? (frameId) => setFrames((all) => all.filter((f) => f.id !== frameId))
                  : undefined
              }
            />
          ) : (
            <p className="flex flex-1 items-center justify-center border border-line text-quiet">
              Choose one or several deliveries.
            </p>
          )}
          {props.presets && <PresetChips presets={presets} onChange={setPresets} />}
        </div>
      </div>
      {(problem ?? (expected.error && sentence(expected.error))) && (
        <ErrorNotice>{problem ?? sentence(expected.error)}</ErrorNotice>
      )}
      <div className="flex items-center justify-end gap-2">
        <span role="status" className="mr-auto text-quiet">
          {some && `${counted(files.length, 'file')} of ${counted(frames.length, 'frame')}`}
          {total !== undefined && some && `, about ${gigabytes(total)}`}
          {seconds !== undefined && some && ` and ${duration(seconds)}`}
          {free !== undefined && some && `, ${gigabytes(free)} free`}
        </span>
        <button type="button" className="button" onClick={props.onClose}>
          Cancel
        </button>
        <button type="submit" className="button button-main" disabled={busy || !some}>
          Deliver
        </button>
      </div>
    </form>
  )
}
