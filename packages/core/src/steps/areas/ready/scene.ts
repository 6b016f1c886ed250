import type { z } from 'zod'
import type { Findable } from '../../../masks/find/findable'
import { ShapeSchema, ToneRangeSchema, TONE_RANGE, type Shape } from '../../../masks/schema'

/** A place of the shown frame in sensor coordinates. @param u, v shares of its width and height */
export type FrameToSensor = (u: number, v: number) => readonly [number, number]

/** How light a picture is as it was taken, EV from middle grey. */
export interface ToneSpread {
  /** A twentieth is darker. */
  dark: number
  middle: number
  /** A fiftieth is lighter. */
  light: number
}

/** What of a picture may have to be found. */
export type Thing = Findable | 'distance'

/** What ready areas are fitted to. */
export interface Scene {
  at: FrameToSensor
  tones: ToneSpread
  /** What was found in it. */
  things: ReadonlySet<Thing>
}

type Rest = Partial<Pick<Shape, 'way' | 'strength' | 'invert' | 'tones'>>
const shape = (written: z.input<typeof ShapeSchema>): Shape => ShapeSchema.parse(written)

export const found = (what: Findable, rest: Rest = {}): Shape =>
  shape({ id: what, kind: 'found', what, ...rest })

/** Takes something away where it was found; what is not there needs no shape. */
export const without = (what: Findable, { things }: Pick<Scene, 'things'>): Shape[] =>
  things.has(what) ? [found(what, { way: 'take' })] : []

export const far = (from: number, to: number, softness: number): Shape =>
  shape({ id: 'distance', kind: 'distance', from, to, softness })

const tonesFrom = (from: number, below: number) =>
  ToneRangeSchema.parse({ from: tone(from), to: TONE_RANGE.most, below, above: 0 })
const tonesTo = (to: number, above: number) =>
  ToneRangeSchema.parse({ from: TONE_RANGE.least, to: tone(to), below: 0, above })
const tone = (ev: number) => Math.min(Math.max(Math.round(ev * 20) / 20, TONE_RANGE.least), TONE_RANGE.most)

/** All that is lighter. @param over EV over which it runs out below */
export const lighterThan = (ev: number, over: number, rest: Rest = {}): Shape =>
  shape({ id: 'light', kind: 'tones', range: tonesFrom(ev, over), ...rest })

/** All that is darker. @param over EV over which it runs out above */
export const darkerThan = (ev: number, over: number, rest: Rest = {}): Shape =>
  shape({ id: 'dark', kind: 'tones', range: tonesTo(ev, over), ...rest })

/** Runs out from the top of the frame to a share of its height. */
export const fromTop = ({ at }: Scene, down: number, rest: Rest = {}): Shape =>
  shape({ id: 'top', kind: 'ramp', from: [...at(0.5, 0)], to: [...at(0.5, down)], ...rest })

/** An oval around the middle of the frame. @param size of the frame's */
export function aroundMiddle({ at }: Scene, size: number, softness: number, rest: Rest = {}): Shape {
  const [x, y] = at(0.5, 0.5)
  const [right, below] = [at(1, 0.5), at(0.5, 1)]
  const [across, down] = [right, below].map(([u, v]) => Math.hypot(u - x, v - y) * size)
  const turn = (Math.atan2(right[1] - y, right[0] - x) * 180) / Math.PI
  return shape({ id: 'middle', kind: 'oval', x, y, across, down, turn, softness, ...rest })
}
