import type { Development, Guide, Square } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { arrowBy } from '../picture/arrows'
import type { Placing } from '../picture/placing'
import { withGuides } from './squaringTools'
import type { Place } from '../state/types'
import { TwoTone } from '../picture/TwoTone'

interface Props {
  square: Square
  picture?: Picture
  development: Development
  place: Placing
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
}

/** The lines drawn on the picture that say how it stands; their ends can be moved, each can be taken away. */
export function GuideLines({ square, picture, development, place, adjust, endGesture }: Props) {
  const { guides } = development.steps.perspective
  const put = (next: Guide[], label: string, gesture?: string) =>
    picture && adjust((d) => withGuides(d, picture, square, next), label, gesture)
  return (
    <>
      {guides.map((guide, i) => {
        const from = place.toPane({ x: guide.from[0], y: guide.from[1] })
        const to = place.toPane({ x: guide.to[0], y: guide.to[1] })
        if (!from || !to) return null
        const name = `${guide.is === 'upright' ? 'Vertical' : 'Horizontal'} ${i + 1}`
        const end = (which: 'from' | 'to', at: Place) => {
          const hold = (v: number) => Math.min(Math.max(Math.round(v * 1e5) / 1e5, -1), 2)
          const next = guides.map((g, k) =>
            k === i ? { ...g, [which]: [hold(at.x), hold(at.y)] as [number, number] } : g,
          )
          put(next, 'Line moved', `guide ${i} ${which}`)
        }
        const away = () =>
          put(
            guides.filter((_, k) => k !== i),
            'Line removed',
          )
        return (
          <div key={i}>
            <TwoTone>
              <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} />
            </TwoTone>
            <End
              at={from}
              label={`Start of ${name}`}
              place={place}
              onMove={(p) => end('from', p)}
              {...{ away, endGesture }}
            />
            <End
              at={to}
              label={`End of ${name}`}
              place={place}
              onMove={(p) => end('to', p)}
              {...{ away, endGesture }}
            />
            <button
              className="pointer-events-auto absolute flex h-5 w-5 -translate-x-1/2 -translate-y-1/2 items-center justify-center bg-black/75 text-white"
              style={{ left: (from.x + to.x) / 2, top: (from.y + to.y) / 2 }}
              aria-label={`Remove ${name}`}
              onPointerDown={(e) => e.stopPropagation()}
              onClick={away}
            >
              <X className="h-3 w-3" aria-hidden />
            </button>
          </div>
        )
      })}
    </>
  )
}

function End(props: {
  at: Place
  label: string
  place: Placing
  onMove(to: Place): void
  away(): void
  endGesture(): void
}) {
  const { at, label, place, onMove, away, endGesture } = props
  const held = useRef<{ x: number; y: number; at: Place; place: Placing }>(undefined)
  const go = (to: Place, by = place) => {
    const next = by.fromPane(to)
    if (next) onMove(next)
  }
  const move = (event: PointerEvent) => {
    const h = held.current
    // the picture turns under the hand while it moves: the way counts as it was when it was taken hold of
    if (h) go({ x: h.at.x + event.clientX - h.x, y: h.at.y + event.clientY - h.y }, h.place)
  }
  const keys = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 10 : 1
    const by = arrowBy(event.key, step)
    if (by) go({ x: at.x + by[0], y: at.y + by[1] })
    else if (event.key === 'Delete') away()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <div
      role="button"
      tabIndex={0}
      aria-label={`${label}: arrow keys move it, Delete takes the line away`}
      className="pointer-events-auto absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 cursor-move border border-white bg-black/40 outline outline-black"
      style={{ left: at.x, top: at.y }}
      onPointerDown={(e) => {
        e.stopPropagation()
        held.current = { x: e.clientX, y: e.clientY, at, place }
        e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={move}
      onPointerUp={() => {
        held.current = undefined
        endGesture()
      }}
      onKeyDown={keys}
    />
  )
}
