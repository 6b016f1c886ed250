import type { Patch } from '@dunkelkammer/core'

/**
 * Why the source of a patch no longer fits, as a sentence; undefined where it does.
 * @param all the patches in their order
 * @param size of the picture, pixels
 */
export function sourceProblem(
  patch: Patch,
  all: readonly Patch[],
  { width, height }: { width: number; height: number },
): string | undefined {
  if (patch.kind === 'fill' || !patch.on) return undefined
  const long = Math.max(width, height)
  const [x, y] = [patch.x + patch.source[0], patch.y + patch.source[1]]
  if (long > 0 && (x < 0 || y < 0 || x > width / long || y > height / long))
    return 'Its source lies outside the picture.'
  // strokes and outlines may wind: only of spots is it plain what they cover
  const over = all.findIndex(
    (p) =>
      p.id !== patch.id &&
      p.on &&
      p.shape === 'spot' &&
      Math.hypot(p.x - x, p.y - y) < p.radius &&
      patch.shape === 'spot',
  )
  return over < 0 ? undefined : `Its source is covered by patch ${over + 1}.`
}
