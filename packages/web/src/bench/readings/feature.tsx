import { useAtom, useAtomValue } from 'jotai'
import { Numbered } from '../picture/Numbered'
import { pinsAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { readingAtom } from './kinds'
import { Reader } from './Reader'
import { ReadingsPanel } from './ReadingsPanel'

function ReadingsOverlay() {
  return (
    <>
      <div className="pointer-events-none absolute inset-0 overflow-hidden">
        <Numbered places={useAtomValue(pinsAtom)} round />
      </div>
      <ReadingsPanel />
    </>
  )
}

function ReadingsButton() {
  const [on, setOn] = useAtom(readingAtom)
  return (
    <button
      className="button !px-2 !py-0.5"
      aria-pressed={on}
      onClick={() => setOn(!on)}
      title="Numbers under the pointer, and pinned ones"
    >
      Readings
    </button>
  )
}

/** Numbers of places in the picture. */
export const readings: Feature = {
  Works: Reader,
  Overlay: ReadingsOverlay,
  Foot: ReadingsButton,
  commands: ({ get, set }) => [
    {
      id: 'readings',
      label: 'Show readings',
      group: 'View',
      keys: 'R',
      run: () => set(readingAtom, !get(readingAtom)),
    },
  ],
}
