import { atom, useAtomValue, useStore } from 'jotai'
import { useEffect } from 'react'
import { usePublished } from '../state/bench'
import { countedViewAtom, waveformAtom, wholeViewAtom } from '../state/looking'
import type { Feature } from '../state/types'
import { RAIL_SCALES, railScaleAtom } from './scale'

const wantedAtom = atom((get) => get(railScaleAtom) === 'waveform')

/** Between the histograms of a moving picture: drawing them would hold the picture up. */
const COUNT_MS = 160

function Counter() {
  usePublished(waveformAtom, useAtomValue(wantedAtom))
  const store = useStore()
  useEffect(() => {
    let last = -COUNT_MS
    let timer: ReturnType<typeof setTimeout> | undefined
    const show = () => {
      last = performance.now()
      timer = undefined
      store.set(countedViewAtom, store.get(wholeViewAtom))
    }
    const look = () => {
      const known = store.get(countedViewAtom) !== undefined && store.get(wholeViewAtom) !== undefined
      if (!known) return show()
      timer ??= setTimeout(show, Math.max(COUNT_MS - (performance.now() - last), 0))
    }
    look()
    const deaf = store.sub(wholeViewAtom, look)
    return () => {
      deaf()
      clearTimeout(timer)
    }
  }, [store])
  return null
}

/** The histogram with the handles of the tones. It has a place of its own below everything. */
export const tone: Feature = {
  Works: Counter,
  commands: ({ get, set }) => [
    {
      id: 'rail',
      label: 'Next scale of the tone rail',
      group: 'Expose',
      keys: 'H',
      run: () =>
        set(railScaleAtom, RAIL_SCALES[(RAIL_SCALES.indexOf(get(railScaleAtom)) + 1) % RAIL_SCALES.length]),
    },
  ],
}
