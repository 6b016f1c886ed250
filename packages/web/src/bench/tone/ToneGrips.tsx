import {
  BLACK_POINT,
  fieldsOf,
  GRIP_MOST,
  GRIPS,
  renderingCurve,
  renderStops,
  startDevelopment,
  TONE_SCALE,
  WHITE_POINT,
  type Grip,
} from '@dunkelkammer/core'
import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { useSection } from '../steps/props'
import { withStep } from '../steps/withStep'
import { heldGrip } from './gripLimits'

const HEIGHT = 84
const GRIP_NAMES = Object.fromEntries(
  fieldsOf('tones')
    .filter(({ path }) => path[1] === 'lift')
    .map(({ path, label }) => [path[0], label]),
) as Record<Grip, string>
const START = startDevelopment().steps
const { from, to } = TONE_SCALE
const share = (stops: number) => Math.min(Math.max((stops - from) / (to - from), 0), 1)
/** Pixels up or down of a stop. */
const STOP_HEIGHT = (HEIGHT / 2 - 8) / GRIP_MOST
const round = (v: number) => Math.round(v * 20) / 20

interface Held {
  x: number
  y: number
  /** From the handle's place to where it was taken hold of, in pixels of the screen. */
  off: number
  at: number
  lift: number
  /** Along or across, once the hand has decided. */
  way?: 'at' | 'lift'
}

