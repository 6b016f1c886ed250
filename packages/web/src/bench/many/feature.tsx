import { useAtom, useAtomValue, useSetAtom } from 'jotai'
import { useEffect } from 'react'
import { Choice } from '../../controls/Choice'
import { deskAtom, frameAtom } from '../state/atoms'
import type { Feature } from '../state/types'
import { givenAtom, manyAtom, othersAtom } from './many'
import { Sharer } from './sharing'

const HOW = [
  { value: 'value', label: 'Same value' },
  { value: 'difference', label: 'Same difference' },
] as const

/** Gives what is done here to the other frames that are worked on. */
function Sharing() {
  const desk = useAtomValue(deskAtom)
  const how = useAtomValue(manyAtom)?.how
  const others = useAtomValue(othersAtom).join()
  const { id: from } = useAtomValue(frameAtom)
  const tell = useSetAtom(givenAtom)
  useEffect(() => {
    tell(undefined)
    if (how === undefined) return
    const sharer = new Sharer(desk, { ids: others.split(','), from, how }, (said, problem) =>
      tell({ said, problem }),
    )
    return () => sharer.close()
  }, [desk, from, how, others, tell])
  return null
}

/** Says that changes go to other frames too, and how. */
export function ManyLine() {
  const [many, setMany] = useAtom(manyAtom)
  const others = useAtomValue(othersAtom)
  const given = useAtomValue(givenAtom)
  if (!many) return null
  return (
    <div
      role="region"
      aria-label="Frames worked on together"
      className="flex items-center gap-3 border-b border-safe bg-raised px-3 py-1.5 text-[12px]"
    >
      <span className="shrink-0 text-bright">
        Changes go to {others.length === 1 ? '1 other frame' : `${others.length} other frames`}
      </span>
      <Choice
        label="How changes go to the others"
        value={many.how}
        options={HOW}
        onChange={(how) => setMany({ ...many, how })}
      />
      <span
        role="status"
        className={`min-w-0 flex-1 truncate ${given?.problem ? 'text-safe' : 'text-quiet'}`}
        title={given?.said}
      >
        {given?.said}
      </span>
      <button className="button !py-0.5" onClick={() => setMany(undefined)}>
        This frame only
      </button>
    </div>
  )
}

/** Work on several frames at once. */
export const many: Feature = {
  Works: Sharing,
  commands: ({ get, set }) => [
    {
      id: 'many-off',
      label: 'Change this frame only',
      group: 'Work',
      disabled: !get(manyAtom),
      run: () => set(manyAtom, undefined),
    },
  ],
}
