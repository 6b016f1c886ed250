import { D65, rgbToXyz, working, xyOf, type Xy } from '../../colour'
import { invert, keepWhite, multiply, sinCosDegrees, type Matrix3, type Triple } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import { PRIMARIES, PrimariesSchema, type PrimariesSettings } from './schema'

/** CIE 1976 u', v', where equal distances look more alike than in x, y. */
const uv = ([x, y]: Xy): Xy => {
  const d = -2 * x + 12 * y + 3
  return [(4 * x) / d, (9 * y) / d]
}
const xy = ([u, v]: Xy): Xy => {
  const d = 6 * u - 16 * v + 12
  return [(9 * u) / d, (4 * v) / d]
}

/** Working space with its primaries turned and spread around white, back into the working space; white stays. */
export function primariesMatrix(settings: PrimariesSettings): Matrix3 {
  const white = uv(D65)
  const moved = PRIMARIES.map((name, i) => {
    const m = working.toXyz
    const column: Triple = [m[i], m[3 + i], m[6 + i]]
    const [u, v] = uv(xyOf(column))
    const [sine, cosine] = sinCosDegrees(settings[name].turn)
    const far = 1 + settings[name].spread
    const du = (u - white[0]) * far
    const dv = (v - white[1]) * far
    return xy([white[0] + du * cosine - dv * sine, white[1] + du * sine + dv * cosine])
  }) as unknown as [Xy, Xy, Xy]
  return keepWhite(multiply(invert(working.toXyz), rgbToXyz(moved, D65)))
}

/** Turns and spreads the primaries of the rendering: all colours that lean on one of them go with it. */
export const primaries = defineStep({
  id: 'primaries',
  name: 'Primaries',
  says: () => 'primaries',
  stage: 'balance',
  schema: PrimariesSchema,
  neutral: PrimariesSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  idle: (s) => PRIMARIES.every((p) => s[p].turn === 0 && s[p].spread === 0),
  reach: () => 0,
  prepare: (settings) => [...primariesMatrix(settings), 1e6, 1e6, 1e6],
  run({ raster, kernels, scratch }, matrix) {
    const mark = scratch.mark()
    kernels.matrix3(...planes(raster), planeLength(raster), scratch.floats(matrix))
    scratch.release(mark)
  },
})
