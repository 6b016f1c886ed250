import type { Pin } from '@dunkelkammer/contract'
import type { Development, Square } from '@dunkelkammer/core'
import type { Picture, TracedLine } from '@dunkelkammer/engine/browser'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Geometry } from './geometry'
import { GuideLines } from '../square/GuideLines'
import { arrowBy } from './arrows'
import { placing, type Placing } from './placing'
import type { ToolId } from '../state/tools'
import { TwoTone } from './TwoTone'
import type { DrawnNow } from '../usePictureTool'

interface Props {
  geometry: Geometry
  square: Square
  picture?: Picture
  development: Development
  tool?: ToolId
  /** A line that is being drawn, and edges that were marked as straight. */
  drawn?: DrawnNow
  marked: readonly TracedLine[]
  /** Places whose readings are kept in sight. */
  pins: readonly Pin[]
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
}

/** What is drawn over the picture: marked areas while they are drawn, pins, samples, lines, the centre of the edge burn. */
export function Marks(props: Props) {
  const { geometry, square, development, tool, drawn, marked } = props
  const place = placing(square, geometry)
  const { samples, source } = development.steps.cameraColour
  const numbered = (places: readonly { x: number; y: number }[], round: boolean) =>
    places.map((p, i) => {
      const at = place.toPane(p)
      return at && <Numbered key={`${round}${i}`} {...at} text={`${i + 1}`} round={round} />
    })
  const long = Math.max(square.size.width, square.size.height)
  const size = { width: geometry.width * geometry.pixel, height: geometry.height * geometry.pixel }
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      {tool === 'interest' &&
        development.interest.map((_, i) => <Area key={i} {...props} place={place} index={i} />)}
      {tool === 'grey' && source === 'sample' && numbered(samples, false)}
      {numbered(props.pins, true)}
      {tool === 'centre' && <Centre {...props} />}
      {(tool === 'upright' || tool === 'levelled') && <GuideLines {...props} place={place} />}
      {tool === 'straight' && (
        <TwoTone>
          {marked.map((line, i) => {
            const points = line.map(([x, y]) => place.toPane({ x: x / long, y: y / long }))
            return <polyline key={i} points={points.flatMap((p) => (p ? [`${p.x},${p.y}`] : [])).join(' ')} />
          })}
        </TwoTone>
      )}
      {drawn && (
        <TwoTone>
          <line
            x1={geometry.left + drawn.from.x * size.width}
            y1={geometry.top + drawn.from.y * size.height}
            x2={geometry.left + drawn.to.x * size.width}
            y2={geometry.top + drawn.to.y * size.height}
          />
        </TwoTone>
      )}
    </div>
  )
}

/** A number at a place, seen on anything. */
function Numbered({ x, y, text, round }: { x: number; y: number; text: string; round?: boolean }) {
  return (
    <span
      aria-hidden
      className={`absolute flex h-4 min-w-4 -translate-x-1/2 -translate-y-1/2 items-center justify-center border border-white bg-black/75 px-0.5 text-[10px] leading-none text-white outline outline-black ${round ? 'rounded-full' : ''}`}
      style={{ left: x, top: y }}
    >
      {text}
    </span>
  )
}

function Centre({ geometry: g, development }: Props) {
  const [x, y] = development.steps.edgeBurn.centre
  return (
    <svg
      aria-hidden
      className="absolute"
      width="40"
      height="40"
      style={{ left: g.left + x * g.width * g.pixel - 20, top: g.top + y * g.height * g.pixel - 20 }}
    >
      {[
        ['#000', 3],
        ['#fff', 1],
      ].map(([stroke, width]) => (
        <g key={stroke} stroke={stroke as string} strokeWidth={width} fill="none">
          <circle cx="20" cy="20" r="12" />
          <path d="M20 2v10M20 28v10M2 20h10M28 20h10" />
        </g>
      ))}
    </svg>
  )
}

function Area({
  square,
  development,
  adjust,
  endGesture,
  place,
  index,
}: Props & { place: Placing; index: number }) {
  const area = development.interest[index]
  const held = useRef<{ x: number; y: number; middle: { x: number; y: number } }>(undefined)
  const { width, height } = square.size
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
