import { useVirtualizer } from '@tanstack/react-virtual'
import {
  memo,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
  type PointerEvent,
} from 'react'
import { Thumb } from '../shell/Thumb'
import { deliveredLine, takingLine } from '../shell/format'
import type { Cell } from './cells'
import { touched, type Box, type Selection } from './selection'
import { Stars } from './Stars'

const GAP = 10
const PAD = 16
/** Lines under a picture: its name, stars and mark. */
const CAPTION = 46
/** Pixels after which a press becomes a rectangle. */
const DRAG = 6
/** Pixels a frame that the sheet scrolls at most while a rectangle is drawn beyond its edge. */
const EDGE_SPEED = 24

interface Props {
  cells: readonly Cell[]
  /** Least side of a picture's square, CSS pixels. */
  size: number
  selection: Selection
  onClick(id: string, keys: { ctrl: boolean; shift: boolean }): void
  onOpen(id: string): void
  /** A rectangle touches frames. @param kept chosen before it was drawn, and to stay */
  onBox(ids: readonly string[], kept: ReadonlySet<string>): void
  onNone(): void
  onRate(id: string, rating: number): void
  onUnfold(stack: string): void
  onArrow(by: number, extend: boolean): void
}

/** The thumbnails, as many as the window shows and a few more. */
export function Grid(props: Props) {
  const { cells, selection } = props
  const room = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(0)
  const [box, setBox] = useState<Box>()
  const press = useRef<{ x: number; y: number; kept: ReadonlySet<string>; boxing: boolean }>(undefined)

  useLayoutEffect(() => {
    const element = room.current!
    const observer = new ResizeObserver(() => setWidth(element.clientWidth))
    observer.observe(element)
    setWidth(element.clientWidth)
    return () => observer.disconnect()
  }, [])

  const columns = Math.max(1, Math.floor((width - 2 * PAD + GAP) / (props.size + GAP)))
  // the wanted size is a least one: the cells fill the width
  const size = Math.max(Math.floor((width - 2 * PAD + GAP) / columns) - GAP, 40)
  const line = size + CAPTION
  const rows = Math.ceil(cells.length / columns)
  const virtual = useVirtualizer({
    count: rows,
    getScrollElement: () => room.current,
    estimateSize: () => line + GAP,
    paddingStart: PAD,
    paddingEnd: PAD,
    overscan: 2,
    // a frame late is better than a frame twice
    useFlushSync: false,
  })
  useLayoutEffect(() => virtual.measure(), [virtual, line])

  // keys work at once, where nothing else has taken them
  useEffect(() => {
    if (document.activeElement === document.body) room.current?.focus()
  }, [])

  // the frame in hand stays in sight
  const at = selection.at ? cells.findIndex((c) => c.frame.id === selection.at) : -1
  useEffect(() => {
    // a rectangle that is being drawn moves the sheet itself
    if (at >= 0 && width > 0 && !press.current?.boxing)
      virtual.scrollToIndex(Math.floor(at / columns), { align: 'auto' })
  }, [at, columns, width, virtual])

  const inside = (event: { clientX: number; clientY: number }) => {
    const r = room.current!.getBoundingClientRect()
    return { x: event.clientX - r.left, y: event.clientY - r.top + room.current!.scrollTop }
  }
  const down = (event: PointerEvent) => {
    if (event.button !== 0 || (event.target as Element).closest('button')) return
    const kept = event.ctrlKey || event.metaKey ? selection.ids : new Set<string>()
    press.current = { ...inside(event), kept, boxing: false }
  }
  const pointer = useRef({ clientX: 0, clientY: 0 })
  const move = (event: PointerEvent) => {
    const from = press.current
    if (!from) return
    pointer.current = { clientX: event.clientX, clientY: event.clientY }
    const to = inside(event)
    if (!from.boxing && Math.hypot(to.x - from.x, to.y - from.y) < DRAG) return
    if (!from.boxing) {
      event.currentTarget.setPointerCapture(event.pointerId)
      from.boxing = true
      requestAnimationFrame(followEdge)
    }
    draw()
  }
  /** Draws the rectangle up to the pointer and chooses what it touches. */
  const draw = () => {
    const from = press.current
    if (!from) return
    const to = inside(pointer.current)
    const next = {
      left: Math.min(from.x, to.x),
      top: Math.min(from.y, to.y),
      right: Math.max(from.x, to.x),
      bottom: Math.max(from.y, to.y),
    }
    setBox(next)
    const off = {
      left: next.left - PAD,
      right: next.right - PAD,
      top: next.top - PAD,
      bottom: next.bottom - PAD,
    }
    const found = touched(off, { columns, cell: size, line, gap: GAP, count: cells.length })
    props.onBox(
      found.map((i) => cells[i].frame.id),
      from.kept,
    )
  }
  // the loop below lives longer than one drawing of this component
  const drawLatest = useRef(draw)
  drawLatest.current = draw
  /** While a rectangle is drawn beyond the edge, the sheet follows. */
  const followEdge = () => {
    const element = room.current
    if (!press.current?.boxing || !element) return
    const { top, bottom } = element.getBoundingClientRect()
    const y = pointer.current.clientY
    const beyond = y < top ? y - top : y > bottom ? y - bottom : 0
    if (beyond) {
      element.scrollTop += Math.max(-EDGE_SPEED, Math.min(EDGE_SPEED, beyond / 2))
      drawLatest.current()
    }
    requestAnimationFrame(followEdge)
  }
  const up = (event: PointerEvent) => {
    const was = press.current
    press.current = undefined
    setBox(undefined)
    if (!was || was.boxing || event.type === 'pointercancel') return
    const cell = (event.target as Element).closest<HTMLElement>('[data-frame]')
    if (cell)
      props.onClick(cell.dataset.frame!, { ctrl: event.ctrlKey || event.metaKey, shift: event.shiftKey })
    else props.onNone()
  }
  const open = (event: MouseEvent) => {
    if ((event.target as Element).closest('button')) return
    const cell = (event.target as Element).closest<HTMLElement>('[data-frame]')
    if (cell) props.onOpen(cell.dataset.frame!)
  }
  const keys = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const page = Math.max(1, Math.floor((room.current?.clientHeight ?? 0) / (line + GAP))) * columns
    const by = {
      ArrowLeft: -1,
      ArrowRight: 1,
      ArrowUp: -columns,
      ArrowDown: columns,
      PageUp: -page,
      PageDown: page,
      Home: -cells.length,
      End: cells.length,
    }[event.key]
    if (by === undefined) return
    event.preventDefault()
    props.onArrow(by, event.shiftKey)
  }

  return (
    <div
      ref={room}
      role="grid"
      aria-multiselectable
      aria-rowcount={rows}
      aria-label="Frames"
      aria-activedescendant={selection.at && `frame-${selection.at}`}
      tabIndex={0}
      data-testid="grid"
      className={`group/grid relative h-full touch-none overflow-y-auto select-none ${at >= 0 ? 'focus-visible:outline-none' : 'focus-visible:-outline-offset-2'}`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={up}
      onDoubleClick={open}
      onKeyDown={keys}
    >
      <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {width > 0 &&
          virtual.getVirtualItems().map((row) => (
            <div
              key={row.key}
              role="row"
              aria-rowindex={row.index + 1}
              className="absolute left-0 flex"
              style={{ transform: `translateY(${row.start}px)`, gap: GAP, paddingLeft: PAD }}
            >
              {cells.slice(row.index * columns, (row.index + 1) * columns).map((cell) => (
                <SheetCell
                  key={cell.frame.id}
                  cell={cell}
                  size={size}
                  chosen={selection.ids.has(cell.frame.id)}
                  inHand={selection.at === cell.frame.id}
                  onRate={props.onRate}
                  onUnfold={props.onUnfold}
                />
              ))}
            </div>
          ))}
        {box && (
          <div
            className="pointer-events-none absolute border border-bright bg-white/10"
            style={{
              left: box.left,
              top: box.top,
              width: box.right - box.left,
              height: box.bottom - box.top,
            }}
          />
        )}
      </div>
    </div>
  )
}

