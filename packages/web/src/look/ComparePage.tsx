import type { Frame } from '@dunkelkammer/contract'
import { useQuery } from '@tanstack/react-query'
import { ChevronLeft, X } from 'lucide-react'
import { useCallback, useEffect, useRef, useState, type PointerEvent, type WheelEvent } from 'react'
import { Link, useParams, useSearchParams, useNavigate } from 'react-router'
import { api } from '../api/client'
import { KeysDialog, Palette } from '../commands/CommandDialogs'
import { useCommandKeys, type Command } from '../commands/commands'
import { layOutView, type Pane } from '../bench/picture/geometry'
import { Choice } from '../controls/Choice'
import { Awaited } from '../shell/Awaited'
import { takingLine } from '../shell/format'
import { changeFrames, doAgain, takeBack, useChanges } from '../sheet/changes'
import { choosingCommands, MARKED, starWord } from '../sheet/choosingCommands'
import { takeInHand } from '../sheet/hand'
import { Stars } from '../sheet/Stars'
import { asQuery, sheetSearch, useSheet } from '../sheet/useSheet'
import { closeSpare } from './openPictures'
import { PicturePane, type Size } from './PicturePane'
import { draggedBy, WHOLE, type Tied } from './scaled'

const MOST = 4
const KEY_HINTS = {
  title: 'Pictures',
  text: 'A click shows 100 % at that place in all of them, another one the whole pictures. Drag to move them together, turn the wheel to go closer.',
}

/** A frame, or one version of it. */
interface Item {
  id: string
  version?: string
}

const readItems = (text: string | null): Item[] =>
  (text ?? '')
    .split(',')
    .filter(Boolean)
    .slice(0, MOST)
    .map((part) => {
      const [id, version] = part.split(':')
      return { id, version }
    })
const writeItems = (items: readonly Item[]) =>
  items.map(({ id, version }) => (version ? `${id}:${version}` : id)).join(',')
const nameOf = ({ id, version }: Item) => `${id}:${version ?? ''}`

