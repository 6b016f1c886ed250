import type { Patch } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { dropBulkSoon, keepBulk } from '../../desk/bulk'
import { sayProblem } from '../picture/touch'
import { developmentAtom, firstLooksAtom, pictureAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { changePatch, chosenAtom, duplicatePatch, patchesAtom } from './patches'

/** Fills that are being found, by their patches: the share that is done. */
export const fillingAtom = atom<ReadonlyMap<string, number>>(new Map())

/** What was asked for last for each patch; an older answer counts no more. */
const asked = new Map<string, object>()

/** What a fill is made for. */
const placeOf = ({ shape, x, y, radius, path, avoid }: Patch) =>
  JSON.stringify([shape, x, y, radius, path, avoid])

const patchOf = ({ get }: Bench, id: string) => get(patchesAtom).find((p) => p.id === id)

/**
 * Finds what a patch is filled with, and puts it there when it is found.
 * @param label of the entry
 * @param gesture joins it to what was done before
 */
export async function fillPatch(bench: Bench, id: string, label: string, gesture?: string): Promise<void> {
  const { get, set } = bench
  const patch = patchOf(bench, id)
  const picture = get(pictureAtom)
  if (!patch || !picture) return
  const mine = {}
  asked.set(id, mine)
  const tell = (share: number | undefined) => {
    if (asked.get(id) !== mine) return
    if (share !== undefined) bench.holdGesture(joined)
    set(fillingAtom, (all) => {
      const next = new Map(all)
      if (share === undefined) next.delete(id)
      else next.set(id, share)
      return next
    })
  }
  /** Whether what was asked for is still what the patch is. */
  const fits = () => {
    const now = patchOf(bench, id)
    return asked.get(id) === mine && now !== undefined && placeOf(now) === placeOf(patch)
  }
  const joined = gesture ?? `fill ${id}`
  /** Shows it filled for the time being; that is no setting. */
  const look = (filled: string | undefined) =>
    set(firstLooksAtom, (all) => {
      const before = all.get(id)
      if (before === filled) return all
      if (before) dropBulkSoon(before)
      const next = new Map(all)
      if (filled) next.set(id, filled)
      else next.delete(id)
      return next
    })
  look(undefined)
  tell(0)
  try {
    const development = get(developmentAtom)
    // a large fill takes a while: a first look is there before
    const first = await picture.ask('fill', development, patch, undefined, true)
    if (!fits()) return
    if (first) look(keepBulk(first as Uint8Array<ArrayBuffer>))
    const found = await picture.ask('fill', development, patch, tell)
    if (!fits()) return
    if (!found) return bench.say('There is nothing around from which this patch could be filled.')
    const filled = keepBulk(found as Uint8Array<ArrayBuffer>)
    changePatch(bench, id, { filled }, label, joined)
    bench.endGesture()
  } catch (error) {
    if (asked.get(id) === mine) sayProblem(bench)(error as Error)
  } finally {
    tell(undefined)
    if (asked.get(id) === mine) {
      look(undefined)
      asked.delete(id)
    }
  }
}

/** Adds a copy of a patch, and fills it where it is to be filled. */
export function duplicate(bench: Bench, id: string): void {
  const gesture = `copy ${id}`
  duplicatePatch(bench, id, gesture)
  const copy = bench.get(chosenAtom)
  if (copy?.kind === 'fill') void fillPatch(bench, copy.id, 'Patch duplicated', gesture)
  else bench.endGesture()
}

/** After so long without another change a fill is found for a patch that was moved or made larger. */
const QUIET_MS = 350
const waiting = new Map<string, ReturnType<typeof setTimeout>>()

/** Has a patch filled again when it is no longer being moved. */
export function refillSoon(bench: Bench, id: string, label: string, gesture: string): void {
  clearTimeout(waiting.get(id))
  if (patchOf(bench, id)?.kind !== 'fill') return
  waiting.set(
    id,
    setTimeout(() => {
      waiting.delete(id)
      void fillPatch(bench, id, label, gesture)
    }, QUIET_MS),
  )
}
