import type { Development } from '@dunkelkammer/core'
import type { Picture, View } from '@dunkelkammer/engine/browser'
import { fitInto } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { useEffect, useRef, useState, type KeyboardEvent } from 'react'
import { Toggle } from '../../controls/Toggle'
import { ModalDialog } from '../../shell/ModalDialog'
import { Pixels } from '../picture/Pixels'
import { isChosen, OWN_OFFERS, type Offer } from './offers'
import { useAtom, useAtomValue } from 'jotai'
import { developmentAtom, looksOpenAtom, pictureAtom, trialAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { storedSwitch } from '../state/stored'
import { keepLook, loadTables, problemAtom, saveTable, useOwnOffers } from './own'

/** Longest side of a preview, in pixels of the screen. */
const SIDE = 136
const DOWN = 92
/** Width of a preview's pane. */
const PANE = 130
const COLUMNS = 2

const largeAtom = storedSwitch('looks shown large', ['yes', 'no'], true)

/** All looks on this very picture; nothing changes until one is chosen. */
export function LooksBrowser() {
  const bench = useBench()
  const [open, setOpen] = useAtom(looksOpenAtom)
  const picture = useAtomValue(pictureAtom)
  const development = useAtomValue(developmentAtom)
  const problem = useAtomValue(problemAtom)
  const own = useOwnOffers()
  const onTry = (tried: Development | undefined) => bench.set(trialAtom, tried)
  const [large, setLarge] = useAtom(largeAtom)
  const offers = [...OWN_OFFERS, ...own]
  const groups = [...new Set(offers.map((o) => o.group))]
  // within the list previews are drawn group by group: keys walk in the same order
  const ordered = groups.flatMap((g) => offers.filter((o) => o.group === g))
  const views = usePreviews(open ? picture : undefined, development, ordered)
  const grid = useRef<HTMLDivElement>(null)
  const close = () => {
    onTry(undefined)
    setOpen(false)
  }
  const look = (offer: Offer | undefined) => onTry(offer && large ? offer.apply(development) : undefined)
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -COLUMNS, ArrowDown: COLUMNS }[event.key]
    if (!by) return
    const all = [...grid.current!.querySelectorAll<HTMLButtonElement>('button[data-look]')]
    const at = all.indexOf(document.activeElement as HTMLButtonElement)
    event.preventDefault()
    all[Math.min(Math.max(at + by, 0), all.length - 1)]?.focus()
  }
  const [name, setName] = useState('')
  const files = useRef<HTMLInputElement>(null)
  if (!open) return null
  return (
    <ModalDialog
      onClose={close}
      label="Looks"
      className="fixed top-[60px] bottom-[124px] left-0 flex h-auto max-h-none w-[320px] flex-col border-r border-edge bg-panel backdrop:bg-transparent"
    >
      <div className="flex items-center gap-4 border-b border-line px-4 py-2">
        <h2 className="flex-1 font-semibold text-bright">Looks</h2>
        <Toggle label="Show large" checked={large} onChange={setLarge} />
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
            <div className="grid grid-cols-2 gap-2">
              {ordered
                .filter((o) => o.group === group)
                .map((o) => {
                  const chosen = isChosen(o, development)
                  return (
                    <div key={o.key} className="group relative flex">
                      <button
                        data-look={o.key}
                        autoFocus={chosen}
                        aria-pressed={chosen}
                        className={`flex min-w-0 flex-1 flex-col border p-1 text-left ${chosen ? 'border-safe' : 'border-line hover:border-quiet'}`}
                        onPointerEnter={() => look(o)}
                        onFocus={() => look(o)}
                        onClick={() => {
                          onTry(undefined)
                          bench.adjust((d) => o.apply(d), o.key === 'none' ? 'No look' : `Look: ${o.name}`)
                        }}
                      >
                        <Preview view={views.get(o.key)} />
                        <span className="mt-1 truncate text-bright">{o.name}</span>
                        <span className="truncate text-[11px] text-quiet">{o.about}</span>
                      </button>
                      {o.remove && (
                        <button
                          className="absolute top-1 right-1 flex h-5 w-5 items-center justify-center bg-night/80 text-quiet hover:text-bright"
                          aria-label={`Remove the look ${o.name}`}
                          title="No longer offered; pictures that use it keep it"
                          onClick={() => void o.remove?.()}
                        >
                          <X className="h-3 w-3" aria-hidden />
                        </button>
                      )}
                    </div>
                  )
                })}
            </div>
          </section>
        ))}
      </div>
      <div className="border-t border-line px-4 py-2">
        {problem && (
          <p role="alert" className="mb-2 text-info">
            {problem}
          </p>
        )}
        <div className="grid grid-cols-3 gap-1.5">
          <input
            className="field col-span-2"
            aria-label="Name of the look"
            placeholder="Name of this look"
            maxLength={120}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <button
            className="button !px-1"
            disabled={!name.trim()}
            onClick={() => void keepLook(bench, name.trim()).then(() => setName(''))}
            title="Saves curves, hues, tints, primaries, monochrome and toning of this development"
          >
            Save
          </button>
          <button
            className="button !px-2"
            disabled={!name.trim() || !picture}
            onClick={() => void saveTable(bench, name.trim())}
            title="The same as a table of 33 steps a channel"
          >
            Save .cube
          </button>
          <button className="button col-span-2 !px-2" onClick={() => files.current?.click()}>
            Load .cube
          </button>
          <input
            ref={files}
            type="file"
            accept=".cube"
            multiple
            hidden
            aria-label="Tables of colours to load"
            onChange={(e) => {
              void loadTables(bench, [...(e.target.files ?? [])])
              e.target.value = ''
            }}
          />
        </div>
      </div>
    </ModalDialog>
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

/** Small views of the picture under each look, one after the other. */
function usePreviews(picture: Picture | undefined, development: Development, offers: readonly Offer[]) {
  const [views, setViews] = useState<ReadonlyMap<string, View>>(new Map())
  const latest = useRef(offers)
  latest.current = offers
  const names = offers.map((o) => o.key).join()
  useEffect(() => {
    if (!picture) return
    const stop = new AbortController()
    const make = async () => {
      const frame = await picture.square(development)
      const size = fitInto(frame.width, frame.height, SIDE, DOWN)
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
