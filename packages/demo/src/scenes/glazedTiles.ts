import type { DrawnScene } from '../render/march'
import { fbm2, hash } from '../render/noise'
import { add, clamp01, dot, mix, mul, normalise, scale, smoothstep, type Vec3 } from '../render/vec'
import { cross, meet, meetSphere, mirrored, type Rectangle } from './planes'

/**
 * "Tiles from the glaze room": painted tiles leaning one behind the other on a board beside a window, two balls of
 * glaze in front. A wide-open lens is sharp at one of them only.
 */
const WINDOW: Rectangle = { centre: [-1.35, 0.75, 0.2], across: [0, 0, 1], up: [0, 1, 0], half: [0.55, 0.5] }
const windowLight: Vec3 = [2.5, 2.65, 2.8]
const room: Vec3 = [0.21, 0.185, 0.16]

interface Tile extends Rectangle {
  n: Vec3
  design: number
  ground: Vec3
  paint: Vec3
  second: Vec3
}

function tile(
  x: number,
  z: number,
  turn: number,
  lean: number,
  size: number,
  design: number,
  colours: readonly [Vec3, Vec3, Vec3],
): Tile {
  const across: Vec3 = [Math.cos(turn), 0, Math.sin(turn)]
  const back: Vec3 = [-Math.sin(turn), 0, Math.cos(turn)]
  const up = normalise(add([0, Math.cos(lean), 0], scale(back, Math.sin(lean))))
  const n = scale(cross(across, up), -1)
  const centre: Vec3 = add([x, 0, z], scale(up, size))
  const [ground, paint, second] = colours
  return { centre, across, up, half: [size, size], n, design, ground, paint, second }
}

const CREAM: Vec3 = [0.78, 0.74, 0.63]
const BLUE: Vec3 = [0.035, 0.085, 0.36]
const GREEN: Vec3 = [0.04, 0.25, 0.13]
const OCHRE: Vec3 = [0.6, 0.33, 0.04]
const OX: Vec3 = [0.32, 0.035, 0.025]
const TEAL: Vec3 = [0.02, 0.26, 0.29]

const TILES: readonly Tile[] = [
  tile(-0.115, 0.62, 0.24, 0.28, 0.062, 0, [CREAM, BLUE, OCHRE]),
  tile(0.07, 0.76, -0.2, 0.3, 0.066, 1, [CREAM, GREEN, OX]),
  tile(-0.17, 0.94, 0.1, 0.24, 0.075, 2, [TEAL, CREAM, OCHRE]),
  tile(0.035, 1.03, 0.05, 0.22, 0.075, 3, [CREAM, OX, BLUE]),
  tile(0.245, 0.98, -0.3, 0.25, 0.075, 4, [OCHRE, CREAM, GREEN]),
  tile(-0.3, 1.24, 0.22, 0.2, 0.09, 1, [BLUE, CREAM, OCHRE]),
  tile(0.15, 1.3, -0.08, 0.2, 0.09, 0, [CREAM, TEAL, OX]),
  tile(-0.075, 1.36, 0, 0.2, 0.09, 4, [GREEN, CREAM, OCHRE]),
]

const BALLS = [
  { centre: [-0.005, 0.034, 0.64] as Vec3, radius: 0.034, colour: OX },
  { centre: [0.165, 0.027, 0.69] as Vec3, radius: 0.027, colour: TEAL },
]

/** The painted pattern at a place of -1..1 both ways: 0 ground, 1 paint, 2 second colour. */
function painted(design: number, u: number, v: number): 0 | 1 | 2 {
  const r = Math.hypot(u, v)
  const a = Math.atan2(v, u)
  const edge = Math.max(Math.abs(u), Math.abs(v))
  if (edge > 0.86 && edge < 0.91) return 1
  switch (design) {
    case 0: {
      const petal = 0.52 + 0.2 * Math.cos(a * 8)
      if (r < 0.16) return 2
      if (r < petal && r > petal * 0.62) return 1
      return Math.hypot(Math.abs(u) - 0.74, Math.abs(v) - 0.74) < 0.2 ? 1 : 0
    }
    case 1: {
      const leaf = Math.abs(Math.sin(a * 2)) * 0.72
      if (r < leaf && Math.abs(Math.sin(a * 16)) > 0.18) return 1
      return r > 0.76 && r < 0.82 ? 2 : 0
    }
    case 2: {
      const lattice = Math.min(Math.abs(((u + v) * 2.5) % 1), Math.abs(((u - v) * 2.5) % 1))
      if (lattice < 0.12) return 1
      return Math.hypot((((u + 5) * 2.5) % 1) - 0.5, (((v + 5) * 2.5) % 1) - 0.5) < 0.16 ? 2 : 0
    }
    case 3: {
      // a small mill
      const body = v > -0.6 && v < 0.1 && Math.abs(u) < 0.26 - v * 0.2
      if (body) return Math.abs(u) < 0.07 && v < -0.3 ? 0 : 1
      const [x, y] = [u, v - 0.18]
      for (let i = 0; i < 4; i++) {
        const t = 0.5 + (i * Math.PI) / 2
        const along = x * Math.sin(t) + y * Math.cos(t)
        const across = x * Math.cos(t) - y * Math.sin(t)
        if (along > 0 && along < 0.55 && Math.abs(across) < 0.022) return 2
        if (along > 0.14 && along < 0.55 && across > 0 && across < 0.1 && (along * 18) % 1 > 0.3) return 2
      }
      return v < -0.66 && v > -0.7 - 0.04 * Math.sin(u * 22) ? 2 : 0
    }
    default: {
      const ring = Math.floor(edge * 6)
      const step = Math.floor((u + 2) * 6) + Math.floor((v + 2) * 6)
      return ring % 2 ? (step % 2 ? 1 : 0) : ring === 2 ? 2 : 0
    }
  }
}

