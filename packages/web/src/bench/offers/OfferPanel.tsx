import type { Development } from '@dunkelkammer/core'
import { useAtom, useAtomValue } from 'jotai'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type ReactNode } from 'react'
import { Toggle } from '../../controls/Toggle'
import { ModalDialog } from '../../shell/ModalDialog'
import { developmentAtom, pictureAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { storedSwitch } from '../state/stored'
import type { Offer } from './offer'
import { OfferTile } from './OfferTile'
import { usePreviews } from './usePreviews'

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
