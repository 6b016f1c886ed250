import { borderAtEdges } from './follow'
import { fitToGuide } from './guided'
import { blurred, grown, withoutSpecks, type Plane } from './planes'
import type { Guide } from './range'
import type { MaskRefinement } from './schema'

/** Whether a mask is refined as a whole. */
export const isRefined = ({ specks, gaps, grow, edges, softness, contrast }: MaskRefinement): boolean =>
  specks > 0 || gaps > 0 || grow !== 0 || edges > 0 || softness > 0 || contrast > 0

/** Half the squares in which a mask is fitted to the picture, long edges, and how far it is. */
const FIT = { reach: 0.004, share: 0.8 } as const
/** Least of a radius that does anything, pixels. */
const LEAST = 0.02

/**
 * Refines a mask in the order of its settings.
 * @param long pixels of a long edge of the picture
 * @param guide the picture, where edges are followed
 * @returns the mask; where edges are to be followed as finely as the picture goes, also what `fitToGuide` gives
 */
export function refineMask(
  mask: Plane,
  { specks, gaps, grow, edges, softness }: MaskRefinement,
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
  let toGuide: Float32Array[] | undefined
  if (edges > 0 && guide) {
    values = borderAtEdges(plane(), guide, Math.max(edges * long, 1))
    toGuide = fitted(plane(), guide, long)
  }
  const soft = softness * long > LEAST
  if (!soft) return toGuide ? [values, ...toGuide] : [values]
  // what is made soft has no edges finer than that
  if (toGuide) values = mixed(values, toGuide, guide!)
  return [blurred(plane(), (softness * long) / 2)]
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
