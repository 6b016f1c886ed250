import { useAtomValue } from 'jotai'
import { useState } from 'react'
import { Handle } from '../picture/Handle'
import { usePath, keepPath } from '../picture/paths'
import { TwoTone } from '../picture/TwoTone'
import { stageAtom, toolAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import type { Place } from '../state/types'
import { heldShift, inOval, ovalAround, ovalPlace, snapped, turnOf } from './geometry'
import { AlikeHandles } from './alike'
import { Way } from './Way'
import { changeShape, removeShape, shapeAtom, SHAPE_NAMES, type Shape, type ShapeOf } from './shapes'

/** Half the size of a handle, pixels; what is seen of it is smaller. */
const HALF = 9
/** Outlines with more corners are moved as a whole. */
const MOST_CORNERS = 120

/** The handles of the shape in the hand. */
export function ShapeOverlay() {
  const here = useAtomValue(stageAtom) === 'shape'
  const tool = useAtomValue(toolAtom)
  const shape = useAtomValue(shapeAtom)
  if (!here || tool || !shape) return null
  return (
    <>
      <OwnHandles shape={shape} />
      <AlikeHandles key={shape.id} />
    </>
  )
}

function OwnHandles({ shape }: { shape: Shape }) {
  if (shape.kind === 'ramp') return <RampHandles key={shape.id} ramp={shape} />
  if (shape.kind === 'oval') return <OvalHandles key={shape.id} oval={shape} />
  if (shape.kind === 'outline') return <OutlineHandles key={shape.id} outline={shape} />
  if (shape.kind === 'stroke') return <StrokeHandle key={shape.id} stroke={shape} />
  return null
}

/** Changes the shape whose handle is moved. */
function useMoved(shape: Shape) {
  const bench = useBench()
  return {
    put: (part: Partial<Shape>, label: string) =>
      changeShape(bench, shape.id, part, label, `${label} ${shape.id}`),
    onDelete: () => removeShape(bench, shape.id),
  }
}

function Grip(props: {
  at: Place
  label: string
  round?: boolean
  says?: string
  onMove(to: Place, free: boolean): void
  onDelete?(): void
}) {
  const { says } = props
  const [held, hold] = useState(false)
  return (
    <Handle
      at={props.at}
      half={HALF}
      label={`${props.label}: arrow keys move it${props.onDelete ? ', Delete deletes the shape' : ''}`}
      className="flex items-center justify-center"
      onMove={(to, free) => {
        hold(true)
        props.onMove(to, free)
      }}
      onEnd={() => hold(false)}
      onDelete={props.onDelete}
    >
      <span
        aria-hidden
        className={`h-2 w-2 border border-white bg-black/40 outline outline-black ${props.round ? 'rounded-full' : ''}`}
      />
      {held && says && (
        <span className="pointer-events-none absolute top-full left-full bg-black/75 px-1.5 py-0.5 text-[11px] whitespace-nowrap text-white tabular-nums">
          {says}
        </span>
      )}
    </Handle>
  )
}

/** Half the length of a ramp's lines, long edges. */
const ACROSS = 1.5
const per = (v: number) => `${(v * 100).toFixed(1)} %`

function RampHandles({ ramp }: { ramp: ShapeOf<'ramp'> }) {
  const { put, onDelete } = useMoved(ramp)
  const [from, to] = [ramp.from, ramp.to].map(([x, y]) => ({ x, y }))
  const [dx, dy] = [to.x - from.x, to.y - from.y]
  const long = Math.hypot(dx, dy)
  const [nx, ny] = long > 0 ? [-dy / long, dx / long] : [1, 0]
  const along = (t: number): Place => ({ x: from.x + t * dx, y: from.y + t * dy })
  // in pieces, so that what the frame does not show of it costs no more than itself
  const line = (t: number) =>
    Array.from({ length: 61 }, (_, i) => {
      const by = ((i - 30) / 30) * ACROSS
      return { x: along(t).x + by * nx, y: along(t).y + by * ny }
    })
  const says = `${turnOf(from, to).toFixed(1)}°, ${per(long)}`
  const middle = along(ramp.middle)
  return (
    <>
      <TwoTone>
        <Way places={line(0)} />
        <Way places={line(1)} />
        <Way places={line(ramp.middle)} dashed />
        <Way places={[from, to]} dashed />
      </TwoTone>
      <Grip
        at={from}
        label="Full end of the ramp"
        says={says}
        onDelete={onDelete}
        onMove={(p, free) => {
          const next = free ? p : snapped(to, p)
          put({ from: [next.x, next.y] }, 'Ramp')
        }}
      />
      <Grip
        at={to}
        label="Empty end of the ramp"
        says={says}
        onDelete={onDelete}
        onMove={(p, free) => {
          const next = free ? p : snapped(from, p)
          put({ to: [next.x, next.y] }, 'Ramp')
        }}
      />
      <Grip
        at={middle}
        round
        label="Middle of the ramp"
        says={`${Math.round(ramp.middle * 100)} %`}
        onDelete={onDelete}
        onMove={(p) => {
          const t = ((p.x - from.x) * dx + (p.y - from.y) * dy) / (long * long || 1)
          put({ middle: Math.min(Math.max(Math.round(t * 100) / 100, 0.05), 0.95) }, 'Middle of the ramp')
        }}
      />
      <Grip
        at={{ x: middle.x + 0.06 * nx, y: middle.y + 0.06 * ny }}
        label="Ramp as a whole"
        onDelete={onDelete}
        onMove={(p) => {
          const [bx, by] = [p.x - middle.x - 0.06 * nx, p.y - middle.y - 0.06 * ny]
          put({ from: [from.x + bx, from.y + by], to: [to.x + bx, to.y + by] }, 'Ramp moved')
        }}
      />
    </>
  )
}

function OvalHandles({ oval }: { oval: ShapeOf<'oval'> }) {
  const { put, onDelete } = useMoved(oval)
  const { x, y, across, down, turn, softness } = oval
  const inner = 1 - softness
  const shift = heldShift(oval)
  // beside the middle, where another handle is
  const below = 0.5
  const ring = ovalAround(oval, 1)
  const core = ovalAround(oval, inner, shift)
  const says = `${per(across)} × ${per(down)}, ${turn.toFixed(1)}°`
  return (
    <>
      <TwoTone>
        <Way places={ring} closed />
        {inner > 0.01 && <Way places={core} closed dashed />}
      </TwoTone>
      <Grip
        at={ovalPlace(oval, 1, 0)}
        label="Width and turn of the oval"
        says={says}
        onDelete={onDelete}
        onMove={(p, free) => {
          const next = free ? p : snapped({ x, y }, p)
          const width = Math.min(Math.max(Math.hypot(next.x - x, next.y - y), 0.001), 4)
          put({ across: width, turn: Number(turnOf({ x, y }, next).toFixed(2)) }, 'Oval')
        }}
      />
      <Grip
        at={ovalPlace(oval, 0, 1)}
        label="Height of the oval"
        says={says}
        onDelete={onDelete}
        onMove={(p) => put({ down: Math.min(Math.max(Math.hypot(p.x - x, p.y - y), 0.001), 4) }, 'Oval')}
      />
      <Grip
        at={ovalPlace(oval, shift[0] - inner, shift[1])}
        label="Inner ring of the oval"
        says={`Softness ${Math.round(softness * 100)} %`}
        round
        onDelete={onDelete}
        onMove={(p) => {
          const { u, v } = inOval(oval, p)
          const radius = Math.hypot(u - shift[0], v - shift[1])
          put(
            { softness: Math.min(Math.max(Math.round((1 - radius) * 100) / 100, 0), 1) },
            'Softness of an oval',
          )
        }}
      />
      <Grip
        at={ovalPlace(oval, shift[0], shift[1] + below)}
        label="Middle of the inner ring"
        round
        onDelete={onDelete}
        onMove={(p) => {
          const { u, v } = inOval(oval, p)
          const far = Math.hypot(u, v - below)
          // close to the oval's own middle it is that
          const hold = far < 0.08 ? 0 : far > 1 ? 1 / far : 1
          put({ shift: [u * hold, (v - below) * hold] }, 'Run-out of an oval')
        }}
      />
      <Grip
        at={{ x, y }}
        label="Oval as a whole"
        onDelete={onDelete}
        onMove={(p) => put({ x: p.x, y: p.y }, 'Oval moved')}
      />
    </>
  )
}

function OutlineHandles({ outline }: { outline: ShapeOf<'outline'> }) {
  const { put, onDelete } = useMoved(outline)
  const path = usePath(outline.path)
  const { x, y } = outline
  const corners = path.map((p) => ({ x: x + p.x, y: y + p.y }))
  const set = (next: readonly Place[], label: string) =>
    put({ path: keepPath(next.map((p) => ({ x: p.x - x, y: p.y - y }))) }, label)
  return (
    <>
      <TwoTone>
        <Way places={corners} closed />
      </TwoTone>
      <Grip
        at={{ x, y }}
        label="Outline as a whole"
        onDelete={onDelete}
        onMove={(p) => put({ ...p }, 'Outline moved')}
      />
      {corners.length <= MOST_CORNERS &&
        corners.map((corner, i) => (
          <Grip
            key={i}
            at={corner}
            round
            label={`Corner ${i + 1} of the outline`}
            onDelete={
              corners.length > 3
                ? () =>
                    set(
                      corners.filter((_, k) => k !== i),
                      'Corner removed',
                    )
                : undefined
            }
            onMove={(p) =>
              set(
                corners.map((c, k) => (k === i ? p : c)),
                'Corner moved',
              )
            }
          />
        ))}
    </>
  )
}

function StrokeHandle({ stroke }: { stroke: ShapeOf<'stroke'> }) {
  const { put, onDelete } = useMoved(stroke)
  const path = usePath(stroke.path)
  const { x, y } = stroke
  const hold = path[path.length >> 1] ?? { x: 0, y: 0 }
  return (
    <>
      <TwoTone>
        <Way places={path.map((p) => ({ x: x + p.x, y: y + p.y }))} dashed />
      </TwoTone>
      <Grip
        at={{ x: x + hold.x, y: y + hold.y }}
        label={SHAPE_NAMES.stroke}
        onDelete={onDelete}
        onMove={(p) => put({ x: p.x - hold.x, y: p.y - hold.y }, 'Stroke moved')}
      />
    </>
  )
}
