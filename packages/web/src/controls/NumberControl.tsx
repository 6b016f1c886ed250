import { useEffect, useId, useRef, type KeyboardEvent, type ReactNode } from 'react'
import { NumberField } from './NumberField'
import { useSlider } from './useSlider'

interface Scale {
  /** Value to the slider's 0..1 and back; linear where missing. */
  to(value: number): number
  from(share: number): number
}

interface Props {
  label: string
  value: number
  min: number
  max: number
  step: number
  unit?: string
  digits: number
  signed?: boolean
  /** Value that a double click gives back; none is given back where missing. */
  start?: number
  scale?: Scale
  /** Whether it departs from its start; the value against the start where missing. */
  changed?: boolean
  disabled?: boolean
  /** Stands in the margin while the control is in use. */
  margin?: ReactNode
  onChange(value: number): void
  /** The pointer has let go, or a number has been written: what follows is another step. */
  onEnd?(): void
}

const SLIDER_STEPS = 1000
const STEPS: Readonly<Record<string, number>> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }

/**
 * A number with slider and field: arrow keys step it, a double click resets it, and the wheel steps it while it has the
 * focus or Alt is held.
 */
export function NumberControl(props: Props) {
  const { label, value, min, max, step, digits, start, scale, disabled, onChange } = props
  const id = useId()
  const row = useRef<HTMLDivElement>(null)
  const slider = useRef<HTMLInputElement>(null)
  const paging = useRef(false)
  const round = (v: number) => Number((Math.round(v / step) * step).toFixed(6))
  const put = (v: number) => {
    const next = Math.min(Math.max(round(v), min), max)
    if (next !== value) onChange(next)
  }
  const end = () => props.onEnd?.()
  const changed = props.changed ?? (start !== undefined && Math.abs(value - start) > step / 1000)
  const shown = (props.signed && value > 0 ? '+' : '') + value.toFixed(digits).replace('-', '\u2212')

  const share = scale ? scale.to(value) : (value - min) / (max - min)
  const fromShare = (s: number) => (scale ? scale.from(s) : min + s * (max - min))
  const { holding, forget, ...pulls } = useSlider({ share, put: (s) => put(fromShare(s)), end })

  const latest = useRef({ value, put, step, disabled })
  latest.current = { value, put, step, disabled }
  useEffect(() => {
    const element = row.current!
    const wheel = (event: WheelEvent) => {
      const now = latest.current
      // the wheel scrolls the drawer, unless this control was meant
      const meant = event.altKey || element.contains(document.activeElement)
      if (now.disabled || event.ctrlKey || !meant) return
      event.preventDefault()
      now.put(now.value + (event.deltaY < 0 ? 1 : -1) * now.step * (event.shiftKey ? 10 : 1))
    }
    element.addEventListener('wheel', wheel, { passive: false })
    return () => element.removeEventListener('wheel', wheel)
  }, [])

  const stepBy = (event: KeyboardEvent<HTMLInputElement>, allowed: RegExp) => {
    const by = STEPS[event.key]
    if (!by || !allowed.test(event.key)) return
    event.preventDefault()
    put(value + by * step * (event.shiftKey ? 10 : 1))
  }
  return (
    <div
      ref={row}
      className="number-row group/number relative"
      onDoubleClick={() => {
        forget()
        if (disabled || start === undefined || !changed) return
        // a step of its own, however soon it follows another
        end()
        onChange(start)
        end()
      }}
    >
      {props.margin}
      <label
        htmlFor={id}
        className={changed ? 'text-bright' : 'text-text'}
        title={start === undefined ? undefined : 'Double click to reset'}
        onClick={(e) => {
          // the slider takes the keys, but the drawer must not jump under a double click
          e.preventDefault()
          slider.current?.focus({ preventScroll: true })
        }}
      >
        {label}
      </label>
      <span className="number-value flex items-baseline gap-1">
        <NumberField
          label={`${label}, number`}
          shown={shown}
          whole={digits === 0}
          className="w-16 border border-transparent bg-transparent px-1 text-right text-text hover:border-edge focus:border-edge disabled:text-edge"
          disabled={disabled}
          onChange={(v) => {
            put(v)
            // what is written is a step of its own
            end()
          }}
          onKeyDown={(e) => stepBy(e, /Up|Down/)}
        />
        <span className="w-6 text-quiet">{props.unit}</span>
      </span>
      <input
        ref={slider}
        id={id}
        type="range"
        min={0}
        max={SLIDER_STEPS}
        step="any"
        value={share * SLIDER_STEPS}
        disabled={disabled}
        data-changed={changed || undefined}
        aria-valuetext={`${shown} ${props.unit ?? ''}`}
        onChange={(e) => {
          // a pull has its own way, and the page keys are the page's
          if (!holding() && !paging.current) put(fromShare(Number(e.target.value) / SLIDER_STEPS))
        }}
        {...pulls}
        onKeyDown={(e) => {
          paging.current = /^Page/.test(e.key)
          stepBy(e, /./)
        }}
        onKeyUp={() => (paging.current = false)}
      />
    </div>
  )
}
