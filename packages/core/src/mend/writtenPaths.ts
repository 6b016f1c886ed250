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
  return { x, y, path: places.map((p) => ({ x: p.x - x, y: p.y - y })) }
}

/** @throws z.ZodError where they are none */
function placesOf(written: readonly unknown[], where: readonly (string | number)[]): Place[] {
  const { data, error } = WrittenSchema.safeParse(written)
  if (!data)
    throw new z.ZodError(error.issues.map((issue) => ({ ...issue, path: [...where, ...issue.path] })))
  return data.map(([x, y]) => ({ x, y }))
}

/**
 * Settings as written by hand: where a patch has the places of its path, `[[x, y], …]` in sensor coordinates, in place
 * of the name of bulk data, its middle need not be said. So may the outline that a fill is to avoid be written.
 * @param written settings before they are checked
 * @param keep is given the bulk data that the settings then speak of
 * @throws z.ZodError where places are none
 */
export function withPathsNamed(written: unknown, keep: (name: string, bytes: Uint8Array) => void): unknown {
  const steps = (written as { steps?: { patches?: { patches?: unknown } } } | null)?.steps
  const patches = steps?.patches?.patches
  if (!Array.isArray(patches)) return written
  const where = ['steps', 'patches', 'patches'] as const
  const named = (places: readonly Place[]) => {
    const bytes = encodePath(places)
    const name = bulkName(bytes)
    keep(name, bytes)
    return name
  }
  const all = patches.map((patch: unknown, i) => {
    const { path, avoid } = (patch ?? {}) as { path?: unknown; avoid?: unknown }
    let out = patch as object
    if (Array.isArray(path)) {
      const around = aroundMiddle(placesOf(path, [...where, i, 'path']))
      out = { ...out, ...around, path: named(around.path) }
    }
    if (Array.isArray(avoid)) out = { ...out, avoid: named(placesOf(avoid, [...where, i, 'avoid'])) }
    return out
  })
  return { ...(written as object), steps: { ...steps, patches: { ...steps!.patches, patches: all } } }
}
