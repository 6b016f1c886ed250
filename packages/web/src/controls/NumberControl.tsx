import { useEffect, useId, useRef, useState } from 'react'

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
  /** Value that a double click gives back. */
  start: number
  scale?: Scale
  /** Whether it departs from its start; the value against the start where missing. */
  changed?: boolean
  disabled?: boolean
  onChange(value: number): void
  /** The pointer has let go, or a number has been written: what follows is another step. */
  onEnd?(): void
}

const SLIDER_STEPS = 1000

/**
 * A number with slider and field: arrow keys step it, a double click resets it, and the wheel steps it while it has the
 * focus or Alt is held.
 */
export function NumberControl(props: Props) {
  const { label, value, min, max, step, digits, start, scale, disabled, onChange } = props
  const id = useId()
  const row = useRef<HTMLDivElement>(null)
  const slider = useRef<HTMLInputElement>(null)
  const [typed, setTyped] = useState<string>()
  const round = (v: number) => Number((Math.round(v / step) * step).toFixed(6))
  const put = (v: number) => onChange(Math.min(Math.max(round(v), min), max))
  const changed = props.changed ?? Math.abs(value - start) > step / 1000
  const shown = (props.signed && value > 0 ? '+' : '') + value.toFixed(digits).replace('-', '\u2212')

  const share = scale ? scale.to(value) : (value - min) / (max - min)
  const fromShare = (s: number) => (scale ? scale.from(s) : min + s * (max - min))

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

  const keys = (event: React.KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[
      event.key
    ]
    if (
      !by ||
      (event.currentTarget instanceof HTMLInputElement &&
        event.currentTarget.type === 'text' &&
        /Left|Right/.test(event.key))
    )
      return
    event.preventDefault()
    setTyped(undefined)
    put(value + by * step * (event.shiftKey ? 10 : 1))
  }
  const finish = () => {
    if (typed === undefined) return
    const number = Number(
      typed
        .replace(',', '.')
        .replace('\u2212', '-')
        .replace(/[^\d.+-]/g, ''),
    )
    if (typed.trim() !== '' && isFinite(number)) {
      put(number)
      // what is written is a step of its own
      props.onEnd?.()
    }
    setTyped(undefined)
  }
  return (
    <div
      ref={row}
      className="py-0.5"
      onDoubleClick={() => {
        if (disabled) return
        onChange(start)
        props.onEnd?.()
      }}
    >
      <div className="flex items-baseline justify-between">
        <label
          htmlFor={id}
          className={changed ? 'text-bright' : 'text-text'}
          title="Double click to reset"
          onClick={(e) => {
            // the slider takes the keys, but the drawer must not jump under a double click
            e.preventDefault()
            slider.current?.focus({ preventScroll: true })
          }}
        >
          {label}
        </label>
        <span className="flex items-baseline gap-1">
          <input
            aria-label={`${label}, number`}
            className="w-16 border border-transparent bg-transparent px-1 text-right text-text hover:border-edge focus:border-edge disabled:text-edge"
            inputMode="decimal"
            disabled={disabled}
            value={typed ?? shown}
            onChange={(e) => setTyped(e.target.value)}
            onFocus={(e) => e.target.select()}
            onBlur={finish}
            onDoubleClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => {
              if (e.key === 'Enter') {
                finish()
                // the bench's single keys work again; Tab goes on from here
                e.currentTarget.blur()
              } else if (e.key === 'Escape') setTyped(undefined)
              else keys(e)
            }}
          />
          <span className="w-6 text-quiet">{props.unit}</span>
        </span>
      </div>
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
        onChange={(e) => put(fromShare(Number(e.target.value) / SLIDER_STEPS))}
        onPointerUp={props.onEnd}
        onKeyDown={keys}
      />
    </div>
  )
}
