import type { DrawnScene, Seen } from '../render/march'
import { fbm2 } from '../render/noise'
import { add, clamp01, mix, scale, smoothstep, type Vec3 } from '../render/vec'
import { bond } from './materials'

/**
 * "Sails before the wood": the second mill, its lattice sails new and pale, close before dark trees. Between the bars
 * there is wood, sky or tower.
 */

/** Distances of the mill and of the wood, metres. */
const MILL = 42
const WOOD = 75
const HUB = { x: -1.5, y: 11.2 } as const
const SAIL = { from: 0.7, to: 10.4, width: 1.75, bar: 0.085, stock: 0.17, turn: 0.38 } as const

/** Whether a place of the mill's plane lies on a sail, from its hub. */
function onSail(x: number, y: number): boolean {
  for (let i = 0; i < 4; i++) {
    const a = SAIL.turn + (i * Math.PI) / 2
    const along = x * Math.sin(a) + y * Math.cos(a)
    const across = x * Math.cos(a) - y * Math.sin(a)
    if (along < 0 || along > SAIL.to) continue
    if (Math.abs(across) < SAIL.stock) return true
    if (along < SAIL.from + 1.2 || across < -0.25 || across > SAIL.width) continue
    const rung = Math.abs((along % 0.52) - 0.26) > 0.26 - SAIL.bar / 2
    const rail = Math.abs((across % 0.58) - 0.29) > 0.29 - SAIL.bar / 2
    if (rung || rail) return true
  }
  return Math.hypot(x, y) < 0.5
}

function tower(x: number, y: number): Vec3 | undefined {
  if (y < 0 || y > 12.6) return undefined
  const half = y < 9.6 ? 3.4 - y * 0.13 : 2.3 * Math.sqrt(Math.max(1 - ((y - 9.6) / 3) ** 2, 0))
  if (Math.abs(x) > half) return undefined
  const round = x / half
  const side = 0.55 + 0.45 * Math.sqrt(1 - round * round) - 0.25 * round
  if (y > 9.6) return scale(mix([0.09, 0.08, 0.07], [0.15, 0.14, 0.12], fbm2(x * 5, y * 14, 4, 3)), side)
  const { joint, id } = bond(x + 20, y, 0.3, 0.1, 0.014)
  const brick = mix(mix([0.2, 0.08, 0.055], [0.36, 0.17, 0.11], id), [0.3, 0.27, 0.23], joint * 0.7)
  const window = Math.abs(x - 0.4) < 0.4 && Math.abs(((y + 0.4) % 3.2) - 1.6) < 0.55 && y < 8
  return scale(window ? [0.015, 0.016, 0.018] : brick, side)
}

const woodTop = (x: number) => 14.5 + 5 * fbm2(x / 9, 1, 3, 11) + 2.2 * (fbm2(x * 0.9, 3, 5, 13) - 0.4)

function sky(d: Vec3): Vec3 {
  const up = Math.max(d[1], 0)
  const cloud = smoothstep(0.42, 0.72, fbm2((d[0] / (up + 0.15)) * 1.4, 2.4 / (up + 0.15), 6, 19))
  return mix(
    mix([0.46, 0.58, 0.74], [0.2, 0.34, 0.58], smoothstep(0, 0.5, up)),
    [1.05, 1.04, 1.02],
    cloud * 0.8,
  )
}

function look(o: Vec3, d: Vec3): Seen {
  const at = (z: number): readonly [number, number] => {
    const t = (z - o[2]) / d[2]
    return [o[0] + d[0] * t, o[1] + d[1] * t]
  }
  const [x, y] = at(MILL)
  if (onSail(x - HUB.x, y - HUB.y)) {
    const grain = fbm2(x * 9, y * 9, 4, 23)
    return { object: 'sails', light: mix([0.62, 0.6, 0.54], [0.86, 0.84, 0.78], grain) }
  }
  const stone = tower(x - HUB.x, y)
  if (stone) return { object: 'tower', light: scale(stone, 0.9) }
  const [wx, wy] = at(WOOD)
  const ground = -o[1] / Math.min(d[1], -1e-6)
  if (d[1] < 0 && ground * d[2] < WOOD) {
    const p = add(o, scale(d, ground))
    const blade = fbm2(p[0] * 3.2, p[2] * 1.1, 5, 29)
    return {
      object: 'meadow',
      light: mix([0.05, 0.085, 0.024], [0.2, 0.26, 0.09], clamp01(blade * 1.6 - 0.3)),
    }
  }
  if (wy < woodTop(wx)) {
    const leaf = fbm2(wx * 1.7, wy * 1.7, 6, 31)
    return { object: 'wood', light: mix([0.008, 0.012, 0.007], [0.06, 0.075, 0.03], clamp01(leaf * 2 - 0.5)) }
  }
  return { object: 'sky', light: sky(d) }
}

export const paleSails: DrawnScene = {
  id: 'pale-sails',
  title: 'Sails before the wood',
  eye: [0, 1.7, 0],
  pitch: 0.19,
  fieldOfView: 0.72,
  radiance: (o, d) => look(o, d).light,
  object: (o, d) => look(o, d).object,
}
