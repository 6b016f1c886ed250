/** A bend that makes lines straight: ideal radius r goes to r (1 + bend r^2 + edge r^4), radii in half diagonals. */
export interface FoundBend {
  bend: number
  edge: number
  /** Root mean square distance of the marked places from straight lines: as they were, and once straightened. */
  before: number
  after: number
}

type Place = readonly [number, number]

/** Ideal place of one on the sensor, by Newton's steps on the radius. */
export function straightened([x, y]: Place, bend: number, edge: number): Place {
  const at = Math.hypot(x, y)
  if (at < 1e-9) return [x, y]
  let r = at
  for (let i = 0; i < 12; i++) {
    const r2 = r * r
    const f = r * (1 + r2 * (bend + edge * r2)) - at
    const d = 1 + r2 * (3 * bend + 5 * edge * r2)
    if (d < 0.05) break
    r -= f / d
  }
  return [(x * r) / at, (y * r) / at]
}

/** Squared distances of places from the straight line that fits them best: their sum. */
function crookedness(places: readonly Place[]): number {
  const n = places.length
  const cx = places.reduce((s, p) => s + p[0], 0) / n
  const cy = places.reduce((s, p) => s + p[1], 0) / n
  let [xx, yy, xy] = [0, 0, 0]
  for (const [px, py] of places) {
    xx += (px - cx) ** 2
    yy += (py - cy) ** 2
    xy += (px - cx) * (py - cy)
  }
  return (xx + yy - Math.sqrt((xx - yy) ** 2 + 4 * xy * xy)) / 2
}

/**
 * The distortion that lines which should be straight give away (Brown 1971: plumb lines), by a pattern search
 * (Hooke and Jeeves 1961) over the two numbers.
 * @param lines places along each line, half diagonals from the middle of the picture
 * @param robust weigh lines down that stay crooked, as found ones may be no lines at all
 */
export function fitBend(lines: readonly (readonly Place[])[], robust = false): FoundBend {
  const weights = lines.map(() => 1)
  const cost = (bend: number, edge: number) => {
    let sum = 0
    lines.forEach((l, i) => (sum += weights[i] * crookedness(l.map((p) => straightened(p, bend, edge)))))
    // with little to go by, rather no bend than any
    return sum + 1e-9 * (bend * bend + edge * edge)
  }
  // those that were weighed down are no lines: what is said of the others is what counts
  const rms = (bend: number, edge: number) => {
    const taken = lines.filter((_, i) => weights[i] > 0.4)
    const sum = taken.reduce((s, l) => s + crookedness(l.map((p) => straightened(p, bend, edge))), 0)
    return Math.sqrt(
      sum /
        Math.max(
          taken.reduce((n, l) => n + l.length, 0),
          1,
        ),
    )
  }
  let [bend, edge] = [0, 0]
  for (let round = 0; round < (robust ? 5 : 1); round++) {
    // the two numbers pull alike: a fine net first, then down its valley
    let step = round === 0 ? 0.05 : 0.01
    let best = cost(bend, edge)
    while (step > 2e-6) {
      let moved = false
      for (const [a, b] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
        [1, -1],
        [-1, 1],
        [1, -1.4],
        [-1, 1.4],
      ]) {
        const [nb, ne] = [bend + a * step, edge + b * step]
        if (Math.abs(nb) > 0.5 || Math.abs(ne) > 0.5) continue
        const c = cost(nb, ne)
        if (c < best) {
          best = c
          bend = nb
          edge = ne
          moved = true
        }
      }
      if (!moved) step /= 2
    }
    if (robust) {
      const off = lines.map((l) =>
        Math.sqrt(crookedness(l.map((p) => straightened(p, bend, edge))) / l.length),
      )
      const usual = [...off].sort((a, b) => a - b)[Math.floor(off.length / 2)] + 1e-6
      off.forEach((o, i) => (weights[i] = 1 / (1 + (o / (2 * usual)) ** 2) ** 2))
    }
  }
  return { bend, edge, before: rms(0, 0), after: rms(bend, edge) }
}
