import type { SavedDelivery } from '@dunkelkammer/contract'
import { describeDelivery } from '@dunkelkammer/core'
import { Pencil } from 'lucide-react'

/** Saved deliveries to choose from, several at once. */
export function DeliveryList(props: {
  deliveries: readonly SavedDelivery[]
  chosen: ReadonlySet<string>
  onToggle(id: string): void
  onEdit(saved: SavedDelivery): void
}) {
  return (
    <ul className="min-h-0 flex-1 overflow-y-auto border border-line" aria-label="Deliveries">
      {props.deliveries.map((saved) => {
        const { id, delivery } = saved
        const on = props.chosen.has(id)
        return (
          <li key={id} className={`flex items-start border-b border-line ${on ? 'bg-raised' : ''}`}>
            <label className="flex min-w-0 flex-1 items-start gap-2 py-2 pl-3">
              <input
                type="checkbox"
                className="mt-0.5 accent-safe"
                checked={on}
                onChange={() => props.onToggle(id)}
              />
              <span className="min-w-0">
                <span className="block truncate text-bright" title={delivery.name}>
                  {delivery.name}
                </span>
                <span className="block text-[12px] text-quiet">{describeDelivery(delivery)}</span>
              </span>
            </label>
            <button
              type="button"
              className="icon-button"
              aria-label={`Edit ${delivery.name}`}
              title="Edit"
              onClick={() => props.onEdit(saved)}
            >
              <Pencil className="h-3.5 w-3.5" aria-hidden />
            </button>
          </li>
        )
      })}
    </ul>
  )
}
