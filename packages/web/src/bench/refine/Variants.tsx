import type { Development, Factor, SharpenSettings } from '@dunkelkammer/core'
import type { Picture } from '@dunkelkammer/engine/browser'
import { ModalDialog } from '../../shell/ModalDialog'
import { X } from 'lucide-react'
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react'
import { Choice } from '../../controls/Choice'
import { Numbers } from '../steps/StepNumbers'
import { arrowBy } from '../picture/arrows'
import { withStep } from '../steps/withStep'
import { Pixels } from '../picture/Pixels'
import type { Place } from '../state/types'
import { useSpot } from './useSpot'
import {
  automaticPart,
  firstVariants,
  MOST_VARIANTS,
  VARIED,
  VARIED_LABELS,
  VARIED_NUMBERS,
  type Varied,
} from './variants'

const FACTORS: readonly { value: Factor; label: string }[] = [
  { value: 1, label: '1' },
  { value: 2, label: '2' },
  { value: 3, label: '3' },
  { value: 4, label: '4' },
]

/** The same spot in up to four settings, side by side and tied; one of them is taken. */
export function Variants(props: {
  picture: Picture
  development: Development
  at: Place
  onClose(): void
  onTake(part: Varied, from: Development): void
}) {
  const { picture, development, onClose, onTake } = props
  const [part, setPart] = useState<Varied>('noise')
  const [columns, setColumns] = useState(() => firstVariants(development, 'noise'))
  const [at, setAt] = useState(props.at)
  const [zoom, setZoom] = useState<1 | 2>(1)
  const measured = useRef<Promise<Partial<SharpenSettings> | undefined>>(undefined)
  const vary = (next: Varied) => {
    setPart(next)
    setColumns(firstVariants(development, next))
  }
  const change = (i: number, how: (d: Development) => Development) =>
    setColumns((all) => all.map((d, k) => (k === i ? how(d) : d)))
  const automatic = async (i: number) => {
    if (part === 'sharpen')
      measured.current ??= picture
        .ask('softness', development)
        .then((f) => f && { softness: f.softness, radius: f.radius, angle: f.angle })
        .catch(() => undefined)
    const found = part === 'sharpen' ? await measured.current : undefined
    change(i, (d) => automaticPart(d, part, found))
  }
  // enlarged ones are shown pixel for pixel, the others as much larger: the same things have the same size
  const largest = Math.max(...columns.map((d) => d.steps.enlarge.factor))
  return (
    <ModalDialog
      onClose={onClose}
      label="Compare variants"
      className="fixed inset-0 flex h-full max-h-full w-full max-w-full flex-col bg-panel"
    >
      <header className="flex items-center gap-4 border-b border-line px-4 py-2">
        <h1 className="font-semibold text-bright">Compare variants</h1>
        <Choice
          label="Compare by"
          value={part}
          options={VARIED.map((value) => ({ value, label: VARIED_LABELS[value] }))}
          onChange={vary}
        />
        <Choice
          label="Size shown"
          value={zoom}
          options={[
            { value: 1, label: '100 %' },
            { value: 2, label: '200 %' },
          ]}
          onChange={setZoom}
        />
        <p className="min-w-0 flex-1 truncate text-quiet">
          Drag a picture, or use the arrow keys, to see elsewhere.
        </p>
        <button
          className="button"
          disabled={columns.length >= MOST_VARIANTS}
          onClick={() => setColumns((all) => [...all, all[all.length - 1]])}
        >
          Add a variant
        </button>
        <button className="icon-button" aria-label="Close without choosing" onClick={onClose}>
          <X className="h-4 w-4" aria-hidden />
        </button>
      </header>
      <div className="grid min-h-0 flex-1 auto-cols-fr grid-flow-col">
        {columns.map((variant, i) => (
          <section
            key={i}
            aria-label={`Variant ${i + 1}`}
            className="flex min-h-0 min-w-0 flex-col border-r border-line last:border-r-0"
          >
            <VariantView
              {...{ picture, at }}
              development={variant}
              pixel={(zoom * largest) / variant.steps.enlarge.factor}
              onMove={setAt}
              label={`Variant ${i + 1}`}
            />
            <div className="border-t border-line px-3 py-2">
              {part === 'enlarge' && (
                <Choice
                  label={`Times, variant ${i + 1}`}
                  value={variant.steps.enlarge.factor}
                  options={FACTORS}
                  onChange={(factor) => change(i, (d) => withStep(d, 'enlarge', { factor }))}
                />
              )}
              <Numbers
                numbers={VARIED_NUMBERS[part]}
                values={variant.steps[part]}
                disabled={part === 'enlarge' && variant.steps.enlarge.factor === 1}
                onChange={(name, value) =>
                  change(i, (d) =>
                    withStep(d, part, { [name]: value, ...(part === 'noise' && { mode: 'hand' }) }),
                  )
                }
                onEnd={() => undefined}
              />
              <div className="mt-1 flex gap-1">
                <button
                  className="button flex-1"
                  aria-pressed={part === 'noise' && variant.steps.noise.mode === 'automatic'}
                  onClick={() => void automatic(i)}
                >
                  Automatic
                </button>
                {columns.length > 1 && (
                  <button
                    className="button"
                    aria-label={`Remove variant ${i + 1}`}
                    onClick={() => setColumns((all) => all.filter((_, k) => k !== i))}
                  >
                    Remove
                  </button>
                )}
                <button className="button flex-1" onClick={() => onTake(part, variant)}>
                  {i === 0 && variant === development ? 'Keep this' : 'Use this'}
                </button>
              </div>
            </div>
          </section>
        ))}
      </div>
    </ModalDialog>
  )
}

