import { useRef, type KeyboardEvent, type PointerEvent } from 'react'

/** A line across the picture, the original to its left; dragged, or moved by arrow keys. */
export function Divider(props: { at: number; onMove(at: number): void }) {
  const { at, onMove } = props
  const line = useRef<HTMLDivElement>(null)
  const held = useRef(false)
  const hold = (v: number) => Math.min(Math.max(v, 0), 1)
  const move = (event: PointerEvent) => {
    if (!held.current) return
    const box = line.current!.parentElement!.getBoundingClientRect()
    onMove(hold((event.clientX - box.left) / box.width))
  }
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    onMove(hold(at + by * (event.shiftKey ? 0.1 : 0.01)))
  }
  const stop = (event: PointerEvent) => {
    held.current = false
    event.stopPropagation()
  }
  return (
    <div
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label="Divider between the original and the development"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      className="absolute inset-y-0 z-10 -ml-3 flex w-6 cursor-ew-resize justify-center"
      style={{ left: `${at * 100}%` }}
      onPointerDown={(event) => {
        held.current = true
        event.stopPropagation()
        event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={move}
      onPointerUp={stop}
      onPointerCancel={stop}
      onKeyDown={keys}
    >
      <span aria-hidden className="h-full w-[3px] border-x border-black bg-white" />
      <span aria-hidden className="absolute top-1/2 h-8 w-3 -translate-y-1/2 border border-black bg-white" />
    </div>
  )
}
