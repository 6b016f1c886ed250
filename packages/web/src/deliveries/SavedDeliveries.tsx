import type { SavedDelivery } from '@dunkelkammer/contract'
import { DeliverySchema, describeDelivery, type Delivery } from '@dunkelkammer/core'
import { Copy, Pencil, Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { api, sentence } from '../api/client'
import { Awaited } from '../shell/Awaited'
import { Modal } from '../shell/Modal'
import { ErrorNotice } from '../shell/Notice'
import { DeliveryEditor } from './editor/DeliveryEditor'
import { forgetDeliveries, useDeliveries } from './useDeliveries'
import { TableHead } from '../shell/TableHead'

const WHERE: Readonly<Record<Delivery['place']['in'], string>> = {
  library: 'Deliveries of the library',
  beside: 'Beside the original',
  folder: '',
}
const placeOf = ({ place }: Delivery) => {
  const at = place.in === 'folder' ? place.path : WHERE[place.in]
  return place.subfolder ? `${at}, ${place.subfolder}` : at
}

const COLUMNS = [['Name', 'w-[26%]'], ['File', 'w-[32%]'], ['Place']] as const

/** What is edited: its id where it is saved already. */
interface Edited {
  id?: string
  delivery: Delivery
}

/** The saved deliveries: made, changed, copied and removed. */
export function SavedDeliveries() {
  const query = useDeliveries()
  const [edited, edit] = useState<Edited>()
  const [removed, setRemoved] = useState<SavedDelivery>()
  const [problem, setProblem] = useState<string>()
  const save = async (delivery: Delivery) => {
    if (edited?.id) await api.changeDelivery(edited.id, delivery)
    else await api.addDelivery(delivery)
    await forgetDeliveries()
    edit(undefined)
  }
  const attempt = async (what: () => Promise<unknown>) => {
    setProblem(undefined)
    try {
      await what()
      await forgetDeliveries()
    } catch (error) {
      setProblem(sentence(error))
    }
  }
  const remove = (saved: SavedDelivery) =>
    attempt(async () => {
      await api.removeDelivery(saved.id)
      setRemoved(saved)
    })
  return (
    <section aria-label="Saved deliveries" className="mt-10">
      <div className="mb-3 flex items-center justify-between">
        <h2 className="text-base font-semibold text-bright">Saved deliveries</h2>
        <button
          className="button"
          onClick={() => edit({ delivery: DeliverySchema.parse({ name: 'New delivery' }) })}
        >
          <Plus className="h-4 w-4" aria-hidden /> New delivery
        </button>
      </div>
      <Awaited query={query} label="Loading the deliveries" />
      {problem && <ErrorNotice>{problem}</ErrorNotice>}
      {removed && (
        <p role="status" className="mb-2 flex items-center gap-3 text-quiet">
          Removed “{removed.delivery.name}”.
          <button
            className="button"
            onClick={() =>
              void attempt(async () => {
                await api.addDelivery(removed.delivery)
                setRemoved(undefined)
              })
            }
          >
            Undo
          </button>
        </p>
      )}
      {query.data && (
        <table className="w-full table-fixed border-collapse text-left">
          <TableHead columns={COLUMNS} />
          <tbody>
            {query.data.map((saved) => {
              const { id, delivery } = saved
              return (
                <tr key={id} className="border-b border-line align-top">
                  <td className="truncate py-2.5 pr-4 text-bright" title={delivery.name}>
                    {delivery.name}
                  </td>
                  <td className="py-2.5 pr-4">{describeDelivery(delivery)}</td>
                  <td className="py-2.5 pr-4 break-words text-quiet">{placeOf(delivery)}</td>
                  <td className="py-1 text-right whitespace-nowrap">
                    <button
                      className="icon-button"
                      aria-label={`Edit ${delivery.name}`}
                      title="Edit"
                      onClick={() => edit({ id, delivery })}
                    >
                      <Pencil className="h-4 w-4" aria-hidden />
                    </button>
                    <button
                      className="icon-button"
                      aria-label={`Copy ${delivery.name}`}
                      title="Copy"
                      onClick={() =>
                        edit({ delivery: { ...delivery, name: `${delivery.name} copy`.slice(0, 80) } })
                      }
                    >
                      <Copy className="h-4 w-4" aria-hidden />
                    </button>
                    <button
                      className="icon-button"
                      aria-label={`Remove ${delivery.name}`}
                      title="Remove"
                      onClick={() => void remove(saved)}
                    >
                      <Trash2 className="h-4 w-4" aria-hidden />
                    </button>
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
      {query.data?.length === 0 && <p className="py-3 text-quiet">There are none. Make one to deliver by.</p>}
      {edited && (
        <Modal open onClose={() => edit(undefined)} title="Delivery" width={640}>
          <div className="flex h-[600px] max-h-[calc(100vh-180px)] flex-col">
            <DeliveryEditor delivery={edited.delivery} onSave={save} onCancel={() => edit(undefined)} />
          </div>
        </Modal>
      )}
    </section>
  )
}
