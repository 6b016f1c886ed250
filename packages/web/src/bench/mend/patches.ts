import { PatchSchema, SPOT, type Development, type Patch } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench, Place } from '../state/types'
import { sayProblem } from '../picture/touch'
import { withStep } from '../steps/withStep'
import { showPlace } from './showPlace'

export const patchesAtom = atom((get) => get(developmentAtom).steps.patches.patches)
/** The patch that the drawer is about, and its markers. */
export const chosenIdAtom = atom<string | undefined>(undefined)
export const chosenAtom = atom((get) => get(patchesAtom).find((p) => p.id === get(chosenIdAtom)))
/** Whether patches are marked on the picture. */
export const markedAtom = atom(true)

type Manner = Pick<Patch, 'kind' | 'radius' | 'softness' | 'opacity'>
/** How the next patch is made. */
export const mannerAtom = atom<Manner>({ kind: 'heal', radius: SPOT.start, softness: 0.3, opacity: 1 })

export const holdRadius = (radius: number) => Math.min(Math.max(radius, SPOT.least), SPOT.most)

const withPatches = (d: Development, change: (all: readonly Patch[]) => Patch[]): Development =>
  withStep(d, 'patches', { patches: change(d.steps.patches.patches) })

export const addPatch = ({ adjust, set }: Bench, patch: Patch, label: string, gesture?: string) => {
  adjust((d) => withPatches(d, (all) => [...all, patch]), label, gesture)
  set(chosenIdAtom, patch.id)
}

export const addPatches = ({ adjust }: Bench, patches: readonly Patch[], label: string) =>
  adjust((d) => withPatches(d, (all) => [...all, ...patches]), label)

export const changePatch = (
  { adjust }: Pick<Bench, 'adjust'>,
  id: string,
  part: Partial<Patch>,
  label: string,
  gesture?: string,
) =>
  adjust(
    (d) => withPatches(d, (all) => all.map((p) => (p.id === id ? { ...p, ...part } : p))),
    label,
    gesture,
  )

export function removePatch({ adjust, get, set }: Bench, id: string): void {
  const all = get(patchesAtom)
  const at = all.findIndex((p) => p.id === id)
  if (at < 0) return
  set(chosenIdAtom, (all[at + 1] ?? all[at - 1])?.id)
  adjust((d) => withPatches(d, (patches) => patches.filter((p) => p.id !== id)), 'Patch deleted')
}

/** Adds a copy of a patch beside it, and takes it into the hand; a fill is to be found for it. */
export function duplicatePatch({ adjust, get, set }: Bench, id: string, gesture?: string): void {
  const patch = get(patchesAtom).find((p) => p.id === id)
  if (!patch) return
  const x = patch.x + patch.radius * 2.5
  const copy = { ...patch, id: crypto.randomUUID().slice(0, 13), x, filled: undefined }
  adjust(
    (d) => withPatches(d, (all) => all.flatMap((p) => (p.id === id ? [p, copy] : [p]))),
    'Patch duplicated',
    gesture,
  )
  set(chosenIdAtom, copy.id)
}

/** Where a patch may go in the order in which patches are carried out. */
export const canShift = (all: readonly Patch[], id: string, by: 1 | -1): boolean => {
  const to = all.findIndex((p) => p.id === id) + by
  return to >= 0 && to < all.length
}

/** Has a patch carried out one place earlier or later. */
export function shiftPatch({ adjust, get }: Bench, id: string, by: 1 | -1): void {
  if (!canShift(get(patchesAtom), id, by)) return
  adjust(
    (d) =>
      withPatches(d, (all) => {
        const at = all.findIndex((p) => p.id === id)
        const rest = all.filter((p) => p.id !== id)
        return [...rest.slice(0, at + by), all[at], ...rest.slice(at + by)]
      }),
    by < 0 ? 'Patch earlier' : 'Patch later',
  )
}

/** A patch at a place of the sensor, without a source yet. */
export function newPatch({ get }: Bench, { x, y }: Place): Patch {
  const manner = get(mannerAtom)
  return PatchSchema.parse({ id: crypto.randomUUID().slice(0, 13), x, y, ...manner, source: [0, 0] })
}

/** A source beside a patch, where nothing better is to be had. */
export const besides = ({ radius }: Patch): [number, number] => [radius * 3, 0]

/** Suggestions for a patch's source, best first, kept as long as it lies where it does. */
const suggested = new Map<string, { for: string; sources: readonly (readonly [number, number])[] }>()

/** Where the source of a patch could be, best first; none where nothing fits. */
export async function suggestionsFor(
  { get }: Bench,
  patch: Patch,
): Promise<readonly (readonly [number, number])[]> {
  const place = JSON.stringify([patch.shape, patch.x, patch.y, patch.radius, patch.path])
  const known = suggested.get(patch.id)
  if (known?.for === place) return known.sources
  const found = await get(pictureAtom)!.ask('sources', get(developmentAtom), patch)
  const sources = found.map((f) => f.source)
  suggested.set(patch.id, { for: place, sources })
  return sources
}

/** Gives the chosen patch the next of the sources that are suggested for it. */
export function nextSource(bench: Bench): void {
  const patch = bench.get(chosenAtom)
  if (!patch) return
  void suggestionsFor(bench, patch).then((all) => {
    if (all.length === 0)
      return bench.say('No other place fits this patch. Drag its source to a place by hand.')
    const at = all.findIndex(([x, y]) => x === patch.source[0] && y === patch.source[1])
    const source = all[(at + 1) % all.length] as [number, number]
    changePatch(bench, patch.id, { source }, 'Source of a patch')
    bench.endGesture()
  }, sayProblem(bench))
}

/** Walks to another patch, and shows it at 100 %. */
export function walkPatches(bench: Bench, by: 1 | -1): void {
  const { get, set } = bench
  const all = get(patchesAtom)
  if (all.length === 0) return
  const at = all.findIndex((p) => p.id === get(chosenIdAtom))
  const next = all[(at + by + all.length) % all.length]
  set(chosenIdAtom, next.id)
  showPlace(bench, next)
}
