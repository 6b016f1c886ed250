import type { Guide } from '../steps/perspective/schema'
import { turnedCamera } from '../geometry/rotation'
import { apply } from '../math'

/** A line drawn on the picture, its ends without the lens's faults, half diagonals from the middle. */
export interface DrawnLine extends Pick<Guide, 'is'> {
  from: readonly [number, number]
  to: readonly [number, number]
}

/** Turns are held small where the lines leave them open: this many half diagonals of error weigh as much as a radian. */
const EASE = 0.004

/** How far a line lies from upright or level after a turn of the camera: sine of the angle. */
export function lean(
  line: DrawnLine,
  turn: { tilt: number; swing: number; roll: number },
  focal: number,
): number {
  const m = turnedCamera(turn)
  const seen = ([x, y]: readonly [number, number]) => {
    const [a, b, c] = apply(m, [x, y, focal])
    return [(focal * a) / Math.max(c, 0.01), (focal * b) / Math.max(c, 0.01)]
  }
  const [a, b] = [seen(line.from), seen(line.to)]
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
  return (line.is === 'upright' ? dx : dy) / (Math.sqrt(dx * dx + dy * dy) || 1)
}

/**
 * The smallest turn of the camera after which lines stand upright or lie level as they were said to, by least squares
 * (Levenberg 1944, Marquardt 1963). One line rolls, two converging ones tilt or swing, more are averaged.
 * @param focal half diagonals
 */
export function turnByGuides(lines: readonly DrawnLine[], focal: number) {
  const RADIAN = 180 / Math.PI
  let p = [0, 0, 0]
  const turn = ([tilt, swing, roll]: readonly number[]) => ({
    tilt: tilt * RADIAN,
    swing: swing * RADIAN,
    roll: roll * RADIAN,
  })
  // a roll is the readiest: one line alone says no more
  const ease = [EASE, EASE, EASE / 20]
  const residuals = (q: readonly number[]) => [
    ...lines.map(
      (l) => lean(l, turn(q), focal) * Math.min(Math.hypot(l.to[0] - l.from[0], l.to[1] - l.from[1]) * 4, 1),
    ),
    ...q.map((v, i) => v * ease[i]),
  ]
  const cost = (r: readonly number[]) => r.reduce((s, v) => s + v * v, 0)
  let r = residuals(p)
  let damp = 1e-3
  for (let round = 0; round < 60; round++) {
    const columns = [0, 1, 2].map((i) => {
      const q = [...p]
      q[i] += 1e-5
      return residuals(q).map((v, k) => (v - r[k]) / 1e-5)
    })
    const a = [0, 1, 2].map((i) =>
      [0, 1, 2].map((j) => columns[i].reduce((s, v, k) => s + v * columns[j][k], 0)),
    )
    const b = [0, 1, 2].map((i) => -columns[i].reduce((s, v, k) => s + v * r[k], 0))
    for (let i = 0; i < 3; i++) a[i][i] *= 1 + damp
    const step = solve3(a, b)
    const next = p.map((v, i) => Math.min(Math.max(v + step[i], -1), 1))
    const q = residuals(next)
    if (cost(q) < cost(r)) {
      p = next
      r = q
      damp = Math.max(damp / 4, 1e-9)
      if (step.every((s) => Math.abs(s) < 1e-9)) break
    } else {
      damp *= 5
      if (damp > 1e6) break
    }
  }
  return turn(p)
}

function solve3(a: readonly (readonly number[])[], b: readonly number[]): number[] {
  const det = (m: readonly (readonly number[])[]) =>
    m[0][0] * (m[1][1] * m[2][2] - m[1][2] * m[2][1]) -
    m[0][1] * (m[1][0] * m[2][2] - m[1][2] * m[2][0]) +
    m[0][2] * (m[1][0] * m[2][1] - m[1][1] * m[2][0])
  const d = det(a) || 1e-30
  return [0, 1, 2].map((i) => det(a.map((row, k) => row.map((v, j) => (j === i ? b[k] : v)))) / d)
}
