import { applyChanges, changesBetween } from '@dunkelkammer/core'
import { automatic, Superseded, type Automatic } from '@dunkelkammer/engine/browser'
import { atom } from 'jotai'
import { sentence } from '../../api/client'
import { deskAtom, developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench } from '../state/types'

const LABELS: Record<Automatic, string> = {
  exposure: 'Automatic exposure',
  points: 'Automatic points',
  tones: 'Automatic tones',
  white: 'Automatic white balance',
}

/** Whether the picture is being looked at. */
export const lookingAtom = atom(false)

/** Sets ordinary controls from the picture's statistics, as one step of the history. @param strength 0 to 1.5 */
export async function setFromPicture(
  bench: Bench,
  which: readonly Automatic[],
  strength: number,
): Promise<void> {
  const { get, set } = bench
  const picture = get(pictureAtom)
  if (!picture) return
  const desk = get(deskAtom)
  set(lookingAtom, true)
  try {
    const asked = get(developmentAtom)
    const changes = changesBetween(asked, await automatic(picture, asked, which, strength))
    bench.say(undefined)
    const label = which.length === 1 ? LABELS[which[0]] : 'Automatic, all'
    // what was set by hand meanwhile stays
    desk.adjust((d) => applyChanges(d, changes), label, undefined, { found: which })
  } catch (error) {
    if (!(error instanceof Superseded)) bench.say(sentence(error))
  } finally {
    set(lookingAtom, false)
  }
}
