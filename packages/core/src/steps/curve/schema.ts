import { worded } from '../field'
import { z } from 'zod'

/** Both axes are the square root of display light, close to how bright it looks: 0 black, 1 white. */
const PointSchema = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)])
export const CURVE_POINTS = 16
/** Points keep this far apart along the axis. */
export const CURVE_GAP = 0.01

export const CURVE_LINES = ['luminance', 'all', 'red', 'green', 'blue'] as const
export type CurveLine = (typeof CURVE_LINES)[number]
export type CurvePoints = readonly (readonly [number, number])[]

export const STRAIGHT: [number, number][] = [
  [0, 0],
  [1, 1],
]
const line = z
  .array(PointSchema)
  .min(2)
  .max(CURVE_POINTS)
  .refine((p) => p.every(([x], i) => i === 0 || x - p[i - 1][0] > CURVE_GAP - 1e-6), {
    message: 'The points of a curve follow each other from left to right.',
  })
  .default(STRAIGHT)

/** Points of a smooth curve, for luminance with hue kept, for all channels alike, and for each. */
const named = (label: string) => worded(line.clone(), { label })

export const CurveSchema = z.object({
  luminance: named('Curve of the luminance'),
  all: named('Curve of all channels'),
  red: named('Curve of red'),
  green: named('Curve of green'),
  blue: named('Curve of blue'),
})
export type CurveSettings = z.infer<typeof CurveSchema>
