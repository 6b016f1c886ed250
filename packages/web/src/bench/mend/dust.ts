import { dustPatch, isMended, SURE_DUST, type DustSpot } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { developmentAtom, pictureAtom } from '../state/atoms'
import { sayProblem } from '../picture/touch'
import type { Bench } from '../state/types'
import { addPatches, chosenIdAtom, patchesAtom, suggestionsFor } from './patches'

/** What was found, the surest first; undefined where nobody has looked. */
const foundAtom = atom<readonly DustSpot[] | undefined>(undefined)
/** Finds that were put aside. */
const asideAtom = atom<ReadonlySet<DustSpot>>(new Set<DustSpot>())
export const lookingAtom = atom(false)
/** From 0, what is quite sure, to 1, everything. */
export const sensitivityAtom = atom(1 - SURE_DUST)

/** What is proposed as things stand. */
export const proposedAtom = atom((get) => {
  const [found, aside, patches] = [get(foundAtom), get(asideAtom), get(patchesAtom)]
  const least = 1 - get(sensitivityAtom)
  return found?.filter((d) => d.confidence >= least && !aside.has(d) && !isMended(patches, d))
})

/** Looks for dust in the picture on the bench. */
export async function findDust(bench: Bench): Promise<void> {
  const { get, set } = bench
  const picture = get(pictureAtom)
  if (!picture || get(lookingAtom)) return
  set(lookingAtom, true)
  try {
    set(foundAtom, await picture.ask('dust', get(developmentAtom)))
    set(asideAtom, new Set<DustSpot>())
  } catch (error) {
    sayProblem(bench)(error)
  } finally {
    set(lookingAtom, false)
  }
}

/** Puts a proposal aside; no patch is made of it. */
export const putAside = ({ set }: Bench, spot: DustSpot) => set(asideAtom, (all) => new Set(all).add(spot))

/** Forgets what was found. */
export const dropDust = ({ set }: Bench) => set(foundAtom, undefined)

/** Makes patches of proposals, as one step. */
export async function mendDust(bench: Bench, spots: readonly DustSpot[]): Promise<void> {
  const { get, set } = bench
  if (spots.length === 0 || get(lookingAtom)) return
  set(lookingAtom, true)
  try {
    const patches = await Promise.all(
      spots.map(async (spot) => {
        const patch = dustPatch(spot, crypto.randomUUID().slice(0, 13))
        const [best] = await suggestionsFor(bench, patch)
        return best ? { ...patch, source: [...best] as [number, number] } : patch
      }),
    )
    addPatches(bench, patches, patches.length === 1 ? 'Dust mended' : `Dust mended, ${patches.length} places`)
    set(chosenIdAtom, undefined)
  } catch (error) {
    sayProblem(bench)(error)
  } finally {
    set(lookingAtom, false)
  }
}
