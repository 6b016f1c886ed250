import { fieldsOf, settingsBetween, stepById, STEP_IDS, valueOf, withValue, type StepId } from '../steps'
import { partOf, withPart } from './parts'
import type { Development } from './development'

/** Settings of a step with what belongs to its frame taken from those of the frame. */
function carriedStep(id: StepId, look: unknown, own: unknown): unknown {
  const fields = fieldsOf(id).filter(({ belongs }) => belongs === 'frame')
  return fields.reduce((settings, field) => withValue(settings, field.path, valueOf(own, field)), look)
}

/**
 * The look of one frame on another: all that does not belong to one frame alone, such as its crop, its level and the
 * places of its greys, which stay as they are.
 */
export function withLookOf(development: Development, look: Development): Development {
  return STEP_IDS.filter((id) => stepById.get(id)!.belongs !== 'frame').reduce(
    (d, id) =>
      withPart(d, id, {
        ...partOf(look, id),
        settings: carriedStep(id, look.steps[id], development.steps[id]),
      }),
    development,
  )
}

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