/** The handles on the tone rail: black and white point, and the grips that lift and lower tones. */
export function ToneGrips() {
  const { development, adjust, endGesture } = useSection('tones', 'points', 'baseRendering')
  const { tones, points, baseRendering } = development.steps
  const { grade, brightness, shoulder, toe } = baseRendering
  const curve = useMemo(
    () => renderingCurve(grade, { brightness, shoulder, toe }),
    [grade, brightness, shoulder, toe],
  )
  const box = useRef<HTMLDivElement>(null)
  const held = useRef<Held>(undefined)
  // handles stand where the rendering shows the scene light that they speak of
  const placed = (scene: number) => share(renderStops(curve, scene))
  const sceneAt = (clientX: number) => {
    const r = box.current!.getBoundingClientRect()
    const wanted = (clientX - r.left) / r.width
    let low = -12
    let high = 6
    for (let i = 0; i < 40; i++) {
      const middle = (low + high) / 2
      if (placed(middle) < wanted) low = middle
      else high = middle
    }
    return (low + high) / 2
  }
  const setGrip = (g: Grip, part: { at?: number; lift?: number }) =>
    adjust(
      (d) => {
        const now = d.steps.tones
        const at = part.at === undefined ? now[g].at : round(heldGrip(now, g, part.at))
        const lift = Math.min(Math.max(round(part.lift ?? now[g].lift), -GRIP_MOST), GRIP_MOST)
        return withStep(d, 'tones', { [g]: { at, lift } })
      },
      part.at === undefined ? GRIP_NAMES[g] : `${GRIP_NAMES[g]} moved`,
      `rail ${g}`,
    )
  const setPoint = (which: 'black' | 'white', value: number) =>
    adjust(
      (d) =>
        withStep(d, 'points', {
          [which]:
            which === 'black'
              ? Math.min(Math.max(Math.round(value * 10) / 10, BLACK_POINT.none), BLACK_POINT.to)
              : Math.min(Math.max(round(value), WHITE_POINT.from), WHITE_POINT.to),
        }),
      which === 'black' ? 'Black point' : 'White point',
      `rail ${which}`,
    )
  const gripMove = (event: PointerEvent, g: Grip) => {
    const h = held.current
    if (!h) return
    const dx = event.clientX - h.x
    const dy = event.clientY - h.y
    if (!h.way && Math.max(Math.abs(dx), Math.abs(dy)) > 4)
      h.way = Math.abs(dx) > Math.abs(dy) ? 'at' : 'lift'
    if (h.way === 'lift') setGrip(g, { lift: h.lift - dy / STOP_HEIGHT })
    else if (h.way === 'at') setGrip(g, { at: sceneAt(event.clientX - h.off) })
  }
  const pointMove = (event: PointerEvent, which: 'black' | 'white') => {
    const h = held.current
    if (!h || (!h.way && Math.abs(event.clientX - h.x) < 3)) return
    h.way = 'at'
    setPoint(which, sceneAt(event.clientX - h.off))
  }
  const take = (event: PointerEvent, at: number, lift: number) => {
    if (event.button !== 0) return
    const { left, width } = box.current!.getBoundingClientRect()
    const off = event.clientX - left - placed(at) * width
    held.current = { x: event.clientX, y: event.clientY, off, at, lift }
    event.currentTarget.setPointerCapture(event.pointerId)
  }
  const end = () => {
    if (held.current) endGesture()
    held.current = undefined
  }
  const stepKeys = (
    event: KeyboardEvent,
    up: (by: number) => void,
    right: (by: number) => void,
    reset: () => void,
  ) => {
    const by = event.shiftKey ? 0.5 : 0.05
    if (event.key === 'ArrowUp') up(by)
    else if (event.key === 'ArrowDown') up(-by)
    else if (event.key === 'ArrowRight') right(by)
    else if (event.key === 'ArrowLeft') right(-by)
    else if (event.key === 'Delete') reset()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  const say = (v: number) => `${v > 0 ? '+' : v < 0 ? '\u2212' : ''}${Math.abs(v).toFixed(2)}`
  return (
    <div
      ref={box}
      className="pointer-events-none absolute inset-x-0 top-0 h-[84px] touch-none"
      role="group"
      aria-label="Handles of the tones"
    >
      {GRIPS.map((g) => {
        const { at, lift } = tones[g]
        const set = lift !== 0
        return (
          <div key={g}>
            <span
              aria-hidden
              className={`absolute w-px ${set ? 'bg-safe' : 'bg-transparent'}`}
              style={{
                left: `${placed(at) * 100}%`,
                top: HEIGHT / 2 - Math.max(lift, 0) * STOP_HEIGHT,
                height: Math.abs(lift) * STOP_HEIGHT,
              }}
            />
            <button
              role="slider"
              aria-label={GRIP_NAMES[g]}
              aria-valuemin={-GRIP_MOST}
              aria-valuemax={GRIP_MOST}
              aria-valuenow={lift}
              aria-valuetext={`${say(lift)} EV at ${say(at)}`}
              title={`${GRIP_NAMES[g]}: ${say(lift)} EV at ${say(at)}`}
              className={`pointer-events-auto absolute h-3.5 w-3.5 -translate-x-1/2 -translate-y-1/2 cursor-move border ${set ? 'border-safe bg-safedim' : 'border-text bg-night/70'} hover:border-bright`}
              style={{ left: `${placed(at) * 100}%`, top: HEIGHT / 2 - lift * STOP_HEIGHT }}
              onPointerDown={(e) => take(e, at, lift)}
              onPointerMove={(e) => gripMove(e, g)}
              onPointerUp={end}
              onPointerCancel={end}
              onDoubleClick={() => setGrip(g, { lift: 0, at: START.tones[g].at })}
              onKeyDown={(e) =>
                stepKeys(
                  e,
                  (by) => setGrip(g, { lift: lift + by }),
                  (by) => setGrip(g, { at: at + by }),
                  () => setGrip(g, { lift: 0 }),
                )
              }
            />
          </div>
        )
      })}
      {(['black', 'white'] as const).map((which) => {
        const value = points[which]
        const start = START.points[which]
        const name = which === 'black' ? 'Black point' : 'White point'
        return (
          <button
            key={which}
            role="slider"
            aria-label={name}
            aria-valuemin={which === 'black' ? BLACK_POINT.none : WHITE_POINT.from}
            aria-valuemax={which === 'black' ? BLACK_POINT.to : WHITE_POINT.to}
            aria-valuenow={value}
            title={`${name}: ${which === 'black' && value === start ? 'none' : `${say(value)} EV`}`}
            className={`pointer-events-auto absolute bottom-0 h-6 w-2 cursor-ew-resize border ${which === 'black' ? 'border-edge bg-black' : '-translate-x-full border-night bg-white'} ${value !== start ? '!border-safe' : ''}`}
            style={{ left: `${placed(value) * 100}%` }}
            onPointerDown={(e) => take(e, value, 0)}
            onPointerMove={(e) => pointMove(e, which)}
            onPointerUp={end}
            onPointerCancel={end}
            onDoubleClick={() => setPoint(which, start)}
            onKeyDown={(e) =>
              stepKeys(
                e,
                (by) => setPoint(which, value + 2 * by),
                (by) => setPoint(which, value + 2 * by),
                () => setPoint(which, start),
              )
            }
          />
        )
      })}
    </div>
  )
}