/** What a glossy surface mirrors: the window's panes, else the room. */
function mirrorOf(p: Vec3, r: Vec3): Vec3 {
  const hit = meet(WINDOW, p, r)
  if (!hit) return scale(room, 0.6 + 0.5 * r[1])
  const bar = Math.abs(hit.u) < 0.018 || Math.abs(hit.v - 0.12) < 0.018
  return bar ? [0.1, 0.1, 0.1] : scale(windowLight, 1.7)
}

/** Soft light of the window, from nine places of it, shadowed by tiles and balls. */
function lit(p: Vec3, n: Vec3): Vec3 {
  let part = 0
  for (let i = -1; i <= 1; i++)
    for (let j = -1; j <= 1; j++) {
      const at: Vec3 = [WINDOW.centre[0], WINDOW.centre[1] + j * 0.33, WINDOW.centre[2] + i * 0.36]
      const to = add(at, scale(p, -1))
      const r2 = dot(to, to)
      const l = scale(to, 1 / Math.sqrt(r2))
      const facing = dot(n, l)
      if (facing <= 0) continue
      const from = add(p, scale(n, 0.002))
      const shut =
        TILES.some((t) => meet(t, from, l)) ||
        BALLS.some((b) => meetSphere(b.centre, b.radius, from, l) !== undefined)
      if (!shut) part += (facing * Math.max(l[0] * -1, 0.1)) / (r2 + 0.3)
    }
  return add(scale(windowLight, part * 0.11), scale(room, 0.7 + 0.3 * n[1]))
}

function glazed(p: Vec3, n: Vec3, d: Vec3, albedo: Vec3): Vec3 {
  const cos = clamp01(-dot(d, n))
  const fresnel = 0.045 + 0.955 * Math.pow(1 - cos, 5)
  return mix(mul(albedo, lit(p, n)), mirrorOf(p, mirrored(d, n)), fresnel)
}

function tileColour(t: Tile, u: number, v: number, p: Vec3, d: Vec3): Vec3 {
  const [x, y] = [u / t.half[0], v / t.half[1]]
  const wobble = 0.012
  const px = x + wobble * (fbm2(x * 9, y * 9, 2, t.design + 3) - 0.5)
  const py = y + wobble * (fbm2(x * 9, y * 9, 2, t.design + 5) - 0.5)
  const which = painted(t.design, px, py)
  let albedo = which === 0 ? t.ground : which === 1 ? t.paint : t.second
  albedo = scale(albedo, 0.86 + 0.28 * fbm2(x * 4, y * 4, 4, t.design + 9))
  // fine cracks of the glaze
  const crack = Math.abs(fbm2(x * 7 + t.design, y * 7, 3, 21) - 0.5)
  albedo = scale(albedo, 1 - 0.35 * smoothstep(0.012, 0, crack))
  const edge = (s: number) => Math.sign(s) * smoothstep(0.93, 1, Math.abs(s)) * 0.5
  const ripple = (fbm2(x * 3, y * 3, 3, 77) - 0.5) * 0.1
  const n = normalise(add(add(t.n, scale(t.across, edge(x) + ripple)), scale(t.up, edge(y) + ripple * 0.7)))
  return glazed(p, n, d, albedo)
}

function radiance(o: Vec3, d: Vec3): Vec3 {
  let best = Infinity
  let colour: (() => Vec3) | undefined
  for (const t of TILES) {
    const hit = meet(t, o, d)
    if (hit && hit.t < best) {
      best = hit.t
      colour = () => tileColour(t, hit.u, hit.v, add(o, scale(d, hit.t)), d)
    }
  }
  for (const b of BALLS) {
    const t = meetSphere(b.centre, b.radius, o, d)
    if (t !== undefined && t < best) {
      best = t
      colour = () => {
        const p = add(o, scale(d, t))
        return glazed(p, normalise(add(p, scale(b.centre, -1))), d, b.colour)
      }
    }
  }
  if (colour) return colour()
  const td = d[1] < 0 ? -o[1] / d[1] : Infinity
  const tw = d[2] > 0 ? (1.75 - o[2]) / d[2] : Infinity
  if (td < tw) {
    const [x, z] = [o[0] + d[0] * td, o[2] + d[2] * td]
    const board = Math.floor(z / 0.17)
    const grain = fbm2(x * 14 + board * 7, z * 160, 4, 31)
    const ring = fbm2(x * 3 + board * 3, z * 22, 3, 35)
    const seam = Math.abs(z / 0.17 - board - 0.5) > 0.485 ? 0.35 : 1
    const albedo = scale(
      mix([0.14, 0.085, 0.05], [0.36, 0.24, 0.14], clamp01(grain * 0.6 + ring * 0.6 - 0.1)),
      seam * (0.85 + 0.3 * hash(board, 4)),
    )
    return mul(albedo, lit([x, 0, z], [0, 1, 0]))
  }
  const [x, y] = [o[0] + d[0] * tw, o[1] + d[1] * tw]
  const plaster = fbm2(x * 6, y * 6, 5, 51)
  const albedo = mix([0.3, 0.28, 0.25], [0.46, 0.43, 0.38], plaster)
  return mul(albedo, lit([x, y, 1.75], [0, 0, -1]))
}

/** The still life, sharp at a distance along the view in metres. */
export const glazedTiles = (id: string, focus: number): DrawnScene => ({
  id: `glazed-tiles-${id}`,
  title: 'Tiles from the glaze room',
  eye: [0.02, 0.26, 0],
  pitch: -0.2,
  fieldOfView: 0.44,
  aperture: { radius: 0.009, focus, samples: 32 },
  radiance,
})
