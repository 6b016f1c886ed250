import { useAtomValue } from 'jotai'
import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  type ComponentType,
  type KeyboardEvent,
  type PointerEvent,
} from 'react'
import { geometryAtom, paneAtom, surroundAtom, toolAtom, zoomAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { hoverWantedAtom, pointerAtom } from '../state/looking'
import type { Hold, Place } from '../state/types'
import { Crosshair } from './Crosshair'
import { Drawn } from './Drawn'
import { toPicture } from './geometry'
import { Layers } from './Layers'
import { panBy } from './pan'
import { usePinch } from './usePinch'
import { useHeldSpace, useWheel } from './useWheel'
import { surroundColour } from './surround'

const NO_KEYS = { alt: false, shift: false }

/** The picture on its neutral surround. */
export function Viewer({ overlays }: { overlays: readonly ComponentType[] }) {
  const bench = useBench()
  const { get, set } = bench
  const geometry = useAtomValue(geometryAtom)
  const zoom = useAtomValue(zoomAtom)
  const surround = useAtomValue(surroundAtom)
  const kind = useAtomValue(toolAtom)
  const tool = useMemo(() => kind?.begin?.(bench), [kind, bench])
  const hover = useCallback(
    (at: Place | undefined) => {
      if (get(hoverWantedAtom)) set(pointerAtom, at)
    },
    [get, set],
  )
  const onPan = useCallback((dx: number, dy: number) => panBy(bench, dx, dy), [bench])
  const pane = useRef<HTMLDivElement>(null)
  const drag = useRef<{ x: number; y: number }>(undefined)
  const grasped = useRef<{ from: { x: number; y: number }; hold: Hold; byKeys?: boolean }>(undefined)

  useLayoutEffect(() => {
    const element = pane.current!
    const measure = () =>
      set(paneAtom, {
        width: element.clientWidth,
        height: element.clientHeight,
        density: globalThis.devicePixelRatio || 1,
      })
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    measure()
    return () => observer.disconnect()
  }, [set])

  const place = (event: { clientX: number; clientY: number }): Place => {
    const box = pane.current!.getBoundingClientRect()
    return toPicture(geometry!, event.clientX - box.left, event.clientY - box.top)
  }
  /** The same with a pen's pressure. */
  const pressedPlace = (event: PointerEvent): Place =>
    event.pointerType === 'pen' ? { ...place(event), pressure: event.pressure } : place(event)
  const inside = ({ x, y }: { x: number; y: number }) => x >= 0 && x < 1 && y >= 0 && y < 1

  const down = (event: PointerEvent) => {
    if (!geometry || event.button !== 0) return
    if (pinch.down(event)) {
      escapeHold()
      return
    }
    if (tool && !spacing) {
      const at = place(event)
      if (!inside(at)) return
      if (tool.grasp) {
        const keys = { alt: event.altKey, shift: event.shiftKey }
        const hold = tool.grasp(pressedPlace(event), keys)
        grasped.current = { from: { x: event.clientX, y: event.clientY }, hold }
        event.currentTarget.setPointerCapture(event.pointerId)
      } else tool.press?.(at)
      return
    }
    if (zoom === 'fit') return
    drag.current = { x: event.clientX, y: event.clientY }
    event.currentTarget.setPointerCapture(event.pointerId)
  }
  const move = (event: PointerEvent) => {
    if (pinch.move(event)) return
    if (geometry) {
      const at = place(event)
      const over = inside(at) ? at : undefined
      tool?.hover?.(over)
      hover(over)
    }
    if (grasped.current && !grasped.current.byKeys) {
      const { from, hold } = grasped.current
      hold.move(pressedPlace(event), { right: event.clientX - from.x, up: from.y - event.clientY })
      return
    }
    if (!drag.current) return
    onPan(event.clientX - drag.current.x, event.clientY - drag.current.y)
    drag.current = { x: event.clientX, y: event.clientY }
  }
  const letGo = (event: PointerEvent) => {
    pinch.up(event)
    drag.current = undefined
    if (grasped.current?.byKeys) return
    grasped.current?.hold.end()
    grasped.current = undefined
  }
  /** A place taken by key. What draws takes a second one; what else is pulled is let go at once. */
  const pick = (at: Place) => {
    if (!tool || !kind || !inside(at)) return
    if (!tool.grasp) return tool.press?.(at)
    const hold = grasped.current?.hold ?? tool.grasp(at, NO_KEYS)
    if (kind.draws && !grasped.current) {
      grasped.current = { from: { x: 0, y: 0 }, hold, byKeys: true }
      return
    }
    hold.move(at, { right: 0, up: 0 })
    hold.end()
    grasped.current = undefined
  }
  const follow = (at: Place) => {
    if (grasped.current?.byKeys) grasped.current.hold.move(at, { right: 0, up: 0 })
  }
  /** Lets go of what is held as if nothing had been done, or puts the tool away. */
  const escape = () => {
    if (!escapeHold()) bench.take(undefined)
  }
  const escapeHold = () => {
    const held = grasped.current
    grasped.current = undefined
    drag.current = undefined
    held?.hold.cancel()
    return held !== undefined
  }
  // a tool that is put away lets go
  useEffect(
    () => () => {
      grasped.current?.hold.cancel()
      grasped.current = undefined
    },
    [tool],
  )
  // what lay over the picture had the keys, and is gone
  const before = useRef(kind)
  useEffect(() => {
    const left = before.current && !kind && document.activeElement === document.body
    if (left) pane.current?.focus({ preventScroll: true })
    before.current = kind
  }, [kind])
  const keys = (event: KeyboardEvent) => {
    if (tool || zoom === 'fit' || event.target !== event.currentTarget) return
    const step = event.shiftKey ? 10 : 80
    const by = { ArrowLeft: [step, 0], ArrowRight: [-step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[
      event.key
    ]
    if (!by) return
    event.preventDefault()
    onPan(by[0], by[1])
  }

  useWheel(pane, bench)
  const spacing = useHeldSpace()
  const pinch = usePinch(bench, pane)

  const cursor = tool && !spacing ? 'cursor-crosshair' : zoom === 'fit' ? 'cursor-default' : 'cursor-grab'
  return (
    <div
      ref={pane}
      role="application"
      aria-label={kind && tool ? kind.label : 'Picture: arrow keys move it when zoomed'}
      tabIndex={0}
      className={`relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden focus-visible:!outline-1 focus-visible:!-outline-offset-1 focus-visible:!outline-quiet ${cursor}`}
      style={{ backgroundColor: surroundColour(surround) }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onPointerLeave={() => {
        tool?.hover?.(undefined)
        hover(undefined)
      }}
      onDoubleClick={(e) => {
        if (!geometry || tool) return
        if (zoom === 'fit') bench.zoom(1, place(e))
        else bench.zoom('fit')
      }}
      onKeyDown={keys}
    >
      {geometry && <Layers />}
      {geometry && overlays.map((Overlay, i) => <Overlay key={i} />)}
      {geometry && <Drawn />}
      {geometry && kind && tool && (
        <Crosshair
          key={kind.id}
          geometry={geometry}
          pane={pane}
          onPick={pick}
          onMove={follow}
          onEscape={escape}
        />
      )}
    </div>
  )
}
