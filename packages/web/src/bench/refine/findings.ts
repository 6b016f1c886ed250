import type { FoundSoftness } from '@dunkelkammer/core'
import { Superseded } from '@dunkelkammer/engine/browser'
import { atom } from 'jotai'
import { sentence } from '../../api/client'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { withStep } from '../steps/withStep'

const noiseSourceAtom = atom((get) => get(developmentAtom).steps.noise.source)
/** What is known of the picture's noise, from the source that is chosen. */
export const noiseAtom = atom((get) => {
  get(noiseSourceAtom)
  return get(pictureAtom)?.ask('noise', get(developmentAtom))
})

export const measuringAtom = atom(false)
export const readyAtom = atom((get) => get(pictureAtom) !== undefined && !get(measuringAtom))
/** What the picture has said of its own softness. */
export const softnessAtom = atom<string | undefined>(undefined)

const WORDS = { lens: 'A lens’s softness', focus: 'A missed focus', motion: 'A movement' } as const

/** A finding in a sentence. */
function softnessWords({ softness, radius, angle, edges }: FoundSoftness): string {
  const where = softness === 'motion' ? `, ${Math.round(angle)}° from level` : ''
  return `${WORDS[softness]} of ${radius.toFixed(2)} px${where}, by ${edges} edges.`
}

/** Sets kind and radius of the softness from the edges of the picture. */
export async function measureSoftness({ get, set, adjust }: Bench): Promise<void> {
  const picture = get(pictureAtom)
  if (!picture) return
  set(measuringAtom, true)
  try {
    const found = await picture.ask('softness', get(developmentAtom))
    if (!found) {
      set(softnessAtom, 'Too few clear straight edges to say. Set it by eye at 100 %.')
      return
    }
    set(softnessAtom, softnessWords(found))
    const { softness, radius, angle } = found
    adjust(
      (d) => withStep(d, 'sharpen', { softness, radius, angle, amount: d.steps.sharpen.amount || 1 }),
      'Softness measured',
    )
  } catch (error) {
    if (!(error instanceof Superseded)) set(softnessAtom, sentence(error))
  } finally {
    set(measuringAtom, false)
  }
}
