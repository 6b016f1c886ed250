import type { Frame } from '@dunkelkammer/contract'
import { Superseded, type View } from '@dunkelkammer/engine/browser'
import { useEffect, useEffectEvent, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { api, atWork, sentence } from '../api/client'
import { layOutView, placeOfWhole, sameGeometry, type Geometry, type Pane } from '../bench/picture/geometry'
import { Latest } from '../bench/picture/latest'
import { Pixels } from '../bench/picture/Pixels'
import { surroundColour, SURROUND_IDS, type Surround } from '../bench/picture/surround'
import { useStored } from '../shell/useStored'
import { hold, type Opened } from './openPictures'
import { layOutScaled, WHOLE, type Tied } from './scaled'

export interface Size {
  width: number
  height: number
}

interface Wish {
  opened: Opened
  versionId?: string
  geometry: Geometry
  /** Keeps the view to show it again without waiting. */
  keep: boolean
}

const versionOf = ({ page }: Opened, id?: string) =>
  page.versions.find((v) => v.id === id) ?? page.versions[0]
const nameOf = ({ opened, versionId, geometry: g }: Wish) =>
  `${versionOf(opened, versionId).id} ${g.width} ${g.height}`

async function compute(wish: Wish, signal?: AbortSignal): Promise<View> {
  const { opened, versionId, geometry: g, keep } = wish
  const known = opened.ready.get(nameOf(wish))
  if (keep && known) return known
  const { development } = versionOf(opened, versionId)
  const view = await opened.picture.view(
    { development, width: g.width, height: g.height, region: g.region },
    signal,
  )
  if (keep) opened.ready.set(nameOf(wish), view)
  return view
}

/** Size of what a version shows of its frame. */
async function sizeOf(opened: Opened, versionId?: string): Promise<Size> {
  const { development } = versionOf(opened, versionId)
  const { width, height } = await opened.picture.square(development)
  return { width, height }
}

/** Opens a frame and computes it as a pane will show it, so that it is there when it is turned to. */
export function prepare(frame: Frame, pane: Pane): { ready: Promise<void>; release(): void } {
  const held = hold(frame.id)
  const ready = held.opened.then(async (opened) => {
    const geometry = layOutView(await sizeOf(opened), pane, 'fit', WHOLE.centre)
    await compute({ opened, geometry, keep: true })
  })
  return { ready: ready.catch(() => undefined), release: held.release }
}

/** One frame in a pane: whole, or a part of it in a size that several panes share. */
export function PicturePane(props: {
  frame: Frame
  versionId?: string
  tied: Tied
  onPane?(pane: Pane): void
  /** Says once the picture is there as it is to be, exactly. */
  onShown?(): void
  /** Says how large the version's frame is, once that is known. */
  onSize?(size: Size): void
  children?: ReactNode
}) {
  const { frame, versionId, tied, onPane, onShown, onSize } = props
  const room = useRef<HTMLDivElement>(null)
  const [pane, setPane] = useState<Pane>()
  const [opened, setOpened] = useState<Opened>()
  const [whole, setWhole] = useState<{ view: View; geometry: Geometry }>()
  const [part, setPart] = useState<{ view: View; geometry: Geometry }>()
  const [size, setSize] = useState<Size>(frame)
  const [problem, setProblem] = useState<string>()
  const [surround] = useStored<Surround>('surround', 'grey', SURROUND_IDS)

  useLayoutEffect(() => {
    const element = room.current!
    const measure = () => {
      const next = {
        width: element.clientWidth,
        height: element.clientHeight,
        density: globalThis.devicePixelRatio || 1,
      }
      setPane(next)
      onPane?.(next)
    }
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    measure()
    return () => observer.disconnect()
  }, [onPane])

  const begin = useEffectEvent(() => {
    let here = true
    setOpened(undefined)
    setSize(frame)
    setWhole(undefined)
    setPart(undefined)
    setProblem(undefined)
    const held = hold(frame.id)
    held.opened.then(
      async (o) => {
        // a frame of another size must not be laid out in this one's
        const known = await sizeOf(o, versionId).catch(() => frame)
        if (!here) return
        setSize(known)
        onSize?.(known)
        setOpened(o)
      },
      (error: unknown) => here && setProblem(sentence(error)),
    )
    return () => {
      here = false
      held.release()
    }
  })
  useEffect(() => begin(), [frame.id, versionId])

  const { x, y } = tied.centre
  const { longEdge } = tied
  const fit = useMemo(() => pane && layOutView(size, pane, 'fit', WHOLE.centre), [size, pane])
  const geometry = useMemo(
    () => pane && (longEdge ? layOutScaled(size, pane, { centre: { x, y }, longEdge }) : fit),
    [size, pane, fit, longEdge, x, y],
  )

  const queues = useRef<{ whole: Latest<Wish>; part: Latest<Wish> }>(undefined)
  useEffect(() => {
    const queue = (show: (view: View, geometry: Geometry) => void) =>
      new Latest<Wish>(
        async (wish, signal) => {
          try {
            show(await compute(wish, signal), wish.geometry)
          } catch (error) {
            if (!(error instanceof Superseded) && (error as Error).name !== 'AbortError')
              setProblem(sentence(error))
          }
        },
        (a, b) => a.opened !== b.opened || !sameGeometry(a.geometry, b.geometry),
      )
    queues.current = {
      whole: queue((view, g) => setWhole({ view, geometry: g })),
      part: queue((view, g) => setPart({ view, geometry: g })),
    }
    const { whole, part } = queues.current
    return () => [whole, part].forEach((q) => q.close())
  }, [])
  useEffect(() => {
    if (opened && fit) queues.current?.whole.push({ opened, versionId, geometry: fit, keep: true })
  }, [opened, versionId, fit])
  useEffect(() => {
    if (opened && geometry && longEdge) atWork()
    if (opened && geometry && longEdge)
      queues.current?.part.push({ opened, versionId, geometry, keep: false })
  }, [opened, versionId, geometry, longEdge])

  const shown = longEdge ? part : whole
  const there = shown && geometry && sameGeometry(shown.geometry, geometry)
  useEffect(() => {
    if (there) onShown?.()
  }, [there, onShown])

  return (
    <div
      ref={room}
      className="relative h-full w-full overflow-hidden"
      style={{ backgroundColor: surroundColour(surround) }}
      data-exact={there ? 'true' : 'false'}
      data-frame={frame.id}
    >
      {geometry && !whole && (
        <img
          src={api.thumbUrl(frame)}
          alt=""
          draggable={false}
          className="pointer-events-none absolute max-w-none object-contain"
          style={placeOfWhole(geometry)}
        />
      )}
      {whole && geometry && (
        <Pixels
          rgba={whole.view.rgba}
          width={whole.view.width}
          height={whole.view.height}
          left={geometry.left}
          top={geometry.top}
          pixel={(geometry.width * geometry.pixel) / whole.view.width}
          label={longEdge ? undefined : frame.fileName}
        />
      )}
      {longEdge && part && geometry && (
        <Pixels
          rgba={part.view.rgba}
          width={part.view.width}
          height={part.view.height}
          // an earlier part stays where it belongs until the new one is there
          left={
            geometry.left + (part.geometry.region.x / part.geometry.width) * geometry.width * geometry.pixel
          }
          top={
            geometry.top + (part.geometry.region.y / part.geometry.height) * geometry.height * geometry.pixel
          }
          pixel={(geometry.width * geometry.pixel) / part.geometry.width}
          label={frame.fileName}
        />
      )}
      {problem && (
        <p role="alert" className="absolute inset-x-6 top-6 border border-safe bg-panel p-3 text-bright">
          {problem}
        </p>
      )}
      {props.children}
    </div>
  )
}
