import type { Development } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { useAtom, useAtomValue } from 'jotai'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type ReactNode } from 'react'
import { Toggle } from '../../controls/Toggle'
import { ModalDialog } from '../../shell/ModalDialog'
import { Pixels } from '../picture/Pixels'
import { developmentAtom, pictureAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { storedSwitch } from '../state/stored'
import type { Offer } from './offer'
import { DOWN, usePreviews } from './usePreviews'

/** Width of a preview's pane. */
const PANE = 130
const COLUMNS = 2

const largeAtom = storedSwitch('looks shown large', ['yes', 'no'], true)

/** Offers on this very picture, small and on the picture itself; nothing changes until one is taken. */
export function OfferPanel<O extends Offer>(props: {
  title: string
  offers: readonly O[]
  isChosen?(offer: O, d: Development): boolean
  onTake(offer: O): void
  onClose(): void
  /** What is said of one while the pointer is on its cross. */
  removes?: string
  /** Below the offers, moving with them. */
  after?: ReactNode
  /** Below the offers, always there. */
  children?: ReactNode
}) {
  const { title, offers, isChosen, onTake, onClose, removes, after, children } = props
  const bench = useBench()
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  const [large, setLarge] = useAtom(largeAtom)
  const groups = [...new Set(offers.map((o) => o.group))]
  // within the list previews are drawn group by group: keys walk in the same order
  const ordered = groups.flatMap((g) => offers.filter((o) => o.group === g))
  const views = usePreviews(picture, development, ordered)
  const grid = useRef<HTMLDivElement>(null)
  const onTry = (tried: Development | undefined) => bench.set(trialAtom, tried)
  const look = (offer: O | undefined) => onTry(offer && large ? offer.apply(development) : undefined)
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -COLUMNS, ArrowDown: COLUMNS }[event.key]
    if (!by) return
    const all = [...grid.current!.querySelectorAll<HTMLButtonElement>('button[data-look]')]
    const at = all.indexOf(document.activeElement as HTMLButtonElement)
    event.preventDefault()
    all[Math.min(Math.max(at + by, 0), all.length - 1)]?.focus()
  }
  const close = () => {
    onTry(undefined)
    onClose()
  }
  return (
    <ModalDialog
      onClose={close}
      label={title}
      className="fixed top-[60px] bottom-[124px] left-0 flex h-auto max-h-none w-[320px] flex-col border-r border-edge bg-panel backdrop:bg-transparent"
    >
      <div className="flex items-center gap-4 border-b border-line px-4 py-2">
        <h2 className="flex-1 font-semibold text-bright">{title}</h2>
        <Toggle label="Show large" checked={large} onChange={setLarge} />
        <button className="icon-button" aria-label={`Close the ${title.toLowerCase()}`} onClick={close}>
          <X className="h-4 w-4" aria-hidden />
        </button>
      </div>
      <div
        ref={grid}
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-4"
        onKeyDown={keys}
        onPointerLeave={() => look(undefined)}
      >
        {groups.map((group) => (
          <section key={group}>
            <h3 className="py-2 text-quiet">{group}</h3>
            <div className="grid grid-cols-2 gap-2">
              {ordered
                .filter((o) => o.group === group)
                .map((o) => (
                  <OfferTile
                    key={o.key}
                    offer={o}
                    view={views.get(o.key)}
                    chosen={isChosen?.(o, development)}
                    removes={removes}
                    onLook={() => look(o)}
                    onTake={() => {
                      onTry(undefined)
                      onTake(o)
                    }}
                  />
                ))}
            </div>
          </section>
        ))}
        {after}
      </div>
      {children && <div className="border-t border-line px-4 py-2">{children}</div>}
    </ModalDialog>
  )
}

function OfferTile(props: {
  offer: Offer
  view?: View
  chosen?: boolean
  removes?: string
  onLook(): void
  onTake(): void
}) {
  const { offer, view, chosen, removes, onLook, onTake } = props
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
