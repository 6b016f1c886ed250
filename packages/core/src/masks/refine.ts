import { matteBorder } from './find/matte'
import { borderAtEdges } from './follow'
import { fitToGuide } from './guided'
import { lightRatio } from './ownLight'
import { blurred, grown, withoutSpecks, type Plane } from './planes'
import type { Guide } from './range'
import type { MaskRefinement } from './schema'

/** Whether a mask is refined as a whole. */
export const isRefined = (refined: MaskRefinement): boolean =>
  Object.values(refined).some((value) => value !== 0)

/** Whether that reads the picture. */
export const refinesByPicture = ({ edges, matte, ownLight }: MaskRefinement): boolean =>
  edges > 0 || matte > 0 || ownLight > 0

/** Planes of a map whose mask is fitted to the picture; more hold what else is known of each place. */
export const FITTED_PLANES = 5
/** How many planes a refined mask has. */
export const refinedPlanes = ({ edges, matte, softness, ownLight }: MaskRefinement): number =>
  ((edges > 0 || matte > 0) && softness === 0 ? FITTED_PLANES : 1) + (ownLight > 0 ? 1 : 0)

/** Half the squares in which a mask is fitted to the picture, long edges, and how far it is. */
const FIT = { reach: 0.004, share: 0.8 } as const
/** Contrast of a border that is told apart for a matte. */
const BORDER = 0.05
/** Least of a radius that does anything, pixels. */
const LEAST = 0.02

/**
 * Refines a mask in the order of its settings.
 * @param long pixels of a long edge of the picture
 * @param guide the picture, where edges are followed
 * @returns the mask; where its border is to be as fine as the picture, also what `fitToGuide` gives; where it is to hold
 * its own light, also what `lightRatio` gives
 */
export function refineMask(
  mask: Plane,
  { specks, gaps, grow, edges, matte, softness, ownLight }: MaskRefinement,
  long: number,
  guide?: Guide,
): Float32Array[] {
  let { values } = mask
  const plane = (): Plane => ({ ...mask, values })
  const turned = () => values.map((v) => 1 - v)
  if (specks > 0) values = withoutSpecks(plane(), (specks * long) / 2)
  if (gaps > 0) {
    values = turned()
    values = withoutSpecks(plane(), (gaps * long) / 2)
    values = turned()
  }
  if (Math.abs(grow * long) > LEAST) values = grown(plane(), grow * long)
  const soft = softness * long > LEAST
  if (guide && edges > 0) values = borderAtEdges(plane(), guide, Math.max(edges * long, 1))
  if (guide && matte > 0)
    values = matteBorder({ ...guide, ...mask }, values, Math.max(Math.round(matte * long), 1), BORDER)
  let toGuide = guide && (edges > 0 || matte > 0) ? fitted(plane(), guide, long) : undefined
  if (soft) {
    // what is made soft has no edges finer than that
    if (toGuide) values = mixed(values, toGuide, guide!)
    values = blurred(plane(), (softness * long) / 2)
    toGuide = undefined
  }
  return [values, ...(toGuide ?? []), ...(guide && ownLight > 0 ? [lightRatio(plane(), guide)] : [])]
}

/** A mask fitted to a picture, as finely as that goes: its factors, as `mixed` takes them. */
export const fitted = (mask: Plane, guide: Guide, long: number): Float32Array[] =>
  fitToGuide(mask, guide, Math.max(Math.round(FIT.reach * long), 2))

/** A mask with most of what follows the edges of a guide. */
export function mixed(
  mask: Float32Array,
  [fL, fa, fb, add]: readonly Float32Array[],
  { L, a, b }: Guide,
): Float32Array {
  return mask.map((m, i) => {
    const follows = fL[i] * L[i] + fa[i] * a[i] + fb[i] * b[i] + add[i]
    return m + FIT.share * (Math.min(Math.max(follows, 0), 1) - m)
  })
}

/** Steepest that contrast makes a mask: what half of it is stays. */
const STEEP = 12

/** A mask with contrast, in place. @param contrast 0..1 */
export function withContrast(mask: Float32Array, contrast: number): void {
  if (contrast === 0) return
  const by = 1 / Math.max(1 - contrast, 1 / STEEP)
  for (let i = 0; i < mask.length; i++) mask[i] = Math.min(Math.max((mask[i] - 0.5) * by + 0.5, 0), 1)
}
