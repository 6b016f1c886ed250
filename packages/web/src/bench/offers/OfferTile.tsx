import type { View } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import type { ReactNode } from 'react'
import { Pixels } from '../picture/Pixels'
import type { Offer } from './offer'
import { DOWN } from './usePreviews'

/** Width of a preview's pane. */
const PANE = 130

/** One offer: its small view, its name and what it is for. */
export function OfferTile(props: {
  offer: Offer
  view?: View
  chosen?: boolean
  removes?: string
  /** Lies in its corner while it is looked at. */
  tools?: ReactNode
  onLook(): void
  onTake(): void
}) {
  const { offer, view, chosen, removes, tools, onLook, onTake } = props
  return (
    <div className="group relative flex">
      <button
        data-look={offer.key}
        autoFocus={chosen}
        aria-pressed={chosen}
        className={`flex min-w-0 flex-1 flex-col border p-1 text-left ${chosen ? 'border-safe' : 'border-line hover:border-quiet'}`}
        onPointerEnter={onLook}
        onFocus={onLook}
        onClick={onTake}
      >
        <Preview view={view} />
        <span className="mt-1 max-w-full truncate text-bright">{offer.name}</span>
        <span className="max-w-full truncate text-[11px] text-quiet">{offer.about}</span>
      </button>
      {tools}
      {offer.remove && (
        <button
          className="absolute top-1 right-1 flex h-5 w-5 items-center justify-center bg-night/80 text-quiet hover:text-bright"
          aria-label={`Remove the look ${offer.name}`}
          title={removes}
          onClick={() => void offer.remove?.()}
        >
          <X className="h-3 w-3" aria-hidden />
        </button>
      )}
    </div>
  )
}

function Preview({ view }: { view?: View }) {
  return (
    <span className="relative block h-[92px] w-full overflow-hidden bg-night">
      {view && (
        <Pixels
          rgba={view.rgba}
          width={view.width}
          height={view.height}
          left={(PANE - view.width) / 2}
          top={(DOWN - view.height) / 2}
          pixel={1}
        />
      )}
    </span>
  )
}
