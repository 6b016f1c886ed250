import type { Development } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { Crosshair, X } from 'lucide-react'
import { useMemo, type KeyboardEvent } from 'react'
import { arrowBy } from '../picture/arrows'
import { Pixels } from '../picture/Pixels'
import type { Place } from '../state/types'
import { useSpot } from './useSpot'

const SIDE = 208

/** A small view of one spot at 100 %, over the fitted picture. */
export function SpotPane(props: {
  picture?: Picture
  development: Development
  at: Place
  onMove(at: Place): void
  choosing: boolean
  onChoose(): void
  onClose(): void
}) {
  const { picture, development, at, onMove } = props
  const density = globalThis.devicePixelRatio || 1
  const wish = useMemo(
    () =>
      picture && {
        picture,
        development,
        at,
        width: Math.round(SIDE * density),
        height: Math.round(SIDE * density),
      },
    [picture, development, at, density],
  )
  const { view, problem } = useSpot(wish)
  const keys = (event: KeyboardEvent) => {
    const by = arrowBy(event.key, event.shiftKey ? 0.05 : 0.01)
    if (!by) return
    event.preventDefault()
    const hold = (v: number) => Math.min(Math.max(v, 0), 1)
    onMove({ x: hold(at.x + by[0]), y: hold(at.y + by[1]) })
  }
  return (
    <section
      aria-label="Spot at 100 %"
      className="absolute right-3 bottom-3 z-10 border border-edge bg-panel"
    >
      <header className="flex items-center gap-1 px-2 text-[12px] text-quiet">
        <span className="flex-1">Spot at 100 %</span>
        <button
          className="icon-button !h-6 !w-6"
          aria-label="Choose the spot on the picture"
          title="Choose the spot on the picture"
          aria-pressed={props.choosing}
          onClick={props.onChoose}
        >
          <Crosshair className={`h-3.5 w-3.5 ${props.choosing ? 'text-safe' : ''}`} aria-hidden />
        </button>
        <button className="icon-button !h-6 !w-6" aria-label="Close the spot" onClick={props.onClose}>
          <X className="h-3.5 w-3.5" aria-hidden />
        </button>
      </header>
      <div
        tabIndex={0}
        role="application"
        aria-label="Spot: arrow keys move it"
        className="relative overflow-hidden bg-night"
        style={{ width: SIDE, height: SIDE }}
        onKeyDown={keys}
      >
        {view && (
          <Pixels
            rgba={view.rgba}
            width={view.width}
            height={view.height}
            left={0}
            top={0}
            pixel={1 / density}
            label="The spot"
            exact={view.exact}
          />
        )}
        {problem && <p className="p-2 text-[12px] text-info">{problem}</p>}
      </div>
    </section>
  )
}
