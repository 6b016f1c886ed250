/** Integer hash to [0, 1): the same everywhere, no state, so any crop of a scene repeats exactly. */
export function hash(x: number, y: number, z = 0): number {
  let h = Math.imul(x | 0, 0x27d4eb2d) ^ Math.imul(y | 0, 0x165667b1) ^ Math.imul(z | 0, 0x1b873593)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296
}

const fade = (t: number) => t * t * (3 - 2 * t)

/** Value noise in the plane, 0..1, one cell a unit. */
export function noise2(x: number, y: number, seed = 0): number {
  const ix = Math.floor(x)
  const iy = Math.floor(y)
  const fx = fade(x - ix)
  const fy = fade(y - iy)
  const a = hash(ix, iy, seed)
  const b = hash(ix + 1, iy, seed)
  const c = hash(ix, iy + 1, seed)
  const d = hash(ix + 1, iy + 1, seed)
  return a + (b - a) * fx + (c - a + (a - b - c + d) * fx) * fy
}

/** Value noise in space, 0..1. */
export function noise3(x: number, y: number, z: number, seed = 0): number {
  const iz = Math.floor(z)
  const f = fade(z - iz)
  const a = noise2(x, y, seed + iz * 131)
  return a + (noise2(x, y, seed + (iz + 1) * 131) - a) * f
}

/** Sum of octaves of plane noise, normalised to about 0..1. */
export function fbm2(x: number, y: number, octaves: number, seed = 0): number {
  let sum = 0
  let amplitude = 0.5
  let total = 0
  for (let i = 0; i < octaves; i++) {
    sum += amplitude * noise2(x, y, seed + i * 17)
    total += amplitude
    amplitude *= 0.5
    const u = x * 1.6 + y * 1.2 + 3.1
    y = y * 1.6 - x * 1.2 + 1.7
    x = u
  }
  return sum / total
}

/** Sum of octaves of space noise, normalised to about 0..1. */
export function fbm3(x: number, y: number, z: number, octaves: number, seed = 0): number {
  let sum = 0
  let amplitude = 0.5
  let total = 0
  for (let i = 0; i < octaves; i++) {
    sum += amplitude * noise3(x, y, z, seed + i * 17)
    total += amplitude
    amplitude *= 0.5
    x = x * 2.03 + 1.3
    y = y * 2.01 + 2.7
    z = z * 2.02 + 0.9
  }
  return sum / total
}
