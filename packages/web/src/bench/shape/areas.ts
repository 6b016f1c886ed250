import {
  AreaSchema,
  forOthers,
  maskedBy,
  MOST_AREAS,
  stepById,
  withoutSteps,
  type Area,
  type AreaStepId,
  type Development,
  type Mask,
} from '@dunkelkammer/core'
import { arrayMove } from '@dnd-kit/sortable'
import { atom } from 'jotai'
import { copiedAreaAtom } from '../../desk/copied'
import { developmentAtom, frameAtom, trialAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { withStep } from '../steps/withStep'

export const areasAtom = atom((get) => get(developmentAtom).steps.areas.areas)
/** The area that the drawer is about. */
export const areaIdAtom = atom<string | undefined>(undefined)
export const areaAtom = atom((get) => get(areasAtom).find((a) => a.id === get(areaIdAtom)))

/** The area whose mask the one in the hand uses: itself, where it is linked to no other. */
export const maskAreaAtom = atom((get) => {
  const area = get(areaAtom)
  return area && maskedBy(area, get(areasAtom))
})

export const newId = () => crypto.randomUUID().slice(0, 13)

/** What an area is called: its name, or its number where it has none. */
export const nameOf = (all: readonly Area[], area: Area): string =>
  area.name || `Area ${all.indexOf(area) + 1}`

/** A development with other areas. */
export const withAreas = (d: Development, change: (all: readonly Area[]) => Area[]): Development =>
  withStep(d, 'areas', { areas: change(d.steps.areas.areas) })

/** A development with one of its areas changed. */
export const withArea = (d: Development, id: string, change: (area: Area) => Area): Development =>
  withAreas(d, (all) => all.map((a) => (a.id === id ? change(a) : a)))

/** Changes one area. */
export const changeArea = (
  { adjust }: Pick<Bench, 'adjust'>,
  id: string,
  change: Partial<Area> | ((area: Area) => Partial<Area>),
  label: string,
  gesture?: string,
): void =>
  adjust(
    (d) => withArea(d, id, (a) => ({ ...a, ...(typeof change === 'function' ? change(a) : change) })),
    label,
    gesture && `${gesture} ${id}`,
  )

export const changeMask = (
  bench: Pick<Bench, 'adjust'>,
  id: string,
  change: (mask: Mask) => Partial<Mask>,
  label: string,
  gesture?: string,
): void => changeArea(bench, id, ({ mask }) => ({ mask: { ...mask, ...change(mask) } }), label, gesture)

/** Adds an area at the end, and takes it into the hand. @returns its id; undefined where there are as many as there may be */
export function addArea(
  { adjust, get, set, say }: Bench,
  part: Partial<Area>,
  label: string,
  gesture?: string,
): string | undefined {
  if (get(areasAtom).length >= MOST_AREAS) {
    say(`There can be no more than ${MOST_AREAS} areas.`)
    return undefined
  }
  const area = { ...AreaSchema.parse({ id: newId() }), ...part }
  adjust((d) => withAreas(d, (all) => [...all, area]), label, gesture)
  set(areaIdAtom, area.id)
  return area.id
}

/** The area that a new shape belongs to: the one in the hand, or a new one of that name. @param gesture that adds the shape */
export const areaForShape = (bench: Bench, label: string, gesture: string, name = ''): string | undefined =>
  bench.get(maskAreaAtom)?.id ?? addArea(bench, { name }, label, gesture)

export function removeArea({ adjust, get, set }: Bench, id: string): void {
  const all = get(areasAtom)
  const at = all.findIndex((a) => a.id === id)
  if (at < 0) return
  set(areaIdAtom, (all[at + 1] ?? all[at - 1])?.id)
  // those that use its mask keep that
  const { mask } = maskedBy(all[at], all)
  const freed = (a: Area) => (a.maskOf === id ? { ...a, mask, maskOf: undefined } : a)
  adjust((d) => withAreas(d, (areas) => areas.filter((a) => a.id !== id).map(freed)), 'Area deleted')
}

/** Puts an area to another place in the order. @param to its index there */
export function placeArea({ adjust, get }: Bench, id: string, to: number): void {
  const from = get(areasAtom).findIndex((a) => a.id === id)
  if (from < 0 || to === from || to < 0 || to >= get(areasAtom).length) return
  adjust((d) => withAreas(d, (all) => arrayMove([...all], from, to)), 'Areas reordered')
}

/** What of an area a copy is made of. */
export type Copied = 'all' | 'mask' | 'linked' | 'inverse'
const COPY: Record<Copied, string> = { all: 'copy', mask: 'copy', linked: 'linked', inverse: 'inverted' }

/** Adds a copy right after an area, and takes it into the hand. */
export function copyArea(bench: Bench, id: string, what: Copied): void {
  const all = bench.get(areasAtom)
  const area = all.find((a) => a.id === id)
  if (!area || all.length >= MOST_AREAS) return
  const owner = maskedBy(area, all)
  const { mask } = owner
  const copy: Area = {
    ...area,
    id: newId(),
    name: `${nameOf(all, area)}, ${COPY[what]}`.slice(0, 80),
    mask: what === 'inverse' ? { ...mask, invert: !mask.invert } : mask,
    maskOf: what === 'linked' ? owner.id : undefined,
    steps: what === 'all' ? area.steps : {},
  }
  bench.adjust(
    (d) => withAreas(d, (areas) => areas.flatMap((a) => (a.id === id ? [a, copy] : [a]))),
    what === 'all' ? 'Area duplicated' : 'Mask duplicated',
  )
  bench.set(areaIdAtom, copy.id)
}

/** Copies an area with a mask of its own, to be pasted on this frame or others. */
export function copyForFrames({ get, set }: Bench, area: Area): void {
  const all = get(areasAtom)
  const { mask } = maskedBy(area, all)
  const copy = { ...area, name: nameOf(all, area), mask, maskOf: undefined }
  set(copiedAreaAtom, { area: copy, frameId: get(frameAtom).id })
}

export function pasteArea(bench: Bench): void {
  const copied = bench.get(copiedAreaAtom)
  if (!copied) return
  const same = copied.frameId === bench.get(frameAtom).id
  const area = same ? copied.area : forOthers(copied.area)
  addArea(bench, { ...area, id: newId() }, 'Area pasted')
}

/** Gives an area a mask of its own, the one that it has used so far. */
export const unlinkMask = (bench: Bench, id: string): void => {
  const all = bench.get(areasAtom)
  const { mask } = maskedBy(
    all.find((a) => a.id === id)!,
    all,
  )
  changeArea(bench, id, { mask, maskOf: undefined }, 'Mask no longer linked')
}

/** Moves a step of the whole picture into an area, which is to let it in where it is wanted. */
export const moveIntoArea = ({ adjust }: Bench, id: string, step: SharedStepId): void =>
  adjust(
    (d) =>
      withArea(withoutSteps(d, [step]), id, (a) => ({
        ...a,
        steps: { ...a.steps, [step]: d.steps[step] },
      })),
    `${stepName(step)} moved into an area`,
  )

/** Takes an area into the hand, or the next one to it. */
export function walkAreas({ get, set }: Bench, by: 1 | -1): void {
  const all = get(areasAtom)
  if (all.length === 0) return
  const at = all.findIndex((a) => a.id === get(areaIdAtom))
  set(areaIdAtom, all[at < 0 ? (by > 0 ? 0 : all.length - 1) : (at + by + all.length) % all.length].id)
}

/** Shows the picture without one area, or again with it. */
export function seeWithout({ get, set }: Bench, id: string | undefined): void {
  set(
    trialAtom,
    id === undefined ? undefined : withArea(get(developmentAtom), id, (a) => ({ ...a, on: false })),
  )
}

/** Steps that an area may have, in the order in which they are offered. */
export const AREA_STEPS: readonly AreaStepId[] = [
  ...(['exposure', 'recovery', 'tones', 'curve', 'light', 'colourfulness', 'hueNodes', 'tints'] as const),
  ...(['dodge', 'relief', 'haze', 'noise', 'sharpen', 'unsharp'] as const),
]

/** Steps that the whole picture has as well. */
export type SharedStepId = Exclude<AreaStepId, 'light' | 'dodge'>
export const isShared = (id: AreaStepId): id is SharedStepId => id !== 'light' && id !== 'dodge'

export const stepName = (id: AreaStepId): string => stepById.get(id)!.name!
