import { anglesOf, cross, dot, unit } from '../geometry/rotation'
import { degrees, type Matrix3, type Triple } from '../math'

/** A straight line of the picture without its lens's faults: its ends in half diagonals from the middle. */
export interface StraightLine {
  from: readonly [number, number]
  to: readonly [number, number]
}

/** Where the world's directions lie in the picture, as directions of the camera: x right, y down, z into the scene. */
export interface Directions {
  /** Down, where enough uprights were found. */
  down?: Triple
  /** Along level lines, at right angles to it. */
  level?: Triple
}

/** Uprights may lean so far in the picture, degrees. */
const LEAN = 38
/** How far a line may point past its vanishing point. */
const TOLERANCE = (1.2 * Math.PI) / 180
const ROUNDS = 500

interface Line {
  /** Of the plane through the eye and the line. */
  normal: Triple
  middle: readonly [number, number]
  way: readonly [number, number]
  weight: number
}

/** Numbers that look like chance and are always the same (Lehmer 1951). */
function lottery() {
  let state = 20230117
  return (n: number) => {
    state = (state * 48271) % 2147483647
    return Math.floor((state / 2147483647) * n)
  }
}

function prepare(lines: readonly StraightLine[], focal: number): Line[] {
  return lines.map(({ from, to }) => {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1])
    return {
      normal: unit(cross([from[0], from[1], focal], [to[0], to[1], focal])),
      middle: [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2] as const,
      way: [(to[0] - from[0]) / length, (to[1] - from[1]) / length] as const,
      weight: length,
    }
  })
}

/** Angle between a line and the way from its middle to a vanishing point, radians. */
function offset({ middle, way }: Line, [x, y, z]: Triple, focal: number): number {
  const dx = focal * x - middle[0] * z
  const dy = focal * y - middle[1] * z
  const n = Math.sqrt(dx * dx + dy * dy)
  return n < 1e-9 ? 0 : Math.asin(Math.min(Math.abs(way[0] * dy - way[1] * dx) / n, 1))
}

/** The direction most nearly at right angles to weighted normals: the least eigenvector, by inverse iteration. */
function commonDirection(lines: readonly Line[], weights: readonly number[], start: Triple): Triple {
  const m = [0, 0, 0, 0, 0, 0]
  lines.forEach(({ normal: [a, b, c] }, i) => {
    const w = weights[i]
    m[0] += w * a * a
    m[1] += w * a * b
    m[2] += w * a * c
    m[3] += w * b * b
    m[4] += w * b * c
    m[5] += w * c * c
  })
  const e = 1e-9 * (m[0] + m[3] + m[5]) + 1e-15
  const [a, b, c, d, f, g] = [m[0] + e, m[1], m[2], m[3] + e, m[4], m[5] + e]
  const A = d * g - f * f
  const B = c * f - b * g
  const C = b * f - c * d
  const D = a * g - c * c
  const E = b * c - a * f
  const F = a * d - b * b
  let v = start
  for (let i = 0; i < 30; i++)
    v = unit([A * v[0] + B * v[1] + C * v[2], B * v[0] + D * v[1] + E * v[2], C * v[0] + E * v[1] + F * v[2]])
  return dot(v, start) < 0 ? [-v[0], -v[1], -v[2]] : v
}

/** Weight of a line by how far it points past: full at once, none beyond the tolerance (Tukey 1974). */
const trust = (off: number, within: number) => (off >= within ? 0 : (1 - (off / within) ** 2) ** 2)

function refine(lines: readonly Line[], start: Triple, focal: number, hold?: Triple): Triple {
  let v = start
  for (const within of [TOLERANCE * 1.5, TOLERANCE, TOLERANCE * 0.6, TOLERANCE * 0.5, TOLERANCE * 0.5]) {
    const weights = lines.map((l) => l.weight ** 2 * trust(offset(l, v, focal), within))
    if (weights.reduce((a, b) => a + b, 0) === 0) break
    if (hold) {
      // kept at right angles to the other direction
      const flat = lines.map((l) => {
        const k = dot(l.normal, hold)
        return {
          ...l,
          normal: [l.normal[0] - k * hold[0], l.normal[1] - k * hold[1], l.normal[2] - k * hold[2]] as Triple,
        }
      })
      const w = [...weights, weights.reduce((a, b) => a + b, 0) * 100]
      v = commonDirection([...flat, { ...lines[0], normal: hold }], w, v)
    } else v = commonDirection(lines, weights, v)
  }
  return v
}

interface Found {
  direction: Triple
  /** Length of the lines that point to it. */
  support: number
}

function search(
  lines: readonly Line[],
  focal: number,
  candidates: (pick: (n: number) => number) => Triple | undefined,
  allowed: (v: Triple) => boolean,
): Found | undefined {
  const pick = lottery()
  let best: Found | undefined
  for (let k = 0; k < ROUNDS; k++) {
    const v = candidates(pick)
    if (!v || !allowed(v)) continue
    let support = 0
    for (const l of lines) support += l.weight * trust(offset(l, v, focal), TOLERANCE)
    if (!best || support > best.support) best = { direction: v, support }
  }
  return best
}

/**
 * Whether a direction has more behind it than lines of any way would give: so many of them, so long together, and
 * many times the share that chance would let point there.
 */
