import type { Frame } from '@dunkelkammer/contract'
import { X } from 'lucide-react'
import { useCallback, useEffect, useEffectEvent, useRef, useState, type PointerEvent } from 'react'
import { KeysDialog, Palette } from '../commands/CommandDialogs'
import { useCommandKeys, type Command } from '../commands/commands'
import { layOutView, toPicture, type Pane } from '../bench/picture/geometry'
import { takingLine } from '../shell/format'
import { Stars } from '../sheet/Stars'
import { closeSpare } from './openPictures'
import { PicturePane, type Size, prepare } from './PicturePane'
import { draggedBy, WHOLE, type Tied } from './scaled'

const KEY_HINTS = {
  title: 'Picture',
  text: 'Press for 100 % under the pointer; drag to move the picture while it is large.',
}

/** One frame in the whole window, at 100 % under the pointer while it is pressed; its neighbours are made ready. */
export function Look(props: {
  frame: Frame
  /** The frame's place on the sheet, from 0, and how many there are. */
  place: number
  count: number
  neighbours: readonly Frame[]
  commands: readonly Command[]
  onRate(rating: number): void
  onClose(): void
}) {
  const { frame, neighbours } = props
  const [pane, setPane] = useState<Pane>()
  const [tied, setTied] = useState<Tied>(WHOLE)
  const [stays, setStays] = useState(false)
  const pointer = useRef({ x: 0.5, y: 0.5 })
  const drag = useRef<{ x: number; y: number }>(undefined)
  const [shownId, setShownId] = useState('')
  const [dialog, setDialog] = useState<'keys' | 'palette'>()
  const [size, setSize] = useState<Size>(frame)
  const shown = useCallback(() => setShownId(frame.id), [frame.id])

  // the neighbours come once this one is there: they must not hold it up
  const wanted = neighbours.map((n) => n.id).join()
  const prepareThem = useEffectEvent((room: Pane) => neighbours.map((n) => prepare(n, room)))
  useEffect(() => {
    if (!pane || shownId !== frame.id) return
    const held = prepareThem(pane)
    return () => held.forEach((h) => h.release())
  }, [pane, shownId, frame.id, wanted])
  useEffect(() => closeSpare, [])

  const longEdge = pane && Math.max(size.width, size.height) / pane.density
  const place = (event: PointerEvent) => {
    const fit = pane && layOutView(size, pane, 'fit', WHOLE.centre)
    const box = event.currentTarget.getBoundingClientRect()
    return fit ? toPicture(fit, event.clientX - box.left, event.clientY - box.top) : pointer.current
  }
  /** 100 % with a place of the picture staying where it is seen. */
  const at100 = useCallback(
    (at: { x: number; y: number }) => {
      if (!pane || !longEdge) return
      const fit = layOutView(size, pane, 'fit', WHOLE.centre)
      const scale = longEdge / Math.max(size.width, size.height)
      const seen = { x: fit.left + at.x * fit.width * fit.pixel, y: fit.top + at.y * fit.height * fit.pixel }
      setTied({
        longEdge,
        centre: {
          x: at.x + (pane.width / 2 - seen.x) / (size.width * scale),
          y: at.y + (pane.height / 2 - seen.y) / (size.height * scale),
        },
      })
    },
    [pane, longEdge, size],
  )
  const down = (event: PointerEvent) => {
    if (event.button !== 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    drag.current = { x: event.clientX, y: event.clientY }
    if (!tied.longEdge) at100(place(event))
  }
  const move = (event: PointerEvent) => {
    if (!tied.longEdge) pointer.current = place(event)
    if (!drag.current || !tied.longEdge) return
    const [dx, dy] = [event.clientX - drag.current.x, event.clientY - drag.current.y]
    drag.current = { x: event.clientX, y: event.clientY }
    setTied((t) => ({ ...t, centre: draggedBy(t, size, dx, dy) }))
  }
  const up = () => {
    drag.current = undefined
    if (!stays) setTied(WHOLE)
  }
  const commands: Command[] = [
    ...props.commands,
    {
      id: 'look-100',
      label: '100 % under the pointer, and back',
      group: 'View',
      keys: 'Z',
      run: () => {
        if (tied.longEdge) setTied(WHOLE)
        else at100(pointer.current)
        setStays(!tied.longEdge)
      },
    },
    { id: 'look-close', label: 'Back to the sheet', group: 'View', keys: 'Escape', run: props.onClose },
    {
      id: 'palette',
      label: 'Find a command',
      group: 'Work',
      keys: 'Ctrl+K',
      run: () => setDialog('palette'),
    },
    { id: 'keys', label: 'List the keys', group: 'Work', keys: '?', run: () => setDialog('keys') },
  ]
  const closeDialog = () => setDialog(undefined)
  useCommandKeys(() => commands)
  // the same place of the next frame is looked at, when 100 % stays
  const seeAll = useEffectEvent(() => {
    if (!stays) setTied(WHOLE)
  })
  useEffect(() => seeAll(), [frame.id])

  return (
    <main className="flex h-full flex-col" aria-label="Look">
      <h1 className="sr-only">{frame.fileName}</h1>
      <div className="flex h-11 shrink-0 items-center gap-5 border-b border-line bg-panel px-4">
        <button className="icon-button" aria-label="Back to the sheet" onClick={props.onClose}>
          <X className="h-5 w-5" aria-hidden />
        </button>
        <span className="truncate text-bright">{frame.fileName}</span>
        <span className="truncate text-quiet">{takingLine(frame)}</span>
        <span className="ml-auto flex items-center gap-5 whitespace-nowrap">
          <span className="text-quiet">{tied.longEdge ? '100 %' : 'whole'}</span>
          {frame.mark !== 'none' && <span>{frame.mark === 'keep' ? 'keep' : 'dropped'}</span>}
          <Stars rating={frame.rating} onRate={props.onRate} size={15} />
          <span className="w-28 text-right text-quiet">
            {props.place + 1} of {props.count}
          </span>
        </span>
      </div>
      <div
        className={`min-h-0 flex-1 touch-none select-none ${tied.longEdge ? 'cursor-grabbing' : 'cursor-crosshair'}`}
        data-testid="look"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
      >
        <PicturePane frame={frame} tied={tied} onPane={setPane} onShown={shown} onSize={setSize} />
      </div>
      <KeysDialog open={dialog === 'keys'} onClose={closeDialog} commands={commands} hints={KEY_HINTS} />
      <Palette open={dialog === 'palette'} onClose={closeDialog} commands={commands} />
    </main>
  )
}