/** Two to four frames or versions beside one another, at the same place of the scene. */
export function ComparePage() {
  const { shootId = '' } = useParams()
  const { query, all } = useSheet(shootId)
  const [search, setSearch] = useSearchParams()
  const items = readItems(search.get('frames'))
  const panes = items
    .map((item) => ({ item, frame: all.find((f) => f.id === item.id) }))
    .filter((p): p is { item: Item; frame: Frame } => p.frame !== undefined && p.frame.mark !== 'drop')
  const [inHand, setInHand] = useState(0)
  const [pane, setPane] = useState<Pane>()
  const [tied, setTied] = useState<Tied>(WHOLE)
  const [dialog, setDialog] = useState<'keys' | 'palette'>()
  const { said, problem, done, undone } = useChanges()
  const drag = useRef<{ x: number; y: number; moved: boolean }>(undefined)
  useEffect(() => closeSpare, [])

  const at = Math.min(inHand, panes.length - 1)
  const current = panes[at]?.frame
  const currentId = current?.id
  useEffect(() => {
    if (currentId) takeInHand(shootId, currentId)
  }, [shootId, currentId])
  const navigate = useNavigate()
  const back = `/shoots/${shootId}${asQuery(sheetSearch(search))}`
  /** CSS pixels of the longer side when the frame with the most pixels is at 100 %. */
  /** How large each version's frame is, once that is known. */
  const [sizes, setSizes] = useState<Readonly<Record<string, Size>>>({})
  const sizeOf = ({ item, frame }: (typeof panes)[number]): Size => sizes[nameOf(item)] ?? frame
  const largest = Math.max(...panes.map(sizeOf).map((s) => Math.max(s.width, s.height)))
  const at100 = pane && largest / pane.density
  const fitted = useCallback(
    (size: Size) => {
      if (!pane) return 1
      const g = layOutView(size, pane, 'fit', WHOLE.centre)
      return Math.max(g.width, g.height) * g.pixel
    },
    [pane],
  )
  const setItems = (next: readonly Item[]) =>
    setSearch(
      (s) => {
        const out = new URLSearchParams(s)
        out.set('frames', writeItems(next))
        return out
      },
      { replace: true },
    )
  const takeOut = (index: number) => {
    if (panes.length > 1) setItems(panes.filter((_, i) => i !== index).map((p) => p.item))
  }
  const rate = (frame: Frame, rating: number) =>
    changeFrames(shootId, [frame], { rating }, `${starWord(rating)} for ${frame.fileName}`)

  const placeIn = (size: Size, event: { clientX: number; clientY: number; currentTarget: Element }) => {
    const box = event.currentTarget.getBoundingClientRect()
    const long = tied.longEdge ?? fitted(size)
    const scale = long / Math.max(size.width, size.height)
    const { centre } = tied.longEdge ? tied : WHOLE
    return {
      x: centre.x + (event.clientX - box.left - box.width / 2) / (size.width * scale),
      y: centre.y + (event.clientY - box.top - box.height / 2) / (size.height * scale),
    }
  }
  const toggle = (centre: Tied['centre']) =>
    setTied((t) => (t.longEdge ? WHOLE : { centre, longEdge: at100 }))
  const down = (event: PointerEvent, index: number) => {
    if (event.button !== 0 || (event.target as Element).closest('button, select')) return
    setInHand(index)
    event.currentTarget.setPointerCapture(event.pointerId)
    drag.current = { x: event.clientX, y: event.clientY, moved: false }
  }
  const move = (event: PointerEvent, size: Size) => {
    const from = drag.current
    if (!from) return
    const [dx, dy] = [event.clientX - from.x, event.clientY - from.y]
    if (!from.moved && Math.hypot(dx, dy) < 4) return
    drag.current = { x: event.clientX, y: event.clientY, moved: true }
    if (tied.longEdge) setTied((t) => ({ ...t, centre: draggedBy(t, size, dx, dy) }))
  }
  const up = (event: PointerEvent, size: Size) => {
    const from = drag.current
    drag.current = undefined
    if (from && !from.moved) toggle(placeIn(size, event))
  }
  const wheel = (event: WheelEvent, size: Size) => {
    if (!at100) return
    const under = placeIn(size, event)
    const from = tied.longEdge ?? fitted(size)
    const longEdge = Math.min(from * Math.exp(-event.deltaY * 0.0015), at100 * 4)
    if (longEdge <= fitted(size)) return setTied(WHOLE)
    // what is under the pointer stays there
    const keep = from / longEdge
    const { centre } = tied.longEdge ? tied : WHOLE
    setTied({
      longEdge,
      centre: { x: under.x + (centre.x - under.x) * keep, y: under.y + (centre.y - under.y) * keep },
    })
  }

  const commands: Command[] = [
    ...choosingCommands({
      disabled: !current,
      rate: (n) => rate(current, n),
      mark: (kind) =>
        changeFrames(shootId, [current], { mark: kind }, `${MARKED[kind]}: ${current.fileName}`),
      takeBack: done.some((d) => d.shootId === shootId) ? () => takeBack(shootId) : undefined,
      doAgain: undone.some((d) => d.shootId === shootId) ? () => doAgain(shootId) : undefined,
    }),
    {
      id: 'out',
      label: 'Take this one out of the comparison',
      group: 'Choose',
      keys: 'X',
      disabled: panes.length < 2,
      run: () => takeOut(at),
    },
    {
      id: 'next',
      label: 'Next pane',
      group: 'View',
      keys: 'ArrowRight',
      run: () => setInHand((at + 1) % Math.max(panes.length, 1)),
    },
    {
      id: 'previous',
      label: 'Previous pane',
      group: 'View',
      keys: 'ArrowLeft',
      run: () => setInHand((at + panes.length - 1) % Math.max(panes.length, 1)),
    },
    { id: 'zoom', label: '100 % and back', group: 'View', keys: 'Z', run: () => toggle(tied.centre) },
    {
      id: 'palette',
      label: 'Find a command',
      group: 'Work',
      keys: 'Ctrl+K',
      run: () => setDialog('palette'),
    },
    { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => setDialog('keys') },
    {
      id: 'back',
      label: 'Back to the sheet',
      group: 'View',
      keys: 'Escape',
      run: () => void navigate(back),
    },
  ]
  useCommandKeys(() => commands)
  const share = tied.longEdge && at100 ? tied.longEdge / at100 : undefined

  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 shrink-0 items-center gap-4 border-b border-line bg-panel px-4">
        <Link to={back} className="icon-button" aria-label="Back to the contact sheet">
          <ChevronLeft className="h-5 w-5" aria-hidden />
        </Link>
        <h1 className="text-bright">Side by side</h1>
        <span role="status" className="min-w-0 truncate text-quiet">
          {problem || said}
        </span>
        <span className="ml-auto flex items-center gap-3">
          {share !== undefined && ![1, 2].includes(share) && (
            <span className="text-quiet">{Math.round(share * 100)} %</span>
          )}
          <Choice
            label="Zoom"
            value={share === undefined ? 0 : share}
            options={[
              { value: 0, label: 'Fit' },
              { value: 1, label: '100 %' },
              { value: 2, label: '200 %' },
            ]}
            onChange={(z) => setTied((t) => ({ ...t, longEdge: z && at100 ? at100 * z : undefined }))}
          />
        </span>
      </header>
      <main className="min-h-0 flex-1">
        {!query.data && (
          <div className="p-6">
            <Awaited query={query} label="Loading the frames" />
          </div>
        )}
        {query.data && panes.length === 0 && (
          <div className="flex flex-col items-start gap-3 p-6">
            <p className="text-quiet">There is nothing to compare here any more.</p>
            <Link className="button" to={back}>
              Back to the contact sheet
            </Link>
          </div>
        )}
        {panes.length > 0 && (
          <ul
            className="grid h-full gap-px bg-line"
            style={{
              gridTemplateColumns: `repeat(${panes.length === 4 ? 2 : panes.length}, minmax(0, 1fr))`,
              gridTemplateRows: `repeat(${panes.length === 4 ? 2 : 1}, minmax(0, 1fr))`,
            }}
          >
            {panes.map(({ item, frame }, i) => (
              <li
                key={nameOf(item)}
                aria-current={i === at}
                aria-label={frame.fileName}
                className={`flex min-h-0 min-w-0 flex-col ${i === at ? 'outline-1 -outline-offset-1 outline-safe' : ''}`}
              >
                <div
                  className={`min-h-0 flex-1 touch-none select-none ${tied.longEdge ? 'cursor-move' : 'cursor-crosshair'}`}
                  data-testid="compare-pane"
                  onPointerDown={(e) => down(e, i)}
                  onPointerMove={(e) => move(e, sizeOf(panes[i]))}
                  onPointerUp={(e) => up(e, sizeOf(panes[i]))}
                  onPointerCancel={() => (drag.current = undefined)}
                  onWheel={(e) => wheel(e, sizeOf(panes[i]))}
                >
                  <PicturePane
                    frame={frame}
                    versionId={item.version}
                    tied={tied}
                    onPane={i === 0 ? setPane : undefined}
                    onSize={(size) => setSizes((all) => ({ ...all, [nameOf(item)]: size }))}
                  />
                </div>
                <div className="flex h-9 shrink-0 items-center gap-3 border-t border-line bg-panel px-3 text-[12px]">
                  <span className="truncate text-bright">{frame.fileName}</span>
                  {item.version && <VersionName frameId={frame.id} versionId={item.version} />}
                  <span className="hidden truncate text-quiet xl:inline">{takingLine(frame)}</span>
                  <span className="ml-auto flex items-center gap-3">
                    {frame.mark === 'keep' && <span>keep</span>}
                    <Stars rating={frame.rating} onRate={(n) => rate(frame, n)} />
                    <button
                      className="icon-button !w-5"
                      aria-label={`Take ${frame.fileName} out`}
                      disabled={panes.length < 2}
                      onClick={() => takeOut(i)}
                    >
                      <X className="h-4 w-4" aria-hidden />
                    </button>
                  </span>
                </div>
              </li>
            ))}
          </ul>
        )}
      </main>
      <KeysDialog
        open={dialog === 'keys'}
        onClose={() => setDialog(undefined)}
        commands={commands}
        hints={KEY_HINTS}
      />
      <Palette open={dialog === 'palette'} onClose={() => setDialog(undefined)} commands={commands} />
    </div>
  )
}

/** Which version of a frame a pane shows. */
function VersionName({ frameId, versionId }: { frameId: string; versionId: string }) {
  const { data } = useQuery({ queryKey: ['versions', frameId], queryFn: () => api.frame(frameId) })
  const name = data?.versions.find((v) => v.id === versionId)?.name
  return <span className="truncate">{name}</span>
}
