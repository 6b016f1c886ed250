import { settingsBetween, STEP_IDS } from '../steps'
import { partOf, withPart } from './parts'
import type { Development } from './development'

/**
 * A development on its way from one moment of a sequence to another. A switch, and what counts most in the frame, stay
 * until the end.
 * @param t 0 the first, 1 the second
 */
export function developmentBetween(from: Development, to: Development, t: number): Development {
  if (t <= 0) return from
  if (t >= 1) return to
  return STEP_IDS.reduce((d, id) => {
    const [a, b] = [partOf(from, id), partOf(to, id)]
    const strength = (a.strength ?? 1) + ((b.strength ?? 1) - (a.strength ?? 1)) * t
    return withPart(d, id, {
      settings: settingsBetween(id, a.settings, b.settings, t),
      ...(strength !== 1 && { strength }),
      ...(a.off && { off: true as const }),
    })
  }, from)
}
