import {
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from 'react'
import { arrowBy } from './arrows'
import { referenceName, type Reference } from '../before/reference'
import { Pixels } from './Pixels'
import { placedView, placeOfWhole, toPicture, type Geometry, type Pane, type Zoom } from './geometry'
import { surroundColour, type Surround } from './surround'
import type { PictureTool, Place } from '../state/tools'
import type { Views } from './useViews'

interface Props {
  views: Views
  geometry?: Geometry
  zoom: Zoom
  surround: Surround
  previewUrl?: string
  showBefore: boolean
  /** What is shown before. */
  reference: Reference
  /** Where the camera's own picture lies. */
  cameraGeometry?: Geometry
  /** Where the original ends and the development begins, a share of the pane; missing for all of either. */
  divider?: number
  /** What is in the hand. */
  tool?: PictureTool
  /** Drawn over the picture. */
  marks?: ReactNode
  /** The pointer is over a place of the picture, or has left it. */
  onHover?(at: Place | undefined): void
  onPane(pane: Pane): void
  onPan(dx: number, dy: number): void
  onToggleZoom(at: { x: number; y: number }): void
  onLeaveTool(): void
}

/** A place taken by key: a hold that is let go at once, where the tool has no press of its own. */
function take(tool: PictureTool, at: Place): void {
  if (tool.press) tool.press(at)
  else tool.grasp?.(at).end()
}

/** The picture on its neutral surround. */
export function Viewer(props: Props) {
  const { geometry, zoom, tool, onPane } = props
  const pane = useRef<HTMLDivElement>(null)
  const drag = useRef<{ x: number; y: number }>(undefined)
  const grasped = useRef<{
    from: { x: number; y: number }
    hold: ReturnType<NonNullable<PictureTool['grasp']>>
  }>(undefined)

  useLayoutEffect(() => {
    const element = pane.current!
    const measure = () =>
      onPane({
        width: element.clientWidth,
        height: element.clientHeight,
        density: globalThis.devicePixelRatio || 1,
      })
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    measure()
    return () => observer.disconnect()
  }, [onPane])

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
      props.onHover?.(over)
    }
    if (grasped.current) {
      const { from, hold } = grasped.current
      hold.move(place(event), { right: event.clientX - from.x, up: from.y - event.clientY })
      return
    }
    if (!drag.current) return
    props.onPan(event.clientX - drag.current.x, event.clientY - drag.current.y)
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
    props.onPan(by[0], by[1])
  }

  useWheel(pane, zoom !== 'fit', props.onPan)

  const cursor = tool ? 'cursor-crosshair' : zoom === 'fit' ? 'cursor-default' : 'cursor-grab'
  return (
    <div
      ref={pane}
      role="application"
      aria-label={tool ? tool.label : 'Picture: arrow keys move it when zoomed'}
      tabIndex={0}
      className={`relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden ${cursor}`}
      style={{ backgroundColor: surroundColour(props.surround) }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={letGo}
      onPointerCancel={letGo}
      onPointerLeave={() => {
        tool?.hover?.(undefined)
        props.onHover?.(undefined)
      }}
      onDoubleClick={(e) => geometry && !tool && props.onToggleZoom(place(e))}
      onKeyDown={keys}
    >
      {geometry && <Layers {...props} geometry={geometry} />}
      {props.marks}
      {geometry && tool && (
        <Crosshair
          key={`${zoom} ${tool.id}`}
          geometry={geometry}
          pane={pane}
          onPick={(at) => inside(at) && take(tool, at)}
          onLeave={props.onLeaveTool}
        />
      )}
    </div>
  )
}

function Layers({
  views,
  geometry,
  previewUrl,
  showBefore,
  divider,
  zoom,
  reference,
  cameraGeometry,
}: Props & { geometry: Geometry }) {
  const { main, whole, before } = views
  const under = zoom !== 'fit' ? whole : undefined
  return (
    <>
      {!main && previewUrl && (
        <img
          src={previewUrl}
          alt="The camera's own picture, until the development is ready"
          draggable={false}
          onError={(e) => (e.currentTarget.style.visibility = 'hidden')}
          className="pointer-events-none absolute object-contain"
          style={placeOfWhole(geometry)}
        />
      )}
      {under && <Pixels {...placedView(under, geometry)} />}
      {main && (
        <Pixels {...placedView(main, geometry)} label="The developed picture" exact={main.view.exact} />
      )}
      {main?.view.highs && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.highs} className="clip-highs" />
      )}
      {main?.view.lows && (
        <Pixels {...placedView(main, geometry)} rgba={main.view.lows} className="clip-lows" />
      )}
      {(showBefore || divider !== undefined) && (before || reference.kind === 'camera') && (
        <div
          className="pointer-events-none absolute inset-0"
          style={
            !showBefore && divider !== undefined
              ? { clipPath: `inset(0 ${((1 - divider) * 100).toFixed(3)}% 0 0)` }
              : undefined
          }
        >
          {reference.kind === 'camera'
            ? previewUrl &&
              cameraGeometry && (
                <img
                  src={previewUrl}
                  alt="As the camera developed it"
                  draggable={false}
                  className="absolute max-w-none"
                  style={placeOfWhole(cameraGeometry)}
                />
              )
            : before && (
                <Pixels
                  {...placedView(before, geometry)}
                  label={
                    reference.kind === 'untouched' ? 'The untouched picture' : 'What it is compared with'
                  }
                />
              )}
          <p className="pointer-events-none absolute top-3 left-3 max-w-[80%] truncate bg-night/85 px-2 py-1 text-bright">
            {referenceName(reference)}
          </p>
        </div>
      )}
    </>
  )
}

/** Moves the picture with the wheel; React's own wheel listeners could not keep the page from scrolling. */
function useWheel(pane: React.RefObject<HTMLDivElement | null>, on: boolean, onPan: Props['onPan']) {
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

/** A cross that the arrow keys move over the picture; Enter takes the place, Escape puts the tool away. */
function Crosshair(props: {
  geometry: Geometry
  pane: React.RefObject<HTMLDivElement | null>
  onPick(at: { x: number; y: number }): void
  onLeave(): void
}) {
  const { geometry: g, pane, onPick, onLeave } = props
  const [at, setAt] = useState({ x: g.left + (g.width * g.pixel) / 2, y: g.top + (g.height * g.pixel) / 2 })
  const onKey = useCallback(
    (event: globalThis.KeyboardEvent) => {
      // what lies on the picture has keys of its own
      if (event.target !== event.currentTarget) return
      const step = event.shiftKey ? 1 : 12
      const by = arrowBy(event.key, step)
      if (by) setAt((p) => ({ x: p.x + by[0], y: p.y + by[1] }))
      else if (event.key === 'Enter') onPick(toPicture(g, at.x, at.y))
      else if (event.key === 'Escape') onLeave()
      else return
      event.preventDefault()
      event.stopPropagation()
    },
    [at, g, onPick, onLeave],
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
