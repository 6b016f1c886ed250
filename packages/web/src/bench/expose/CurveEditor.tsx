import { TONE_SCALE, type CurveLine } from '@dunkelkammer/core'
import type { View } from '@dunkelkammer/engine/browser'
import { memo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import {
  movePoint,
  pointAt,
  pointNear,
  withoutPoint,
  withPoint,
  type CurvePointList,
  type Points,
} from './curvePoints'

/** How near to a point a press takes hold of it, sides of the plot. */
const NEAR = 0.05
const WIDTH = 286
const HEIGHT = 190
const CHANNEL: Record<CurveLine, number> = { luminance: 3, all: 3, red: 0, green: 1, blue: 2 }
const COLOURS: Record<CurveLine, string> = {
  luminance: '#f5f5f5',
  all: '#f5f5f5',
  red: '#e06060',
  green: '#5cb85f',
  blue: '#6f8df0',
}
const { from, to, bins } = TONE_SCALE

/** The tone scale's counts over the square root of light, as the curve has it. */
function histogramPath(counts: Uint32Array): string {
  const places = Array.from({ length: bins + 1 }, (_, i) =>
    Math.sqrt(0.18 * 2 ** (from + (i / bins) * (to - from))),
  )
  const heights = Array.from(counts, (n, i) => n / (places[i + 1] - places[i]))
  let top = 1
  for (let i = 8; i < bins - 3; i++) top = Math.max(top, heights[i])
  let path = `M0 ${HEIGHT}`
  heights.forEach((h, i) => {
    const y = HEIGHT - Math.sqrt(Math.min(h / top, 1)) * HEIGHT * 0.85
    path += `L${(places[i] * WIDTH).toFixed(1)} ${y.toFixed(1)}`
  })
  return `${path}L${WIDTH} ${HEIGHT}Z`
}

const Histogram = memo(function Histogram({ counts }: { counts: Uint32Array }) {
  return <path d={histogramPath(counts)} fill="#333" />
})

function linePath(shape: ((x: number) => number) | undefined): string {
  if (!shape) return `M0 ${HEIGHT}L${WIDTH} 0`
  let path = ''
  for (let i = 0; i <= 96; i++) {
    const x = i / 96
    path += `${i ? 'L' : 'M'}${(x * WIDTH).toFixed(1)} ${((1 - shape(x)) * HEIGHT).toFixed(1)}`
  }
  return path
}

interface PlotProps {
  line: CurveLine
  shape?: (x: number) => number
  view?: View
  /** Place of the axis to be marked. */
  mark?: number
  borders?: readonly number[]
}

/** A curve before the histogram, over the square root of light. */
export function CurvePlot({ line, shape, view, mark, borders }: PlotProps) {
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="block w-full bg-night"
      role="img"
      aria-label="The curve before the histogram"
    >
      {view && <Histogram counts={view.histogram[CHANNEL[line]]} />}
      {[0.25, 0.5, 0.75].map((v) => (
        <g key={v} stroke="#3d3d3d">
          <path d={`M${v * WIDTH} 0V${HEIGHT}M0 ${v * HEIGHT}H${WIDTH}`} />
        </g>
      ))}
      {borders?.map((v) => (
        <path key={v} d={`M${v * WIDTH} 0V${HEIGHT}`} stroke="#a6a6a6" strokeDasharray="3 3" />
      ))}
      <path d={`M0 ${HEIGHT}L${WIDTH} 0`} stroke="#5c5c5c" />
      {mark !== undefined && (
        <path d={`M${mark * WIDTH} 0V${HEIGHT}`} stroke="#f0604d" data-testid="curve-mark" />
      )}
      <path d={linePath(shape)} stroke={COLOURS[line]} strokeWidth="1.5" fill="none" />
    </svg>
  )
}

/** A curve whose points can be set, moved and taken away. */
export function CurveEditor(
  props: PlotProps & {
    label: string
    points: Points
    onChange(points: CurvePointList, gesture: string): void
    onEnd(): void
  },
) {
  const { points, shape, onChange, onEnd, label } = props
  const box = useRef<HTMLDivElement>(null)
  const held = useRef<{ index: number; points: CurvePointList; off: [number, number] }>(undefined)
  const place = (event: PointerEvent) => {
    const r = box.current!.getBoundingClientRect()
    return { x: (event.clientX - r.left) / r.width, y: 1 - (event.clientY - r.top) / r.height }
  }
  const down = (event: PointerEvent) => {
    if (event.button !== 0) return
    const { x, y } = place(event)
    const index = pointNear(points, x, y, NEAR)
    if (index === undefined) {
      const made = withPoint(points, x, y)
      if (!made) return
      held.current = { ...made, off: [0, 0] }
      onChange(made.points, `point ${label}`)
    } else {
      // it stays where it is until it is moved, wherever it was taken hold of
      const [px, py] = points[index]
      held.current = { index, points: points.map(([a, b]) => [a, b]), off: [px - x, py - y] }
    }
    event.currentTarget.setPointerCapture(event.pointerId)
  }
  const move = (event: PointerEvent) => {
    if (!held.current) return
    const { x, y } = place(event)
    const { index, points: from, off } = held.current
    held.current.points = movePoint(from, index, x + off[0], y + off[1])
    onChange(held.current.points, `point ${label}`)
  }
  const up = () => {
    if (held.current) onEnd()
    held.current = undefined
  }
  const keys = (event: KeyboardEvent, i: number) => {
    const step = event.shiftKey ? 0.05 : 0.005
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[
      event.key
    ]
    if (by) onChange(movePoint(points, i, points[i][0] + by[0], points[i][1] + by[1]), `point ${label} ${i}`)
    else if (event.key === 'Delete' || event.key === 'Backspace')
      onChange(withoutPoint(points, i), `point ${label} away`)
    else if (event.key === 'Enter') {
      // another point, halfway to the next
      const next = points[i + 1]
      if (!next) return
      const x = (points[i][0] + next[0]) / 2
      const made = pointAt(points, x, shape ? shape(x) : x, 0.005)
      if (made) onChange(made.points, `point ${label} more`)
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <>
      <div
        ref={box}
        className="relative mt-2 cursor-crosshair touch-none"
        role="group"
        aria-label={label}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
      >
        <CurvePlot {...props} />
        {points.map(([x, y], i) => (
          <button
            key={i}
            role="slider"
            aria-label={`Point ${i + 1} of ${points.length}`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(y * 100)}
            aria-valuetext={`${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %`}
            className="absolute h-[11px] w-[11px] -translate-x-1/2 -translate-y-1/2 border border-night bg-bright focus-visible:outline-offset-2"
            style={{ left: `${x * 100}%`, top: `${(1 - y) * 100}%` }}
            onKeyDown={(e) => keys(e, i)}
            onDoubleClick={(e) => {
              e.stopPropagation()
              onChange(withoutPoint(points, i), `point ${label} away`)
            }}
          />
        ))}
      </div>
      <p className="hint">Click to add a point, double click to remove it; keys: arrows, Enter, Delete.</p>
    </>
  )
}
