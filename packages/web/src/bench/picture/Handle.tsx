import { useAtomValue } from 'jotai'
import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'
import { useBench } from '../state/bench'
import type { Place } from '../state/types'
import { arrowBy } from './arrows'
import { placingAtom } from './placingAtom'

const round = ({ x, y }: Place): Place => ({ x: Number(x.toFixed(6)), y: Number(y.toFixed(6)) })

/** Something on the picture that is taken and moved; where it lies, clicks are its own. */
export function Handle(props: {
  /** Sensor coordinates. */
  at: Place
  /** Half of its size on the screen, pixels. */
  half: number
  label: string
  className?: string
  /** It is there for the keys alone. */
  still?: boolean
  onTake?(): void
  /** @param free whether what it would snap to is to be passed over */
  onMove(to: Place, free: boolean): void
  /** The hand has let go. */
  onEnd?(): void
  onDelete?(): void
  children?: ReactNode
}) {
  const { at, half, onMove, onDelete } = props
  const { endGesture } = useBench()
  const placing = useAtomValue(placingAtom)
  const held = useRef<{ x: number; y: number; at: Place }>(undefined)
  const middle = placing?.toPane(at)
  if (!middle) return null
  const go = (to: Place, free = false) => {
    const next = placing!.fromPane(to)
    if (next) onMove(round(next), free)
  }
  const keys = (event: KeyboardEvent) => {
    // with Alt they are the page's
    if (event.altKey || event.ctrlKey) return
    const by = arrowBy(event.key, event.shiftKey ? 10 : 1)
    if (by) go({ x: middle.x + by[0], y: middle.y + by[1] }, true)
    else if ((event.key === 'Delete' || event.key === 'Backspace') && onDelete) onDelete()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const move = (event: PointerEvent) => {
    const h = held.current
    if (h) go({ x: h.at.x + event.clientX - h.x, y: h.at.y + event.clientY - h.y }, event.ctrlKey)
  }
  return (
    <div
      role="button"
      tabIndex={0}
      aria-label={props.label}
      className={`absolute -translate-x-1/2 -translate-y-1/2 cursor-move ${props.className ?? 'rounded-full'} ${props.still ? 'pointer-events-none' : 'pointer-events-auto'}`}
      style={{ left: middle.x, top: middle.y, width: 2 * half, height: 2 * half }}
      onFocus={props.onTake}
      onPointerDown={(e) => {
        if (e.button !== 0) return
        e.stopPropagation()
        props.onTake?.()
        held.current = { x: e.clientX, y: e.clientY, at: middle }
        e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={move}
      onPointerUp={() => {
        held.current = undefined
        endGesture()
        props.onEnd?.()
      }}
      onPointerCancel={() => {
        held.current = undefined
        props.onEnd?.()
      }}
      onKeyDown={keys}
    >
      {props.children}
    </div>
  )
}