function convinces(lines: readonly Line[], direction: Triple, focal: number, spread: number): boolean {
  let [all, support, count, longest] = [0, 0, 0, 0]
  for (const l of lines) {
    all += l.weight
    if (offset(l, direction, focal) < TOLERANCE * 0.75) {
      support += l.weight
      count++
      longest = Math.max(longest, l.weight)
    }
  }
  const chance = (1.5 * TOLERANCE) / spread
  return count >= 5 && support > 0.7 && longest > 0.09 && support / all > Math.max(3.2 * chance, 0.22)
}

/**
 * Finds down and level from lines by their vanishing points: pairs of lines drawn by lot propose, all vote, and the
 * best is refined over those that agree (Fischler and Bolles 1981).
 * @param focal focal length in half diagonals of the picture
 */
export function findDirections(lines: readonly StraightLine[], focal: number): Directions {
  const all = prepare(lines, focal)
  const lean = (l: Line) => degrees(Math.atan2(Math.abs(l.way[0]), Math.abs(l.way[1])))
  const uprights = all.filter((l) => lean(l) < LEAN)
  const others = all.filter((l) => lean(l) > 25)
  const out: Directions = {}
  const down = search(
    uprights,
    focal,
    (pick) => {
      if (uprights.length < 2) return undefined
      const [a, b] = [uprights[pick(uprights.length)], uprights[pick(uprights.length)]]
      const v = unit(cross(a.normal, b.normal))
      return v[1] < 0 ? [-v[0], -v[1], -v[2]] : v
    },
    (v) => v[1] > 0.6,
  )
  if (down) {
    const v = refine(uprights, down.direction, focal)
    if (convinces(uprights, v, focal, (2 * LEAN * Math.PI) / 180)) out.down = v
  }
  const hold = out.down
  const level = search(
    others,
    focal,
    (pick) => {
      if (others.length < 2) return undefined
      const a = others[pick(others.length)]
      const v = unit(cross(a.normal, hold ?? others[pick(others.length)].normal))
      return v[0] < 0 ? [-v[0], -v[1], -v[2]] : v
    },
    (v) => (hold ? Math.abs(dot(v, hold)) < 0.02 && v[0] > 0.34 : Math.abs(v[1]) < 0.5 && v[0] > 0.34),
  )
  if (level) {
    const v = refine(others, level.direction, focal, hold)
    if (convinces(others, v, focal, (130 * Math.PI) / 180)) out.level = v
  }
  return out
}

/** Degrees clockwise by which a picture must be turned so that its horizon lies level; undefined where nothing says. */
export function levelAngle({ down, level }: Directions): number | undefined {
  if (down) return degrees(Math.atan2(down[0], down[1]))
  // level lines alone: as if seen straight on
  if (level && Math.abs(level[2]) < 0.5) return -degrees(Math.atan2(level[1], level[0]))
  return undefined
}

/** What is to be made straight. */
export interface Wanted {
  uprights: boolean
  levels: boolean
  horizon: boolean
}

/**
 * The turn of the camera that makes uprights parallel, level lines parallel, the horizon level, as far as they are
 * wanted and were found; undefined where nothing that is wanted was.
 * @param strength share of the turn, 0 to 1.5
 */
export function turnFor(found: Directions, wanted: Wanted, strength: number) {
  const { down, level } = found
  const v = wanted.uprights ? down : undefined
  const h = wanted.levels ? level : undefined
  let m: Matrix3 | undefined
  if (v && h) {
    // both: the picture plane is laid parallel to the wall
    const y = v
    const x = unit([h[0] - dot(h, y) * y[0], h[1] - dot(h, y) * y[1], h[2] - dot(h, y) * y[2]])
    const z = cross(x, y)
    m = [...x, ...y, ...z] as unknown as Matrix3
    if (!wanted.horizon) m = rolled(m)
  } else if (v) {
    // down comes to lie in the picture plane, by the smallest turn; with a level horizon, straight down
    const y = v
    const x = unit(cross(y, [0, 0, 1]))
    const z = cross(x, y)
    m = [...x, ...y, ...z] as unknown as Matrix3
    if (!wanted.horizon) m = rolled(m)
  } else if (h) {
    const x = h
    const y = unit(cross([0, 0, 1], x))
    const z = cross(x, y)
    m = [...x, ...y, ...z] as unknown as Matrix3
    if (!wanted.horizon) m = rolled(m)
  }
  if (m) {
    const { tilt, swing, roll } = anglesOf(m)
    return { tilt: tilt * strength, swing: swing * strength, roll: roll * strength }
  }
  if (!wanted.horizon || wanted.uprights || wanted.levels) return undefined
  const angle = levelAngle(found)
  return angle === undefined ? undefined : { tilt: 0, swing: 0, roll: angle * strength }
}

/** The same turn without its roll: the picture leans as it did. */
function rolled(m: Matrix3): Matrix3 {
  const { roll } = anglesOf(m)
  const [s, c] = [Math.sin((-roll * Math.PI) / 180), Math.cos((roll * Math.PI) / 180)]
  // undone after the turn, in the picture plane
  const row = (a: number, b: number) => [0, 1, 2].map((i) => a * m[i] + b * m[3 + i])
  return [...row(c, -s), ...row(s, c), m[6], m[7], m[8]] as unknown as Matrix3
}