const SheetCell = memo(
  function SheetCell({
    cell: { frame, count, unfolded, stack },
    size,
    chosen,
    inHand,
    onRate,
    onUnfold,
  }: {
    cell: Cell
    size: number
    chosen: boolean
    inHand: boolean
    onRate(id: string, rating: number): void
    onUnfold(stack: string): void
  }) {
    const marks = [
      frame.mark === 'keep' && 'keep',
      frame.mark === 'drop' && 'dropped',
      frame.edited && 'edited',
      frame.delivered && (frame.changedSince ? 'changed since delivery' : 'delivered'),
    ].filter(Boolean)
    return (
      <div
        id={`frame-${frame.id}`}
        role="gridcell"
        aria-selected={chosen}
        data-frame={frame.id}
        data-name={frame.fileName}
        title={[frame.fileName, takingLine(frame), deliveredLine(frame)].filter(Boolean).join('\n')}
        className={`shrink-0 border ${chosen ? 'border-safe bg-raised' : 'border-transparent bg-panel hover:border-edge'} ${inHand ? 'outline-1 outline-quiet group-focus-visible/grid:outline-2 group-focus-visible/grid:outline-bright' : ''}`}
        style={{ width: size, height: size + CAPTION, contain: 'strict' }}
      >
        <div className="relative" style={{ height: size - 2, padding: 6 }}>
          <Thumb
            frame={frame}
            eager
            className={`h-full w-full ${frame.mark === 'drop' ? 'opacity-40' : ''}`}
          />
          {count > 1 && (
            <button
              type="button"
              tabIndex={-1}
              onClick={(e) => {
                e.stopPropagation()
                onUnfold(stack)
              }}
              aria-label={unfolded ? 'Fold the stack' : `Unfold the stack of ${count}`}
              className={`absolute top-1.5 right-1.5 border bg-night px-1.5 text-[11px] ${unfolded ? 'border-line text-quiet' : 'border-edge text-bright'}`}
            >
              {unfolded ? 'fold' : count}
            </button>
          )}
        </div>
        <div className="px-2 pb-1.5">
          <div className="truncate text-[12px] leading-5">{frame.fileName}</div>
          <div className="flex h-4 items-center justify-between gap-1 overflow-hidden text-[10px] text-quiet">
            <Stars rating={frame.rating} onRate={(n) => onRate(frame.id, n)} />
            <span className="flex min-w-0 gap-1.5">
              {marks.slice(0, size > 190 ? 3 : 1).map((m) => (
                <span key={m as string} className={`truncate ${m === 'keep' ? 'text-bright' : ''}`}>
                  {m}
                </span>
              ))}
            </span>
          </div>
        </div>
      </div>
    )
  },
  (a, b) =>
    a.cell.frame === b.cell.frame &&
    a.cell.count === b.cell.count &&
    a.cell.unfolded === b.cell.unfolded &&
    a.cell.stack === b.cell.stack &&
    a.size === b.size &&
    a.chosen === b.chosen &&
    a.inHand === b.inHand &&
    a.onRate === b.onRate &&
    a.onUnfold === b.onUnfold,
)
