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
import type { PictureTool, Place } from '../state/types'
import { Crosshair } from './Crosshair'
import { Drawn } from './Drawn'
import { toPicture } from './geometry'
import { Layers } from './Layers'
import { panBy } from './pan'
import { surroundColour } from './surround'

/** A place taken by key: a hold that is let go at once, where the tool has no press of its own. */
function take(tool: PictureTool, at: Place): void {
  if (tool.press) tool.press(at)
  else tool.grasp?.(at).end()
}

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
  const grasped = useRef<{
    from: { x: number; y: number }
    hold: ReturnType<NonNullable<PictureTool['grasp']>>
  }>(undefined)

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

  const place = (event: { clientX: number; clientY: number }) => {
    const box = pane.current!.getBoundingClientRect()
    return toPicture(geometry!, event.clientX - box.left, event.clientY - box.top)
  }
  const inside = ({ x, y }: { x: number; y: number }) => x >= 0 && x < 1 && y >= 0 && y < 1

  const down = (event: PointerEvent) => {
    if (!geometry || event.button !== 0) return
    if (tool) {
      const at = place(event)
      if (!inside(at)) return
      if (tool.grasp) {
        grasped.current = { from: { x: event.clientX, y: event.clientY }, hold: tool.grasp(at) }
        event.currentTarget.setPointerCapture(event.pointerId)
      } else tool.press?.(at)
      return
    }
    if (zoom === 'fit') return
    drag.current = { x: event.clientX, y: event.clientY }
    event.currentTarget.setPointerCapture(event.pointerId)
  }
  const move = (event: PointerEvent) => {
    if (geometry) {
      const at = place(event)
      const over = inside(at) ? at : undefined
      tool?.hover?.(over)
      hover(over)
    }
    if (grasped.current) {
      const { from, hold } = grasped.current
      hold.move(place(event), { right: event.clientX - from.x, up: from.y - event.clientY })
      return
    }
    if (!drag.current) return
    onPan(event.clientX - drag.current.x, event.clientY - drag.current.y)
    drag.current = { x: event.clientX, y: event.clientY }
  }
  const letGo = () => {
    drag.current = undefined
    grasped.current?.hold.end()
    grasped.current = undefined
  }
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

  useWheel(pane, zoom !== 'fit', onPan)

  const cursor = tool ? 'cursor-crosshair' : zoom === 'fit' ? 'cursor-default' : 'cursor-grab'
  return (
    <div
      ref={pane}
      role="application"
      aria-label={kind && tool ? kind.label : 'Picture: arrow keys move it when zoomed'}
      tabIndex={0}
      className={`relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden ${cursor}`}
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
          key={`${zoom} ${kind.id}`}
          geometry={geometry}
          pane={pane}
          onPick={(at) => inside(at) && take(tool, at)}
          onLeave={() => bench.take(undefined)}
        />
      )}
    </div>
  )
}

/** Moves the picture with the wheel; React's own wheel listeners could not keep the page from scrolling. */
function useWheel(
  pane: React.RefObject<HTMLDivElement | null>,
  on: boolean,
  onPan: (dx: number, dy: number) => void,
) {
  useEffect(() => {
    const element = pane.current
    if (!element || !on) return
    const wheel = (event: WheelEvent) => {
      event.preventDefault()
      onPan(-event.deltaX, -event.deltaY)
    }
    element.addEventListener('wheel', wheel, { passive: false })
    return () => element.removeEventListener('wheel', wheel)
  }, [pane, on, onPan])
}
