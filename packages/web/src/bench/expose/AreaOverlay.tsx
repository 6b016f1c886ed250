import type { Development } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { arrowBy } from '../picture/arrows'
import type { Placing } from '../picture/placing'
import { placingAtom } from '../picture/placingAtom'
import { developmentAtom, squareAtom } from '../state/atoms'
import { useBench } from '../state/bench'

type Region = Development['interest'][number]

/** Areas of the picture that count most. */
export const areasAtom = atom((get) => get(developmentAtom).interest)

/** The marked areas, while they are drawn. */
export function AreaOverlay() {
  const place = useAtomValue(placingAtom)
  const areas = useAtomValue(areasAtom)
  return place && areas.map((area, i) => <Area key={i} {...{ area, place }} index={i} />)
}

function Area({ area, place, index }: { area: Region; place: Placing; index: number }) {
  const { adjust, endGesture } = useBench()
  const { size } = useAtomValue(squareAtom)
  const held = useRef<{ x: number; y: number; middle: { x: number; y: number } }>(undefined)
  const { width, height } = size
  const long = Math.max(width, height)
  const corners = [
    [0, 0],
    [1, 0],
    [0, 1],
    [1, 1],
  ].map(([u, v]) => place.toPane({ x: area.x + u * area.width, y: area.y + v * area.height }))
  const put = (x: number, y: number) =>
    adjust(
      (d) => ({
        ...d,
        interest: d.interest.map((a, i) =>
          i === index
            ? {
                ...a,
                x: Math.min(Math.max(x, 0), width / long - a.width),
                y: Math.min(Math.max(y, 0), height / long - a.height),
              }
            : a,
        ),
      }),
      'Marked area moved',
      `area ${index}`,
    )
  const away = () =>
    adjust((d) => ({ ...d, interest: d.interest.filter((_, i) => i !== index) }), 'Marked area removed')
  const middle = place.toPane({ x: area.x + area.width / 2, y: area.y + area.height / 2 })
  const move = (event: PointerEvent) => {
    const h = held.current
    const to =
      h && place.fromPane({ x: h.middle.x + event.clientX - h.x, y: h.middle.y + event.clientY - h.y })
    if (to) put(to.x - area.width / 2, to.y - area.height / 2)
  }
  const keys = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 0.05 : 0.005
    const by = arrowBy(event.key, step)
    if (by) put(area.x + by[0], area.y + by[1])
    else if (event.key === 'Delete') away()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  if (!middle || corners.some((c) => !c)) return null
  const xs = corners.map((c) => c!.x)
  const ys = corners.map((c) => c!.y)
  return (
    <div
      role="button"
      tabIndex={0}
      aria-label={`Marked area ${index + 1}: arrow keys move it, Delete removes it`}
      className="pointer-events-auto absolute cursor-move border border-white outline outline-black"
      style={{
        left: Math.min(...xs),
        top: Math.min(...ys),
        width: Math.max(...xs) - Math.min(...xs),
        height: Math.max(...ys) - Math.min(...ys),
      }}
      onPointerDown={(e) => {
        e.stopPropagation()
        held.current = { x: e.clientX, y: e.clientY, middle }
        e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={move}
      onPointerUp={() => {
        held.current = undefined
        endGesture()
      }}
      onKeyDown={keys}
    >
      <button
        className="absolute top-0 right-0 flex h-5 w-5 items-center justify-center bg-black/70 text-white"
        aria-label={`Remove marked area ${index + 1}`}
        onPointerDown={(e) => e.stopPropagation()}
        onClick={away}
      >
        <X className="h-3 w-3" aria-hidden />
      </button>
    </div>
  )
}
