import type { Development } from '@dunkelkammer/core'
import { X } from 'lucide-react'
import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { Geometry } from './geometry'
import type { ToolId } from './tools'

interface Props {
  geometry: Geometry
  development: Development
  tool?: ToolId
  adjust(change: (d: Development) => Development, label: string, gesture?: string): void
  endGesture(): void
}

/** Sensor coordinates (1 the long edge) to pixels of the pane. */
const onPane = (g: Geometry) => {
  const long = Math.max(g.width, g.height) * g.pixel
  return { long, x: (v: number) => g.left + v * long, y: (v: number) => g.top + v * long }
}

/** What is drawn over the picture: marked areas while they are drawn, pins, samples, the centre of the edge burn. */
export function Marks(props: Props) {
  const { geometry, development, tool } = props
  const at = onPane(geometry)
  const { samples, source } = development.steps.cameraColour
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      {tool === 'interest' && development.interest.map((_, i) => <Area key={i} {...props} index={i} />)}
      {tool === 'grey' &&
        source === 'sample' &&
        samples.map((s, i) => <Numbered key={i} x={at.x(s.x)} y={at.y(s.y)} text={`${i + 1}`} />)}
      {development.pins.map((p, i) => (
        <Numbered key={i} x={at.x(p.x)} y={at.y(p.y)} text={`${i + 1}`} round />
      ))}
      {tool === 'centre' && <Centre {...props} />}
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

function Area({ geometry, development, adjust, endGesture, index }: Props & { index: number }) {
  const area = development.interest[index]
  const at = onPane(geometry)
  const held = useRef<{ x: number; y: number; area: typeof area }>(undefined)
  const put = (x: number, y: number) =>
    adjust(
      (d) => ({
        ...d,
        interest: d.interest.map((a, i) =>
          i === index
            ? {
                ...a,
                x: Math.min(
                  Math.max(x, 0),
                  geometry.width / Math.max(geometry.width, geometry.height) - a.width,
                ),
                y: Math.min(
                  Math.max(y, 0),
                  geometry.height / Math.max(geometry.width, geometry.height) - a.height,
                ),
              }
            : a,
        ),
      }),
      'Marked area moved',
      `area ${index}`,
    )
  const away = () =>
    adjust((d) => ({ ...d, interest: d.interest.filter((_, i) => i !== index) }), 'Marked area removed')
  const move = (event: PointerEvent) => {
    const h = held.current
    if (h) put(h.area.x + (event.clientX - h.x) / at.long, h.area.y + (event.clientY - h.y) / at.long)
  }
  const keys = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 0.05 : 0.005
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[
      event.key
    ]
    if (by) put(area.x + by[0], area.y + by[1])
    else if (event.key === 'Delete') away()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <div
      role="button"
      tabIndex={0}
      aria-label={`Marked area ${index + 1}: arrow keys move it, Delete removes it`}
      className="pointer-events-auto absolute cursor-move border border-white outline outline-black"
      style={{
        left: at.x(area.x),
        top: at.y(area.y),
        width: area.width * at.long,
        height: area.height * at.long,
      }}
      onPointerDown={(e) => {
        e.stopPropagation()
        held.current = { x: e.clientX, y: e.clientY, area }
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
