import { MOST_GUIDES, type Development, type Guide, type Square } from '@dunkelkammer/core'
import { turnOfGuides, type Picture } from '@dunkelkammer/engine/browser'
import { withStep } from '../steps/withStep'
import type { Place } from '../state/types'

/** Shortest line that is taken for one, parts of the frame's width. */
const SHORTEST = 0.02

/**
 * The level after a line was drawn along a horizon or an upright: whichever it is nearer to.
 * @param from, to fractions of the frame
 */
export function levelledAlong(
  d: Development,
  square: Square,
  from: Place,
  to: Place,
): Development | undefined {
  const dx = (to.x - from.x) * square.width
  const dy = (to.y - from.y) * square.height
  if (Math.hypot(dx, dy) < SHORTEST * square.width) return undefined
  const lying = Math.abs(dx) >= Math.abs(dy)
  // how far the line is turned clockwise from where it should lie
  const off =
    (lying ? Math.atan2(dy * Math.sign(dx), Math.abs(dx)) : Math.atan2(-dx * Math.sign(dy), Math.abs(dy))) *
    (180 / Math.PI)
  const { angle, mirror } = d.steps.level
  const next = Math.round((angle - (mirror ? -off : off)) * 100) / 100
  return withStep(d, 'level', { angle: Math.min(Math.max(next, -45), 45) })
}

/**
 * The development turned by quarters, its frame with it: the same part of the picture, standing otherwise.
 * @param by quarters clockwise
 */
export function quarterTurned(d: Development, by: 1 | 3): Development {
  const { level, crop } = d.steps
  const { rect, ratio, upright } = crop
  const turned = withStep(d, 'level', { turns: ((level.turns + by) % 4) as 0 | 1 | 2 | 3 })
  return withStep(turned, 'crop', {
    rect: rect && { ...rect, width: rect.height, height: rect.width },
    // the ratio as taken turns with the picture
    upright: ratio === 'taken' || ratio === 'free' || ratio === 'square' ? upright : !upright,
  })
}

/** The development with other lines drawn on it, its perspective set by them. */
export function withGuides(
  d: Development,
  picture: Picture,
  square: Square,
  guides: readonly Guide[],
): Development {
  if (guides.length === 0) return withStep(d, 'perspective', { guides: [] })
  const turn = turnOfGuides(picture, square, guides)
  // the lines say how the picture stands: a level on top of it would undo that
  return withStep(withStep(d, 'level', { angle: 0 }), 'perspective', { ...turn, guides: [...guides] })
}

/** One more line, from sensor coordinates; undefined where it is too short or there are too many. */
export function anotherGuide(d: Development, is: Guide['is'], from: Place, to: Place): Guide[] | undefined {
  const { guides } = d.steps.perspective
  if (guides.length >= MOST_GUIDES || Math.hypot(to.x - from.x, to.y - from.y) < SHORTEST) return undefined
  const hold = (v: number) => Math.min(Math.max(Math.round(v * 1e5) / 1e5, -1), 2)
  return [...guides, { is, from: [hold(from.x), hold(from.y)], to: [hold(to.x), hold(to.y)] }]
}