function VariantView(props: {
  picture: Picture
  development: Development
  at: Place
  /** Pixels of the screen for one of the finished picture. */
  pixel: number
  onMove(how: (at: Place) => Place): void
  label: string
}) {
  const { picture, development, at, pixel, onMove, label } = props
  const box = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState<{ width: number; height: number }>()
  useEffect(() => {
    const element = box.current!
    const measure = () => setSize({ width: element.clientWidth, height: element.clientHeight })
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    measure()
    return () => observer.disconnect()
  }, [])
  const density = globalThis.devicePixelRatio || 1
  const css = pixel / density
  const wish = useMemo(
    () =>
      size && size.width > 0
        ? {
            ...{ picture, development, at, beside: true },
            width: Math.ceil(size.width / css),
            height: Math.ceil(size.height / css),
          }
        : undefined,
    [picture, development, at, size, css],
  )
  const { view, problem } = useSpot(wish)
  const drag = useRef<{ x: number; y: number }>(undefined)
  const finished = picture.squareNow(development)?.finished ?? picture
  const by = (dx: number, dy: number) =>
    onMove((p) => ({
      x: Math.min(Math.max(p.x - dx / (finished.width * css), 0), 1),
      y: Math.min(Math.max(p.y - dy / (finished.height * css), 0), 1),
    }))
  const move = (event: PointerEvent) => {
    if (!drag.current) return
    by(event.clientX - drag.current.x, event.clientY - drag.current.y)
    drag.current = { x: event.clientX, y: event.clientY }
  }
  return (
    <div
      ref={box}
      tabIndex={0}
      role="application"
      aria-label={`${label}: arrow keys move it`}
      className="relative min-h-0 flex-1 cursor-grab touch-none overflow-hidden bg-night"
      onPointerDown={(event) => {
        drag.current = { x: event.clientX, y: event.clientY }
        event.currentTarget.setPointerCapture(event.pointerId)
      }}
      onPointerMove={move}
      onPointerUp={() => (drag.current = undefined)}
      onPointerCancel={() => (drag.current = undefined)}
      onKeyDown={(event) => {
        const step = arrowBy(event.key, event.shiftKey ? 10 : 60)
        if (!step) return
        event.preventDefault()
        by(-step[0], -step[1])
      }}
    >
      {view && (
        <Pixels
          rgba={view.rgba}
          width={view.width}
          height={view.height}
          left={0}
          top={0}
          pixel={css}
          label={label}
          exact={view.exact}
        />
      )}
      {problem && <p className="p-3 text-info">{problem}</p>}
    </div>
  )
}
