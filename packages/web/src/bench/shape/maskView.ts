import { maskedBy, MaskSchema, type Mask, type MaskLook } from '@dunkelkammer/core'
import { atom, useAtomValue } from 'jotai'
import { useEffect, useRef } from 'react'
import { sentence } from '../../api/client'
import type { Geometry } from '../picture/geometry'
import { Latest } from '../picture/latest'
import { geometryAtom, pictureAtom, squaredAtom, stageAtom, toolProblemAtom } from '../state/atoms'
import { useBench } from '../state/bench'
import { storedAtom } from '../state/stored'
import { areaAtom, areasAtom } from './areas'
import { shapesAtom } from './shapes'

export const LOOKS = [
  { value: 'hatching', label: 'Hatching' },
  { value: 'rest', label: 'Rest grey' },
  { value: 'outline', label: 'Outline' },
  { value: 'grey', label: 'Mask' },
] as const satisfies readonly { value: MaskLook; label: string }[]

/** How masks are shown. */
export const lookAtom = storedAtom<MaskLook>(
  'mask look',
  'hatching',
  LOOKS.map(({ value }) => value),
)
/** Whether the mask of the area in the hand is left on, and whether its key is held. */
export const shownAtom = atom(false)
export const peekAtom = atom(false)
/** The area under the pointer, on the picture or by its row. */
export const hoveredAtom = atom<string | undefined>(undefined)
/** The shape that is seen alone. */
export const aloneAtom = atom<string | undefined>(undefined)

/** The mask that is to be seen, if any. */
const wantedAtom = atom((get): { mask: Mask; look: MaskLook } | undefined => {
  if (get(stageAtom) !== 'shape') return undefined
  const areas = get(areasAtom)
  const hovered = areas.find((a) => a.id === get(hoveredAtom))
  if (hovered) return { mask: maskedBy(hovered, areas).mask, look: 'outline' }
  const area = get(areaAtom)
  if (!area) return undefined
  const alone = get(shapesAtom).find((s) => s.id === get(aloneAtom))
  if (alone) {
    const shape = { ...alone, on: true, way: 'add' as const, strength: 1 }
    return { mask: MaskSchema.parse({ shapes: [shape] }), look: get(lookAtom) }
  }
  // without settings there is nothing else to be seen of it
  const bare = Object.keys(area.steps).length === 0
  return get(shownAtom) || get(peekAtom) || bare
    ? { mask: maskedBy(area, areas).mask, look: get(lookAtom) }
    : undefined
})

/** A mask as it was painted for a geometry. */
export const maskViewAtom = atom<{ rgba: Uint8ClampedArray<ArrayBuffer>; geometry: Geometry } | undefined>(
  undefined,
)

/** Keeps the mask that is seen up to date, newest first. */
export function MaskWorks() {
  const { set } = useBench()
  const picture = useAtomValue(pictureAtom)
  const geometry = useAtomValue(geometryAtom)
  const { development } = useAtomValue(squaredAtom)
  const wanted = useAtomValue(wantedAtom)
  const queue = useRef<Latest<() => Promise<void>>>(undefined)
  useEffect(() => {
    const latest = (queue.current = new Latest<() => Promise<void>>(
      (run) => run(),
      () => false,
    ))
    return () => {
      latest.close()
      set(maskViewAtom, undefined)
    }
  }, [set])
  useEffect(() => {
    queue.current?.push(async () => {
      if (!picture || !geometry || !wanted) return set(maskViewAtom, undefined)
      const { mask, look } = wanted
      try {
        const { width, height, region } = geometry
        const rgba = await picture.ask('maskLayer', development, mask, look, { width, height, region })
        set(maskViewAtom, { rgba, geometry })
      } catch (error) {
        set(maskViewAtom, undefined)
        set(toolProblemAtom, sentence(error))
      }
    })
  }, [set, picture, geometry, development, wanted])
  return null
}
