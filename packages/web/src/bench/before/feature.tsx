import { useAtom, useAtomValue } from 'jotai'
import { Columns2, SquareSplitHorizontal, View } from 'lucide-react'
import { useBench } from '../state/bench'
import { keep } from '../state/keep'
import type { Feature } from '../state/types'
import { BesideArea } from './BesideArea'
import { BeforeLayer } from './BeforeLayer'
import { BeforeMenu } from './BeforeMenu'
import { besideAtom, dividerAtom, holdingAtom, referenceAtom, toggleDividerAtom } from './choice'
import { Comparer, referencesAtom } from './compared'
import { Divider } from './Divider'
import { referenceName } from './reference'

function BeforeOverlay() {
  const [at, move] = useAtom(dividerAtom)
  return (
    <>
      <BeforeLayer />
      {at !== undefined && <Divider at={at} onMove={move} />}
    </>
  )
}

function BeforeTools() {
  const { set } = useBench()
  const [reference, choose] = useAtom(referenceAtom)
  const references = useAtomValue(referencesAtom)
  const [holding, hold] = useAtom(holdingAtom)
  const divided = useAtomValue(dividerAtom) !== undefined
  const [beside, setBeside] = useAtom(besideAtom)
  const name = referenceName(reference)
  return (
    <div className="flex items-center" role="group" aria-label="Before and after">
      <BeforeMenu value={reference} options={references} onChange={choose} />
      <button
        className="icon-button"
        aria-pressed={holding}
        aria-label="Hold"
        onPointerDown={() => hold(true)}
        onPointerUp={() => hold(false)}
        onPointerLeave={() => hold(false)}
        onKeyDown={(e) => (e.key === ' ' || e.key === 'Enter') && hold(true)}
        onKeyUp={() => hold(false)}
        onBlur={() => hold(false)}
        title={`Hold to see: ${name} (O)`}
      >
        <View className="h-4 w-4" aria-hidden />
      </button>
      <button
        className="icon-button"
        aria-pressed={divided}
        aria-label="Divide"
        onClick={() => set(toggleDividerAtom)}
        title={`A line across the picture, to its left: ${name} (D)`}
      >
        <SquareSplitHorizontal className="h-4 w-4" aria-hidden />
      </button>
      <button
        className="icon-button"
        aria-pressed={beside}
        aria-label="Beside"
        onClick={() => setBeside(!beside)}
        title={`Beside it: ${name} (J)`}
      >
        <Columns2 className="h-4 w-4" aria-hidden />
      </button>
    </div>
  )
}

/** The development against the untouched frame, the camera's picture, another version or an earlier state. */
export const before: Feature = {
  Works: Comparer,
  Overlay: BeforeOverlay,
  Beside: BesideArea,
  Foot: BeforeTools,
  keeps: [keep(dividerAtom), keep(besideAtom)],
  commands: ({ get, set }) => [
    {
      id: 'before',
      label: 'See what it is compared with while held',
      group: 'View',
      keys: 'O',
      run: () => set(holdingAtom, true),
      release: () => set(holdingAtom, false),
    },
    {
      id: 'divide',
      label: 'Divide the picture from what it is compared with',
      group: 'View',
      keys: 'D',
      run: () => set(toggleDividerAtom),
    },
    {
      id: 'beside',
      label: 'Show what it is compared with beside',
      group: 'View',
      keys: 'J',
      run: () => set(besideAtom, !get(besideAtom)),
    },
  ],
}
