import type { Box, Development, Square } from '@dunkelkammer/core'
import { useCallback, useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'
import { arrowBy } from '../picture/arrows'
import { allowedBox, draggedBox, HANDLES, movedBox, ratioOf, rectOf, towards, type Handle } from './cropping'
import { withStep } from '../steps/withStep'
import type { Geometry } from '../picture/geometry'
import type { GuideKind, Outside } from './settings'
import { TwoTone } from '../picture/TwoTone'

interface Props {
  geometry: Geometry
  /** All of the plane, as it is shown, and the frame on it. */
  whole: Square
  frame: Square
  development: Development
  guides: GuideKind
  outside: Outside
  surround: string
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
  onDone(): void
  /** Everything as it was before. */
  onEscape(): void
}

/** The frame on the picture: drag inside to move it, its handles to size it, outside of it to turn the picture. */
export function CropFrame(props: Props) {
  const {
    geometry: g,
    whole,
    frame,
    development,
    guides,
    outside,
    surround,
    adjust,
    endGesture,
    onDone,
    onEscape,
  } = props
  const root = useRef<HTMLDivElement>(null)
  const held = useRef<{ x: number; y: number; box: Box; handle?: Handle; angle?: number }>(undefined)
  const { crop, level } = development.steps
  const { box } = frame
  /** CSS pixels of the pane per pixel of the plane. */
  const k = (g.width * g.pixel) / whole.width
  const left = g.left + (box.x - box.width / 2 - whole.box.x + whole.width / 2) * k
  const top = g.top + (box.y - box.height / 2 - whole.box.y + whole.height / 2) * k
  const [width, height] = [box.width * k, box.height * k]
  const ratio = ratioOf(crop, whole.size, level.turns)
  const allowed = allowedBox(whole, crop.inside, whole.box)
  const put = (next: Box, label: string, gesture: string) => {
    const rect = rectOf(whole, next)
    if (rect) adjust((d) => withStep(d, 'crop', { rect }), label, gesture)
  }
  const size = (from: Box, handle: Handle, dx: number, dy: number) =>
    put(towards(from, draggedBox(from, handle, dx, dy, ratio), allowed), 'Crop resized', 'crop size')
  const shift = (from: Box, dx: number, dy: number) =>
    put(movedBox(from, dx, dy, allowed), 'Crop moved', 'crop move')

  /** Degrees from the frame's middle to the pointer, clockwise. */
  const bearing = (event: PointerEvent) => {
    const pane = root.current!.getBoundingClientRect()
    return (
      (Math.atan2(event.clientY - pane.top - top - height / 2, event.clientX - pane.left - left - width / 2) *
        180) /
      Math.PI
    )
  }
  const take = (event: PointerEvent, handle?: Handle, turning = false) => {
    if (event.button !== 0) return
    event.stopPropagation()
    event.currentTarget.setPointerCapture(event.pointerId)
    const angle = turning ? bearing(event) - (level.mirror ? -level.angle : level.angle) : undefined
    held.current = { x: event.clientX, y: event.clientY, box, handle, angle }
  }
  const move = (event: PointerEvent) => {
    const h = held.current
    if (!h) return
    event.stopPropagation()
    const [dx, dy] = [(event.clientX - h.x) / k, (event.clientY - h.y) / k]
    if (h.angle !== undefined) {
      let by = bearing(event) - h.angle
      by -= 360 * Math.round(by / 360)
      const angle = Math.round(Math.min(Math.max(level.mirror ? -by : by, -45), 45) * 100) / 100
      adjust((d) => withStep(d, 'level', { angle }), 'Rotated', 'crop turn')
    } else if (h.handle) size(h.box, h.handle, dx, dy)
    else shift(h.box, dx, dy)
  }
  const letGo = () => {
    held.current = undefined
    endGesture()
  }
  const keys = (event: KeyboardEvent, handle?: Handle) => {
    if (event.key === 'Escape' || event.key === 'Enter') {
      event.stopPropagation()
      return event.key === 'Enter' ? onDone() : onEscape()
    }
    const step = (event.shiftKey ? 10 : 1) * Math.max(1 / k, 1)
    const by = arrowBy(event.key, step)
    if (!by) return
    if (handle) size(box, handle, by[0], by[1])
    else shift(box, by[0], by[1])
    event.preventDefault()
    event.stopPropagation()
  }
  const drag = (handle?: Handle) => ({
    onPointerDown: (e: PointerEvent) => take(e, handle),
    onPointerMove: move,
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onKeyDown: (e: KeyboardEvent) => keys(e, handle),
  })
  const focused = useRef(false)
  const focusOnce = useCallback((element: HTMLDivElement | null) => {
    if (element && !focused.current) {
      focused.current = true
      element.focus()
    }
  }, [])
  return (
    <div
      ref={root}
      className="pointer-events-auto absolute inset-0 cursor-alias touch-none overflow-hidden"
      data-testid="crop"
      onPointerDown={(e) => take(e, undefined, true)}
      onPointerMove={move}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onDoubleClick={(e) => e.stopPropagation()}
    >
      <div
        aria-hidden
        className="pointer-events-none absolute overflow-hidden"
        style={{ left: g.left, top: g.top, width: g.width * g.pixel, height: g.height * g.pixel }}
      >
        <div
          className="absolute"
          style={{
            ...{ left: left - g.left, top: top - g.top, width, height },
            boxShadow: `0 0 0 4000px ${outside === 'hidden' ? surround : 'rgb(0 0 0 / 0.55)'}`,
          }}
        />
      </div>
      <TwoTone>
        <rect x={left} y={top} width={width} height={height} />
      </TwoTone>
      <TwoTone faint>
        <g transform={`translate(${left} ${top})`}>{guideLines(guides, width, height)}</g>
      </TwoTone>
      <div
        role="button"
        tabIndex={0}
        aria-label="Crop: arrow keys move it, Enter confirms, Escape cancels"
        ref={focusOnce}
        className="absolute cursor-move"
        style={{ left, top, width, height }}
        {...drag()}
      />
      {HANDLES.map((h) => (
        <div
          key={h.name}
          role="button"
          tabIndex={0}
          aria-label={`${h.name}: arrow keys move it`}
          className="absolute flex h-6 w-6 -translate-x-1/2 -translate-y-1/2 items-center justify-center"
          style={{
            left: left + ((h.x + 1) / 2) * width,
            top: top + ((h.y + 1) / 2) * height,
            cursor: h.cursor,
          }}
          {...drag(h)}
        >
          <span className="h-2.5 w-2.5 border border-white bg-black/40 outline outline-black" />
        </div>
      ))}
    </div>
  )
}

const GOLDEN = (Math.sqrt(5) - 1) / 2

/** Lines of a guide in a frame of a size. */
function guideLines(kind: GuideKind, width: number, height: number): ReactNode {
  const at = (shares: readonly number[]) => (
    <>
      {shares.map((s) => (
        <g key={s}>
          <line x1={s * width} y1={0} x2={s * width} y2={height} />
          <line x1={0} y1={s * height} x2={width} y2={s * height} />
        </g>
      ))}
    </>
  )
  switch (kind) {
    case 'none':
      return null
    case 'thirds':
      return at([1 / 3, 2 / 3])
    case 'golden':
      return at([1 - GOLDEN, GOLDEN])
    case 'grid':
      return at([1, 2, 3, 4, 5, 6, 7].map((i) => i / 8))
    case 'centre':
      return at([0.5])
    case 'diagonals': {
      // from each corner at 45 degrees, as far as the shorter side goes
      const s = Math.min(width, height)
      return (
        <>
          <line x1={0} y1={0} x2={s} y2={s} />
          <line x1={width} y1={0} x2={width - s} y2={s} />
          <line x1={0} y1={height} x2={s} y2={height - s} />
          <line x1={width} y1={height} x2={width - s} y2={height - s} />
        </>
      )
    }
  }
}
