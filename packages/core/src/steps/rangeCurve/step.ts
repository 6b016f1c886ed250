import { monotoneSpline } from '../../math'
import { prepareCurves, runCurves, type PreparedCurves, type ToneFunction } from '../channelCurves'
import { defineStep } from '../step'
import { RANGE_LINES, RANGES, RangeCurveSchema, type RangeCurveSettings, type RangeLine } from './schema'

/** Share of the way to its neighbours that the middle of a range moves at full amount: less than half keeps order. */
const FAR = 0.45

/** One line as a function over the axis; nothing where it is straight. */
export function rangeFunction(settings: RangeCurveSettings, line: RangeLine): ToneFunction | undefined {
  const amounts = RANGES.map((r) => settings[line][r])
  if (amounts.every((v) => v === 0)) return undefined
  const [from, to] = settings.borders
  const middles = [0, from / 2, (from + to) / 2, (1 + to) / 2, 1]
  const moved = middles.map((x, i) => {
    const amount = amounts[i - 1] ?? 0
    const room = Math.min(x - (middles[i - 1] ?? x), (middles[i + 1] ?? x) - x)
    return [x, x + amount * FAR * room] as const
  })
  return monotoneSpline(moved)
}

/** A tone curve by ranges, for all channels and for each. */
export const rangeCurve = defineStep({
  id: 'rangeCurve',
  name: 'Range curve',
  says: () => 'curve',
  stage: 'expose',
  schema: RangeCurveSchema,
  neutral: RangeCurveSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  idle: (s) => RANGE_LINES.every((l) => RANGES.every((r) => s[l][r] === 0)),
  reach: () => 0,
  prepare: (s): PreparedCurves =>
    prepareCurves(undefined, rangeFunction(s, 'all'), [
      rangeFunction(s, 'red'),
      rangeFunction(s, 'green'),
      rangeFunction(s, 'blue'),
    ]),
  run: runCurves,
})
