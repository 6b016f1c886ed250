import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { SlidersHorizontal } from 'lucide-react'
import { useAtom, useAtomValue, useSetAtom } from 'jotai'
import { NumberControl } from '../../controls/NumberControl'
import { Toggle } from '../../controls/Toggle'
import { highFromAtom, lowToAtom, markedAtom, toggleAtom, whileMovingAtom } from './marks'

/** The switch of the marks, and what counts as clipped. */
export function ClippingMenu() {
  const shown = useAtomValue(markedAtom)
  const toggle = useSetAtom(toggleAtom)
  const [highFrom, setHigh] = useAtom(highFromAtom)
  const [lowTo, setLow] = useAtom(lowToAtom)
  const [whileMoving, setWhileMoving] = useAtom(whileMovingAtom)
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
        <PopoverPanel className="absolute right-0 bottom-full z-30 mb-1.5 w-64 border border-edge bg-panel px-4 py-2 text-[13px]">
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
          <Toggle label="Also while moving controls" checked={whileMoving} onChange={setWhileMoving} />
        </PopoverPanel>
      </Popover>
    </div>
  )
}
