import type { MadeFile } from '@dunkelkammer/contract'
import { useRef, useState, type PointerEvent, type WheelEvent } from 'react'
import { api } from '../api/client'
import { Divider } from '../bench/before/Divider'
import { ModalDialog } from '../shell/ModalDialog'
import { ErrorNotice, Progress } from '../shell/Notice'

/** A finished file at 100 %, the frame as it came to the left of a line. */
export function CompareMade(props: { jobId: string; file: MadeFile; onClose(): void }) {
  const { file } = props
  const { view, original } = api.madePictures(props.jobId, file.number)
  const [divider, setDivider] = useState(0.5)
  const [missing, setMissing] = useState<'original' | 'view'>()
  const [loaded, setLoaded] = useState<{ original?: boolean; view?: boolean }>({})
  const pane = useRef<HTMLDivElement>(null)
  const held = useRef<{ x: number; y: number }>(undefined)
  // from the middle of the picture, CSS pixels
  const [offset, setOffset] = useState({ x: 0, y: 0 })
  const ratio = globalThis.devicePixelRatio || 1
  const size = { width: (file.width ?? 0) / ratio, height: (file.height ?? 0) / ratio }
  const move = (x: number, y: number) => {
    const box = pane.current!.getBoundingClientRect()
    const within = (v: number, own: number, room: number) => {
      const most = Math.max(0, (own - room) / 2)
      return Math.min(Math.max(v, -most), most)
    }
    setOffset({ x: within(x, size.width, box.width), y: within(y, size.height, box.height) })
  }
  const drag = {
    onPointerDown(event: PointerEvent) {
      held.current = { x: event.clientX - offset.x, y: event.clientY - offset.y }
      event.currentTarget.setPointerCapture(event.pointerId)
    },
    onPointerMove({ clientX, clientY }: PointerEvent) {
      if (held.current) move(clientX - held.current.x, clientY - held.current.y)
    },
    onPointerUp: () => (held.current = undefined),
    onPointerCancel: () => (held.current = undefined),
    onWheel: ({ deltaX, deltaY }: WheelEvent) => move(offset.x - deltaX, offset.y - deltaY),
  }
  const place = {
    width: size.width,
    height: size.height,
    left: `calc(50% - ${size.width / 2 - offset.x}px)`,
    top: `calc(50% - ${size.height / 2 - offset.y}px)`,
  }
  const picture = (of: 'original' | 'view', src: string, alt: string) => (
    <img
      src={src}
      alt={alt}
      draggable={false}
      className="absolute max-w-none"
      style={place}
      onLoad={() => setLoaded((l) => ({ ...l, [of]: true }))}
      onError={() => setMissing(of)}
    />
  )
  return (
    <ModalDialog
      onClose={props.onClose}
      label={`${file.frameName}, finished and as it came`}
      className="m-auto h-[calc(100%-48px)] w-[calc(100%-48px)] border border-edge bg-panel p-0 backdrop:bg-black/60"
    >
      <div className="flex h-full flex-col">
        <div className="flex items-center justify-between gap-4 px-4 py-2">
          <h2 className="truncate font-semibold text-bright">
            {file.frameName}, {file.delivery}: as it came, and finished, at 100 %
          </h2>
          <button className="button" onClick={props.onClose}>
            Close
          </button>
        </div>
        <div
          ref={pane}
          {...drag}
          className="relative min-h-0 flex-1 cursor-grab touch-none overflow-hidden bg-[#777] select-none"
        >
          {picture('view', view, 'The finished picture')}
          <div
            className="absolute inset-0"
            style={{ clipPath: `inset(0 ${((1 - divider) * 100).toFixed(3)}% 0 0)` }}
          >
            {picture('original', original, 'The frame as it came')}
          </div>
          <Divider at={divider} onMove={setDivider} />
        </div>
        {missing ? (
          <ErrorNotice>
            {missing === 'view'
              ? 'The finished picture is no longer there, or no browser shows its format.'
              : 'The frame cannot be shown as it came: its original is missing.'}
          </ErrorNotice>
        ) : (
          !(loaded.original && loaded.view) && <Progress label="Developing the frame as it came" />
        )}
      </div>
    </ModalDialog>
  )
}
