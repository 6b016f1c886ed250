import { PatchSchema, SPOT, type Patch } from '../steps/patches/schema'
import type { DustSpot } from './dust'

/** How much a patch reaches beyond the dust it covers: dust has soft edges. */
export const DUST_ROOM = 1.7

/** From which confidence on a spot is taken for dust where nothing else speaks for it. */
export const SURE_DUST = 0.5

/** Whether a patch lies over a spot already. */
export const isMended = (patches: readonly Patch[], { x, y }: Pick<DustSpot, 'x' | 'y'>): boolean =>
  patches.some((p) => p.shape === 'spot' && Math.hypot(p.x - x, p.y - y) < p.radius)

/** A patch for dust; beside it, where no source is given. */
export function dustPatch(
  { x, y, radius }: Pick<DustSpot, 'x' | 'y' | 'radius'>,
  id: string,
  source?: readonly [number, number],
): Patch {
  const r = Math.min(Math.max(radius * DUST_ROOM, SPOT.least), SPOT.most)
  return PatchSchema.parse({ id, dust: true, x, y, radius: r, source: source ?? [3 * r, 0] })
}
