import { useState, type KeyboardEvent } from 'react'
import { readNumber } from './readNumber'

/** A number that is typed. What is no number leaves the old one, and says so. */
export function NumberField(props: {
  label: string
  /** As shown while nothing is typed. */
  shown: string
  /** Whether only whole numbers are meant. */
  whole?: boolean
  title?: string
  className?: string
  disabled?: boolean
  onChange(value: number): void
  /** Keys while nothing is being typed. */
  onKeyDown?(event: KeyboardEvent<HTMLInputElement>): void
}) {
  const { shown, whole } = props
  const [typed, setTyped] = useState<string>()
  const [wrong, setWrong] = useState<string>()
  // begun, but not yet a number, is no mistake
  const mistaken =
    typed !== undefined &&
    !/^[+\-\u2212\u2013]?[.,]?$/.test(typed.trim()) &&
    readNumber(typed, whole) === undefined
  const finish = () => {
    setTyped(undefined)
    if (typed === undefined || typed.trim() === '' || typed === shown) return
    const number = readNumber(typed, whole)
    if (number === undefined) setWrong(typed.trim())
    else props.onChange(number)
  }
  return (
    <span className="relative">
      <input
        aria-label={props.label}
        aria-invalid={wrong !== undefined || mistaken || undefined}
        title={props.title}
        className={`${props.className ?? ''} ${wrong === undefined && !mistaken ? '' : '!border-safe'}`}
        inputMode="decimal"
        autoComplete="off"
        disabled={props.disabled}
        // the keys of the page that a text does not need work while nothing is typed
        data-untouched={typed === undefined || undefined}
        value={typed ?? shown}
        onChange={(e) => {
          setWrong(undefined)
          setTyped(e.target.value)
        }}
        onFocus={(e) => e.target.select()}
        onBlur={() => {
          finish()
          if (typed === undefined) setWrong(undefined)
        }}
        onDoubleClick={(e) => e.stopPropagation()}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            finish()
            // the page's single keys work again; Tab goes on from here
            e.currentTarget.blur()
          } else if (e.key === 'Escape') {
            setTyped(undefined)
            setWrong(undefined)
          } else props.onKeyDown?.(e)
        }}
      />
      {wrong !== undefined && (
        <span
          role="alert"
          className="absolute top-full right-0 z-20 mt-0.5 max-w-60 truncate border border-safe bg-panel px-2 py-0.5 text-[12px] whitespace-nowrap text-bright"
        >
          “{wrong}” is not a {whole ? 'whole number' : 'number'}.
        </span>
      )}
    </span>
  )
}
