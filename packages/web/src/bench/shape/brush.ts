import { fieldsIn, ShapeSchema } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { storedSwitch } from '../state/stored'
import type { ShapeOf } from './shapes'

/** How the next stroke is painted. */
export type Brush = Pick<ShapeOf<'stroke'>, 'radius' | 'softness' | 'flow' | 'limit' | 'follow'>

const STROKE = ShapeSchema.options.find((o) => o.shape.kind.value === 'stroke')!
const { min, max } = fieldsIn(STROKE).find((f) => f.path[0] === 'radius')!

/** Least and largest radius, long edges. */
export const RADIUS = { least: min!, most: max!, start: 0.03 } as const
export const holdRadius = (radius: number) => Math.min(Math.max(radius, RADIUS.least), RADIUS.most)

export const brushAtom = atom<Brush>({
  radius: RADIUS.start,
  softness: 0.5,
  flow: 1,
  limit: 1,
  follow: false,
})
/** Tones are built up in many light strokes. */
export const toneBrushAtom = atom<Brush>({
  radius: RADIUS.start,
  softness: 0.8,
  flow: 0.2,
  limit: 1,
  follow: false,
})

/** Whether a pen has painted here, and whether what it presses less is thinner. */
export const penSeenAtom = atom(false)
export const penAtom = storedSwitch('pen pressure', ['sized', 'ignored'], true)
