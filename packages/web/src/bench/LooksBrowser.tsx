import { LOOKS, type Development, type LookSettings } from '@dunkelkammer/core'
import type { Picture, View } from '@dunkelkammer/engine/browser'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { fitInto } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { Toggle } from '../controls/Toggle'
import { Pixels } from './Pixels'
import { useStored } from './useStored'

/** One look on offer. */
export interface Offer {
  key: string
  name: string
  about: string
  group: string
  /** What the development becomes. */
  apply(d: Development): Development
}

const NONE: LookSettings = { kind: 'none', id: '', name: '' }
const withLook = (d: Development, look: LookSettings): Development => ({
  ...d,
  steps: { ...d.steps, look },
  off: d.off.filter((id) => id !== 'look'),
})

const OWN: readonly Offer[] = [
  { key: 'none', name: 'None', about: 'As developed', group: 'Colour', apply: (d) => withLook(d, NONE) },
  ...LOOKS.map((l): Offer => ({
    key: l.id,
    name: l.name,
    about: l.about,
    group: l.kind === 'colour' ? 'Colour' : 'Monochrome',
    apply: (d) => withLook(d, { kind: 'own', id: l.id, name: l.name }),
  })),
]

/** Longest side of a preview, in pixels of the screen. */
const SIDE = 150
const COLUMNS = 3

/** All looks on this very picture; nothing changes until one is chosen. */
export function LooksBrowser(props: {
  open: boolean
  onClose(): void
  picture?: Picture
  development: Development
  /** Looks that belong to this frame or this library. */
  more: readonly Offer[]
  /** Shows a development large without choosing it. */
  onTry(development: Development | undefined): void
  onChoose(offer: Offer): void
}) {
  const { open, onClose, picture, development, onTry, onChoose, more } = props
  const [large, setLarge] = useStored('looks shown large', 'yes', ['yes', 'no'])
  const offers = [...OWN, ...more]
  const groups = [...new Set(offers.map((o) => o.group))]
  // within the list previews are drawn group by group: keys walk in the same order
  const ordered = groups.flatMap((g) => offers.filter((o) => o.group === g))
  const views = usePreviews(open ? picture : undefined, development, ordered)
  const grid = useRef<HTMLDivElement>(null)
  const close = () => {
    onTry(undefined)
    onClose()
  }
  const look = (offer: Offer | undefined) =>
    onTry(offer && large === 'yes' ? offer.apply(development) : undefined)
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -COLUMNS, ArrowDown: COLUMNS }[event.key]
    if (!by) return
    const all = [...grid.current!.querySelectorAll<HTMLButtonElement>('button[data-look]')]
    const at = all.indexOf(document.activeElement as HTMLButtonElement)
    event.preventDefault()
    all[Math.min(Math.max(at + by, 0), all.length - 1)]?.focus()
  }
  const current = development.steps.look
  return (
    <Dialog open={open} onClose={close} className="relative z-40">
      <DialogPanel className="fixed top-[60px] bottom-[124px] left-0 flex w-[520px] flex-col border-r border-edge bg-panel">
        <div className="flex items-center gap-4 border-b border-line px-4 py-2">
          <DialogTitle className="flex-1 font-semibold text-bright">Looks</DialogTitle>
          <Toggle
            label="Show large"
            checked={large === 'yes'}
            onChange={(on) => setLarge(on ? 'yes' : 'no')}
          />
          <button className="icon-button" aria-label="Close the looks" onClick={close}>
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
              <div className="grid grid-cols-3 gap-3">
                {ordered
                  .filter((o) => o.group === group)
                  .map((o) => {
                    const chosen =
                      o.key === 'none'
                        ? current.kind === 'none'
                        : current.kind !== 'none' &&
                          (current.id === o.key || `${current.kind} ${current.id}` === o.key)
                    return (
                      <button
                        key={o.key}
                        data-look={o.key}
                        autoFocus={chosen}
                        aria-pressed={chosen}
                        className={`flex flex-col border p-1 text-left ${chosen ? 'border-safe' : 'border-line hover:border-quiet'}`}
                        onPointerEnter={() => look(o)}
                        onFocus={() => look(o)}
                        onClick={() => {
                          onTry(undefined)
                          onChoose(o)
                        }}
                      >
                        <Preview view={views.get(o.key)} />
                        <span className="mt-1 truncate text-bright">{o.name}</span>
                        <span className="truncate text-[11px] text-quiet">{o.about}</span>
                      </button>
                    )
                  })}
              </div>
            </section>
          ))}
        </div>
      </DialogPanel>
    </Dialog>
  )
}

function Preview({ view }: { view?: View }) {
  return (
    <span className="relative block h-[100px] w-full overflow-hidden bg-night">
      {view && (
        <Pixels
          rgba={view.rgba}
          width={view.width}
          height={view.height}
          left={(SIDE - view.width) / 2}
          top={(100 - view.height) / 2}
          pixel={1}
        />
      )}
    </span>
  )
}

/** Small views of the picture under each look, one after the other. */
function usePreviews(picture: Picture | undefined, development: Development, offers: readonly Offer[]) {
  const [views, setViews] = useState<ReadonlyMap<string, View>>(new Map())
  const latest = useRef(offers)
  latest.current = offers
  const names = offers.map((o) => o.key).join()
  useEffect(() => {
    if (!picture) return
    const stop = new AbortController()
    const size = fitInto(picture.width, picture.height, SIDE, 100)
    const make = async () => {
      for (const offer of latest.current) {
        if (stop.signal.aborted) return
        const region = { x: 0, y: 0, ...size }
        const view = await picture.view(
          { development: offer.apply(development), ...size, region },
          stop.signal,
        )
        setViews((now) => new Map(now).set(offer.key, view))
      }
    }
    make().catch(() => undefined)
    return () => stop.abort()
  }, [picture, development, names])
  return views
}
