import type { Development } from '@dunkelkammer/core'
import { useAtomValue } from 'jotai'
import { useEffect, useRef } from 'react'
import type { Picture } from '@dunkelkammer/engine/browser'
import { Latest } from '../picture/latest'
import { pictureAtom, squaredAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { areaWantedAtom, pointerAtom } from '../state/looking'
import type { Place } from '../state/types'
import { areaIdAtom } from './areas'
import { hoveredAtom } from './maskView'

interface Asked {
  picture: Picture
  development: Development
  at: Place
}

/** Keeps known which area lies under the pointer on the picture, where no tool is in the hand. */
export function UnderPointer() {
  const { get, set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const { development } = useAtomValue(squaredAtom)
  const at = useAtomValue(pointerAtom)
  const wanted = useAtomValue(areaWantedAtom)
  const queue = useRef<Latest<Asked>>(undefined)
  useEffect(() => {
    const latest = (queue.current = new Latest<Asked>(
      async ({ picture: p, development: d, at: { x, y } }) => {
        const index = await p.ask('areaAt', d, x, y)
        // meanwhile the pointer may have left
        if (!get(pointerAtom) || !get(areaWantedAtom)) return
        const id = index === undefined ? undefined : d.steps.areas.areas[index].id
        set(hoveredAtom, id === get(areaIdAtom) ? undefined : id)
      },
      () => false,
    ))
    return () => latest.close()
  }, [get, set])
  useEffect(() => {
    if (picture && at && wanted) queue.current?.push({ picture, development, at })
  }, [picture, development, at, wanted])
  // what has left leaves nothing behind
  const over = at !== undefined && wanted
  useEffect(() => () => void (over && set(hoveredAtom, undefined)), [set, over])
  return null
}
