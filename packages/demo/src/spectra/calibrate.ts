import {
  adaptation,
  chain,
  D50,
  diagonal,
  invert,
  labFromXyz,
  apply,
  whiteXyz,
  xyOf,
  type Matrix3,
  type Triple,
} from '@dunkelkammer/core'
import { hash } from '../render/noise'
import { bell } from './lamps'
import { times, WAVELENGTHS, xyzOf, type Spectrum } from './observer'
import { signalsOf, type SensorCurves } from './sensor'

/** What a maker writes into its files for one light. */
export interface FittedCalibration {
  /** XYZ to camera. */
  colorMatrix: Matrix3
  /** Balanced camera to XYZ under D50. */
  forwardMatrix: Matrix3
}

/** Smooth made-up surfaces to fit with: not the chart's, which is for judging. */
function trainingSet(count: number): Spectrum[] {
  return Array.from({ length: count }, (_, i) => {
    const r = (k: number) => hash(i, k, 4711)
    const base = 0.03 + 0.25 * r(0) * r(1)
    const step = (r(2) - 0.35) * 0.9
    const edge = 430 + 260 * r(3)
    const soft = 9 + 40 * r(4)
    return WAVELENGTHS.map((nm) => {
      let v = base + step / (1 + Math.exp(-(nm - edge) / soft)) + (step < 0 ? -step : 0)
      v += 0.45 * r(5) * bell(nm, 420 + 260 * r(6), 16 + 50 * r(7))
      return Math.min(Math.max(v * (0.35 + 0.65 * r(8)), 0.01), 0.97)
    })
  })
}

/** The matrix of six free numbers whose rows add up to the white. */
function matrixOf(p: readonly number[], white: Triple): Matrix3 {
  return [0, 1, 2].flatMap((row) => {
    const [a, b] = [p[row * 2], p[row * 2 + 1]]
    return [a, b, white[row] - a - b]
  }) as unknown as Matrix3
}

/** Solves the normal equations of a small least-squares problem by elimination. */
function solve(a: number[][], b: number[]): number[] {
  const n = b.length
  const m = a.map((row, i) => [...row, b[i]])
  for (let i = 0; i < n; i++) {
    let best = i
    for (let r = i + 1; r < n; r++) if (Math.abs(m[r][i]) > Math.abs(m[best][i])) best = r
    ;[m[i], m[best]] = [m[best], m[i]]
    for (let r = 0; r < n; r++) {
      if (r === i) continue
      const f = m[r][i] / m[i][i]
      for (let c = i; c <= n; c++) m[r][c] -= f * m[i][c]
    }
  }
  return m.map((row, i) => row[n] / row[i])
}

/**
 * The matrices for one light, as a maker would fit them: the forward matrix keeps white and makes the squared
 * differences in Lab over a training set smallest (Gauss-Newton), the colour matrix is its counterpart.
 */
export function calibrate(curves: SensorCurves, lamp: Spectrum): FittedCalibration {
  const white = xyzOf(lamp)
  const lampXy = xyOf(white)
  const d50 = whiteXyz(D50)
  const toD50 = adaptation(lampXy, D50)
  const neutral = signalsOf(curves, lamp)
  const pairs = trainingSet(240).map((reflectance) => {
    const light = times(reflectance, lamp)
    const s = signalsOf(curves, light)
    const xyz = xyzOf(light).map((v) => v / white[1]) as unknown as Triple
    return {
      camera: [s[0] / neutral[0], s[1] / neutral[1], s[2] / neutral[2]] as Triple,
      lab: labFromXyz(apply(toD50, xyz)),
    }
  })
  const residuals = (p: readonly number[]) => {
    const m = matrixOf(p, d50)
    return pairs.flatMap(({ camera, lab }) => {
      const got = labFromXyz(apply(m, camera))
      const chroma = Math.sqrt(lab[1] ** 2 + lab[2] ** 2)
      // strong colours tolerate more, as in every colour difference formula since 1994
      const k = 1 / (1 + 0.045 * chroma)
      return [got[0] - lab[0], (got[1] - lab[1]) * k, (got[2] - lab[2]) * k]
    })
  }
  let p = [0.6, 0.25, 0.25, 0.75, 0.02, 0.05]
  for (let round = 0; round < 12; round++) {
    const r0 = residuals(p)
    const jacobian = p.map((_, k) => {
      const q = [...p]
      q[k] += 1e-5
      return residuals(q).map((v, i) => (v - r0[i]) / 1e-5)
    })
    const normal = jacobian.map((ji) => jacobian.map((jk) => ji.reduce((s, v, i) => s + v * jk[i], 0)))
    const step = solve(
      normal,
      jacobian.map((ji) => -ji.reduce((s, v, i) => s + v * r0[i], 0)),
    )
    p = p.map((v, k) => v + step[k])
  }
  const forwardMatrix = matrixOf(p, d50)
  const toCamera = chain(diagonal(neutral), invert(forwardMatrix), toD50)
  const green = apply(toCamera, whiteXyz(lampXy))[1]
  return { colorMatrix: toCamera.map((v) => v / green) as unknown as Matrix3, forwardMatrix }
}
