import { MAX_PINS } from '@dunkelkammer/contract'
import { onSensor } from '../picture/touch'
import { deskAtom, pinsAtom } from '../state/atoms'
import type { ToolKind } from '../state/types'

export const PIN: ToolKind = {
  id: 'pin',
  label: 'Picture: choose a place to be read with the arrow keys and Enter',
  begin: (bench) => ({
    press(at) {
      const pins = bench.get(pinsAtom)
      if (pins.length < MAX_PINS) bench.get(deskAtom).setPins([...pins, onSensor(bench, at)])
      if (pins.length + 1 >= MAX_PINS) bench.take(undefined)
    },
  }),
}
