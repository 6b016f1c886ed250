import { z } from 'zod'
import { bulkName } from '../bulk'
import { encodePath, MOST_PLACES } from './pathData'
import { boundsOf, type Place } from './place'

const WrittenSchema = z
  .array(z.tuple([z.number().min(-2).max(3), z.number().min(-2).max(3)]))
  .min(1)
  .max(MOST_PLACES)

/** Digits of a place that are told, long edges: a hundredth of a pixel. */
const exact = (v: number) => Math.round(v * 1e6) / 1e6

/** The middle of the box around places, and the places from there. */
export function aroundMiddle(places: readonly Place[]): Place & { path: Place[] } {
  const box = boundsOf(places)
  const [x, y] = [exact(box.x + box.width / 2), exact(box.y + box.height / 2)]
  return { x, y, path: places.map((p) => ({ ...p, x: p.x - x, y: p.y - y })) }
}

/** @throws z.ZodError where they are none */
function placesOf(written: readonly unknown[], where: readonly (string | number)[]): Place[] {
  const { data, error } = WrittenSchema.safeParse(written)
  if (!data)
    throw new z.ZodError(error.issues.map((issue) => ({ ...issue, path: [...where, ...issue.path] })))
  return data.map(([x, y]) => ({ x, y }))
}

/** Something with a path, its places named where they are written. */
type Named = (thing: unknown, where: readonly (string | number)[]) => object

/** The items of a list in settings, each by a function; as they are where there is no list. */
const eachOf = (list: unknown, where: readonly (string | number)[], by: Named): unknown =>
  Array.isArray(list) ? list.map((item: unknown, i) => by(item, [...where, i])) : list

type Parts = Readonly<Record<string, unknown>>
const partsOf = (v: unknown): Parts => (typeof v === 'object' && v !== null ? (v as Parts) : {})

/**
 * Settings as written by hand: where a patch or a shape has the places of its path, `[[x, y], …]` in sensor
 * coordinates, in place of the name of bulk data, its middle need not be said. So may the outline that a fill is to
 * avoid be written.
 * @param written settings before they are checked
 * @param keep is given the bulk data that the settings then speak of
 * @throws z.ZodError where places are none
 */
export function withPathsNamed(written: unknown, keep: (name: string, bytes: Uint8Array) => void): unknown {
  const steps = partsOf(partsOf(written).steps)
  const named = (places: readonly Place[]) => {
    const bytes = encodePath(places)
    const name = bulkName(bytes)
    keep(name, bytes)
    return name
  }
  const pathed: Named = (thing, where) => {
    const { path } = partsOf(thing)
    if (!Array.isArray(path)) return thing as object
    const around = aroundMiddle(placesOf(path, [...where, 'path']))
    return { ...partsOf(thing), ...around, path: named(around.path) }
  }
  const patch: Named = (thing, where) => {
    const { avoid } = partsOf(thing)
    const out = pathed(thing, where)
    return Array.isArray(avoid) ? { ...out, avoid: named(placesOf(avoid, [...where, 'avoid'])) } : out
  }
  const area: Named = (thing, where) => {
    const mask = partsOf(partsOf(thing).mask)
    const shapes = eachOf(mask.shapes, [...where, 'mask', 'shapes'], pathed)
    return mask.shapes ? { ...partsOf(thing), mask: { ...mask, shapes } } : (thing as object)
  }
  let out = written
  for (const [id, by] of [
    ['patches', patch],
    ['areas', area],
  ] as const) {
    const own = partsOf(steps[id])
    if (!Array.isArray(own[id])) continue
    const now = partsOf(partsOf(out).steps)
    const list = eachOf(own[id], ['steps', id, id], by)
    out = { ...partsOf(out), steps: { ...now, [id]: { ...own, [id]: list } } }
  }
  return out
}
