import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { SlidersHorizontal } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { NumberControl } from '../../controls/NumberControl'
import { Toggle } from '../../controls/Toggle'
import { useStored } from '../../shell/useStored'

/** How long after its last movement a control counts as moving. */
const MOVING_MS = 700

/** Whether clipped places are marked on the picture, and what counts as clipped. */
export interface Clipping {
  shown: boolean
  highFrom: number
  lowTo: number
  /** Whether it is marked also while a tonal control moves. */
  whileMoving: boolean
  setWhileMoving(on: boolean): void
  /** Marks it while a key is held. */
  hold(on: boolean): void
  /** A tonal control has moved. */
  moved(): void
  toggle(): void
  setHigh(level: number): void
  setLow(level: number): void
}

export function useClipping(): Clipping {
  const [on, setShown] = useState(false)
  const [held, hold] = useState(false)
  const [moving, setMoving] = useState(false)
  const [stored, store] = useStored('clipping while moving', 'no', ['no', 'yes'])
  const whileMoving = stored === 'yes'
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(timer.current), [])
  const shown = on || held || (moving && whileMoving)
  const [highFrom, setHigh] = useState(255)
  const [lowTo, setLow] = useState(0)
  return {
    shown,
    highFrom,
    lowTo,
    setHigh,
    setLow,
    toggle: () => setShown((s) => !s),
    hold,
    whileMoving,
    setWhileMoving: (yes) => store(yes ? 'yes' : 'no'),
    moved: () => {
      if (!whileMoving) return
      setMoving(true)
      clearTimeout(timer.current)
      timer.current = setTimeout(() => setMoving(false), MOVING_MS)
    },
  }
}

export function ClippingMenu(props: Clipping) {
  const { shown, highFrom, lowTo, toggle, setHigh, setLow } = props
  return (
    <div className="flex">
      <button
        className={`button !px-2 !py-0.5 ${shown ? 'button-main' : ''}`}
        aria-pressed={shown}
        onClick={toggle}
        title="Stripes mark clipped highlights, dots clipped shadows, in the colours of the channels"
      >
        Clipped
      </button>
      <Popover className="relative">
        <PopoverButton className="button -ml-px !px-1.5 !py-1" aria-label="Thresholds of clipping">
          <SlidersHorizontal className="h-3.5 w-3.5" aria-hidden />
        </PopoverButton>
        <PopoverPanel
          anchor="top end"
          className="z-30 w-64 border border-edge bg-panel px-4 py-2 text-[13px] [--anchor-gap:6px]"
        >
          <NumberControl
            label="Highlights from"
            value={highFrom}
            min={200}
            max={255}
            step={1}
            digits={0}
            start={255}
            onChange={setHigh}
          />
          <NumberControl
            label="Shadows down to"
            value={lowTo}
            min={0}
            max={40}
            step={1}
            digits={0}
            start={0}
            onChange={setLow}
          />
          <p className="pb-1 text-[12px] text-quiet">Levels of 255 in sRGB.</p>
          <Toggle
            label="Also while tones are moved"
            checked={props.whileMoving}
            onChange={props.setWhileMoving}
          />
        </PopoverPanel>
      </Popover>
    </div>
  )
}
