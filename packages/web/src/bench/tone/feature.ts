import { atom, useAtomValue } from 'jotai'
import { usePublished } from '../state/bench'
import { waveformAtom } from '../state/looking'
import type { Feature } from '../state/types'
import { RAIL_SCALES, railScaleAtom } from './scale'

const wantedAtom = atom((get) => get(railScaleAtom) === 'waveform')

function WaveformWish() {
  usePublished(waveformAtom, useAtomValue(wantedAtom))
  return null
}

/** The histogram with the handles of the tones. It has a place of its own below everything. */
export const tone: Feature = {
  Works: WaveformWish,
  commands: ({ get, set }) => [
    {
      id: 'rail',
      label: 'Next scale of the tone rail',
      group: 'View',
      keys: 'H',
      run: () =>
        set(railScaleAtom, RAIL_SCALES[(RAIL_SCALES.indexOf(get(railScaleAtom)) + 1) % RAIL_SCALES.length]),
    },
  ],
}
