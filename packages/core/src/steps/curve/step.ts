import { monotoneSpline, type Point } from '../../math'
import { prepareCurves, runCurves, type PreparedCurves } from '../channelCurves'
import { defineStep } from '../step'
import { CURVE_LINES, CurveSchema, type CurveLine, type CurveSettings } from './schema'

/** Whether a line of points changes nothing. */
const straight = (p: readonly Point[]) =>
  p.every(([x, y]) => Math.abs(x - y) < 1e-6) && p[0][0] === 0 && p[p.length - 1][0] === 1

/** One line as a function over the axis; nothing where it is straight. */
export const curveFunction = (
  settings: CurveSettings,
  line: CurveLine,
): ((x: number) => number) | undefined =>
  straight(settings[line]) ? undefined : monotoneSpline(settings[line])

/** Tone curves through points, on display light. */
export const curve = defineStep({
  id: 'curve',
  name: 'Curve',
  says: () => 'curve',
  stage: 'expose',
  schema: CurveSchema,
  neutral: CurveSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'display',
  idle: (s) => CURVE_LINES.every((l) => straight(s[l])),
  reach: () => 0,
  prepare: (s): PreparedCurves =>
    prepareCurves(curveFunction(s, 'luminance'), curveFunction(s, 'all'), [
      curveFunction(s, 'red'),
      curveFunction(s, 'green'),
      curveFunction(s, 'blue'),
    ]),
  run: runCurves,
})
