import { useCallback, useEffect, useState } from 'react'
import { arrowBy } from './arrows'
import { toPicture, type Geometry } from './geometry'

/** A cross that the arrow keys move over the picture; Enter takes the place. */
export function Crosshair(props: {
  geometry: Geometry
  pane: React.RefObject<HTMLDivElement | null>
  onPick(at: { x: number; y: number }): void
  /** The keys have moved it. */
  onMove(at: { x: number; y: number }): void
  onEscape(): void
}) {
  const { geometry: g, pane, onPick, onMove, onEscape } = props
  const [at, setAt] = useState({ x: g.left + (g.width * g.pixel) / 2, y: g.top + (g.height * g.pixel) / 2 })
  const onKey = useCallback(
    (event: globalThis.KeyboardEvent) => {
      // what lies on the picture has keys of its own
      if (event.target !== event.currentTarget) return
      // with these they are the page's
      if (event.altKey || event.ctrlKey || event.metaKey) return
      const step = event.shiftKey ? 1 : 12
      const by = arrowBy(event.key, step)
      if (by) {
        const next = { x: at.x + by[0], y: at.y + by[1] }
        setAt(next)
        onMove(toPicture(g, next.x, next.y))
      } else if (event.key === 'Enter') onPick(toPicture(g, at.x, at.y))
      else if (event.key === 'Escape') onEscape()
      else return
      event.preventDefault()
      event.stopPropagation()
    },
    [at, g, onPick, onMove, onEscape],
  )
  useEffect(() => {
    const element = pane.current!
    element.addEventListener('keydown', onKey)
    return () => element.removeEventListener('keydown', onKey)
  }, [pane, onKey])
  // the arrow keys belong to the cross as soon as the tool is taken
  useEffect(() => {
    pane.current?.focus()
  }, [pane])
  useEffect(() => {
    const element = pane.current!
    const follow = (event: globalThis.PointerEvent) => {
      const box = element.getBoundingClientRect()
      setAt({ x: event.clientX - box.left, y: event.clientY - box.top })
    }
    element.addEventListener('pointermove', follow)
    return () => element.removeEventListener('pointermove', follow)
  }, [pane])
  return (
    <svg
      className="pointer-events-none absolute"
      style={{ left: at.x - 14, top: at.y - 14 }}
      width="28"
      height="28"
      aria-hidden
    >
      {[
        ['#000', 3],
        ['#fff', 1],
      ].map(([stroke, width]) => (
        <g key={stroke} stroke={stroke as string} strokeWidth={width} fill="none">
          <path d="M14 1v9M14 18v9M1 14h9M18 14h9" />
          <rect x="10.5" y="10.5" width="7" height="7" />
        </g>
      ))}
    </svg>
  )
}
