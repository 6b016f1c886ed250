import { fbm2, hash } from '../render/noise'

/** A picture of light alone, as it looks (square root of light), with what is true of the camera that took it. */
export interface TownPicture {
  width: number
  height: number
  grey: Float32Array
  /** Focal length in half diagonals of the picture. */
  focal: number
  /** Down and along the nearest wall, as the camera saw them: x right, y down, z into the scene. */
  down: readonly [number, number, number]
  level: readonly [number, number, number]
}

type Vec = readonly [number, number, number]

/** A world direction (x along the wall, y down, z away) as a camera sees it that is turned, looks up and leans. */
function seen([x, y, z]: Vec, yaw: number, pitch: number, roll: number): Vec {
  const [cy, sy] = [Math.cos(yaw), Math.sin(yaw)]
  const [x1, z1] = [cy * x - sy * z, sy * x + cy * z]
  const [cp, sp] = [Math.cos(pitch), Math.sin(pitch)]
  const [y2, z2] = [cp * y + sp * z1, -sp * y + cp * z1]
  const [cr, sr] = [Math.cos(roll), Math.sin(roll)]
  return [cr * x1 + sr * y2, -sr * x1 + cr * y2, z2]
}

/** Wall of houses: windows in storeys, cornices, doors, each house with measures of its own. */
function wall(u: number, v: number, seed: number): number {
  const house = Math.floor(u / 11)
  const h = (k: number) => hash(house, k, seed)
  const top = 7 + 5 * h(1)
  if (v > top) return -1
  const base = 0.25 + 0.4 * h(2)
  const texture = 0.1 * (fbm2(u * 3, v * 3, 3, seed + 5) - 0.5)
  const across = 1.6 + 1.4 * h(3)
  const storey = 2.7 + 0.7 * h(4)
  const cu = u / across
  const cv = (v - 0.5) / storey
  const fu = cu - Math.floor(cu)
  const fv = cv - Math.floor(cv)
  const on = hash(Math.floor(cu), Math.floor(cv) * 7 + house, seed + 9)
  if (v > top - 0.35) return base * 1.25
  if (cv > 0 && Math.floor(cv + 0.5) < top / storey && fu > 0.28 && fu < 0.74 && fv > 0.3 && fv < 0.82) {
    if (on < 0.12) return base + texture
    const frame = fu < 0.32 || fu > 0.7 || fv < 0.34 || fv > 0.78 || Math.abs(fu - 0.51) < 0.015
    return frame ? 0.75 : 0.06 + 0.12 * on
  }
  if (Math.abs(fv) < 0.03 && cv > 0.9) return base * 0.8
  const edge = u / 11 - house
  return edge < 0.012 ? base * 0.6 : base + texture
}

/**
 * A street of houses, seen by a camera of which nothing is level: with trees in front and noise.
 * @param seed other houses, other camera
 */
export function town(seed: number, width = 1080, height = 720): TownPicture {
  const h = (k: number) => hash(seed, k, 77)
  const yaw = (h(1) - 0.5) * 0.9
  const pitch = (h(2) - 0.15) * 0.34
  const roll = (h(3) - 0.5) * 0.2
  const half = Math.hypot(width, height) / 2
  const focal = (20 + 20 * h(4)) / 21.6333
  const depth = 9 + 9 * h(5)
  const trees = Array.from({ length: Math.floor(4 * h(6)) }, (_, i) => ({
    x: (hash(seed, i, 41) - 0.5) * 16,
    y: 2 + 2 * hash(seed, i, 42),
    r: 0.8 + 1.4 * hash(seed, i, 43),
  }))
  const light = (px: number, py: number) => {
    // rows of the world's axes as the camera sees them are the way back
    const d: Vec = [(px - width / 2) / half, (py - height / 2) / half, focal]
    const axis = (a: Vec) => {
      const s = seen(a, yaw, pitch, roll)
      return s[0] * d[0] + s[1] * d[1] + s[2] * d[2]
    }
    const [x, y, z] = [axis([1, 0, 0]), axis([0, 1, 0]), axis([0, 0, 1])]
    if (z > 0.01) {
      for (const t of trees) {
        const k = (depth * 0.6) / z
        const [tx, ty] = [x * k - t.x, 1.6 - y * k - t.y]
        const rim = t.r * (0.8 + 0.5 * fbm2(tx * 3 + 9, ty * 3, 3, seed + 3))
        if (tx * tx + ty * ty < rim * rim) return 0.05 + 0.22 * fbm2(tx * 9, ty * 9, 4, seed + 4)
        if (Math.abs(tx + 0.1 * Math.sin(ty * 3)) < 0.12 && ty < 0) return 0.06
      }
      const k = depth / z
      const v = 1.6 - y * k
      if (v > 0) {
        const lit = wall(x * k + 300, v, seed)
        if (lit >= 0) return lit
      }
    }
    if (y > 0.002) {
      const k = 1.6 / y
      return 0.22 + 0.14 * fbm2(x * k * 2, z * k * 2, 4, seed + 6)
    }
    return 0.75 - 0.3 * fbm2(x / (0.3 - y) + 5, z / (0.3 - y), 4, seed + 7)
  }
  return {
    ...{ width, height, focal },
    grey: exposed(width, height, seed, light),
    down: seen([0, 1, 0], yaw, pitch, roll),
    level: seen([1, 0, 0], yaw, pitch, roll),
  }
}

/** A thicket, clouds, or pebbles: edges without number, none of them straight. */
export function thicket(
  seed: number,
  width = 1080,
  height = 720,
): Omit<TownPicture, 'down' | 'level' | 'focal'> {
  const kind = seed % 3
  const light = (x: number, y: number) => {
    const [u, v] = [x / 60, y / 60]
    if (kind === 0) return 0.05 + 0.7 * fbm2(u * 3, v * 3, 5, seed) ** 2
    if (kind === 1) return 0.3 + 0.5 * fbm2(u * 0.4, v * 0.7, 6, seed)
    // pebbles: the nearest of scattered middles
    let [near, next, id] = [9, 9, 0]
    const [cx, cy] = [Math.floor(u), Math.floor(v)]
    for (let j = -1; j <= 1; j++)
      for (let i = -1; i <= 1; i++) {
        const px = cx + i + hash(cx + i, cy + j, seed)
        const py = cy + j + hash(cx + i, cy + j, seed + 1)
        const d = Math.hypot(u - px, v - py) + 0.1 * fbm2(u * 4, v * 4, 2, seed + 2)
        if (d < near) {
          next = near
          near = d
          id = hash(cx + i, cy + j, seed + 3)
        } else next = Math.min(next, d)
      }
    return Math.min(0.15 + 0.5 * id, (next - near) * 2 + 0.03)
  }
  return { width, height, grey: exposed(width, height, seed, light) }
}

/** Four samples a pixel, a little noise, and the square root of it. */
function exposed(
  width: number,
  height: number,
  seed: number,
  light: (x: number, y: number) => number,
): Float32Array {
  const grey = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0
      for (const [dx, dy] of [
        [0.25, 0.3],
        [0.75, 0.2],
        [0.2, 0.8],
        [0.7, 0.7],
      ])
        sum += light(x + dx, y + dy)
      const noise = hash(x, y, seed + 50) + hash(x, y, seed + 51) + hash(x, y, seed + 52) - 1.5
      grey[y * width + x] = Math.sqrt(Math.max(sum / 4, 0)) + 0.016 * noise
    }
  return grey
}
