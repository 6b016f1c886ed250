/** How far outward red and blue lie from green in one block of the picture. */
export interface FringeSample {
  /** Of the block's middle, half diagonals. */
  radius: number
  /** Half diagonals; positive where the channel lies farther out than green. */
  red: number
  blue: number
  /** How much the block has to say on each. */
  redWeight: number
  blueWeight: number
}

/** Light below it is noise. */
const FLOOR = 0.004

/**
 * Compares a channel with green over a block: where a place of green moved outward by `shift` explains it best, with
 * gain and offset free, by least squares and Newton's steps (Lucas and Kanade 1981), on logarithms.
 * @param green, other logarithms of light, row by row
 * @param away unit vector from the middle of the picture
 */
function shiftOf(
  green: Float32Array,
  other: Float32Array,
  size: number,
  away: readonly [number, number],
  margin: number,
): { shift: number; weight: number } {
  const at = (x: number, y: number) => {
    const ix = Math.floor(x)
    const iy = Math.floor(y)
    const u = x - ix
    const v = y - iy
    const o = iy * size + ix
    const top = green[o] + u * (green[o + 1] - green[o])
    const low = green[o + size] + u * (green[o + size + 1] - green[o + size])
    return top + v * (low - top)
  }
  let shift = 0
  let weight = 0
  for (let round = 0; round < 5; round++) {
    let [n, g, gg, d, dd, gd, o, og, od, oo] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0]
    for (let y = margin; y < size - margin; y++)
      for (let x = margin; x < size - margin; x++) {
        const px = x - shift * away[0]
        const py = y - shift * away[1]
        const value = at(px, py)
        const slope = (at(px + away[0], py + away[1]) - at(px - away[0], py - away[1])) / 2
        const seen = other[y * size + x]
        n++
        g += value
        gg += value * value
        d += slope
        dd += slope * slope
        gd += value * slope
        o += seen
        og += seen * value
        od += seen * slope
        oo += seen * seen
      }
    // other = a + b green + c slope, the middle taken out
    const vgg = gg - (g * g) / n
    const vdd = dd - (d * d) / n
    const vgd = gd - (g * d) / n
    const vog = og - (o * g) / n
    const vod = od - (o * d) / n
    const voo = oo - (o * o) / n
    const det = vgg * vdd - vgd * vgd
    if (!(det > 1e-12)) return { shift: 0, weight: 0 }
    const b = (vog * vdd - vod * vgd) / det
    const c = (vod * vgg - vog * vgd) / det
    if (b < 0.25) return { shift: 0, weight: 0 }
    const left = Math.max(voo - b * vog - c * vod, 0) / n
    weight = vdd / (left + 1e-4)
    const step = Math.min(Math.max(-c / b, -1.5), 1.5)
    shift += step
    if (Math.abs(shift) > margin - 2) return { shift: 0, weight: 0 }
    if (Math.abs(step) < 0.003) break
  }
  return { shift, weight }
}

/**
 * What a square block says about lateral fringes.
 * @param block light of red, green and blue, row by row, `size` a side
 * @param middle of the block, pixels from the middle of the picture
 * @param half half the picture's diagonal in the same pixels
 */
export function sampleFringes(
  block: readonly Float32Array[],
  size: number,
  middle: readonly [number, number],
  half: number,
): FringeSample | undefined {
  const far = Math.hypot(...middle)
  if (far < half * 0.12) return undefined
  const logs = block.map((p) => Float32Array.from(p, (v) => Math.log2(Math.max(v, 0) + FLOOR)))
  const away = [middle[0] / far, middle[1] / far] as const
  const red = shiftOf(logs[1], logs[0], size, away, 8)
  const blue = shiftOf(logs[1], logs[2], size, away, 8)
  if (red.weight === 0 && blue.weight === 0) return undefined
  return {
    radius: far / half,
    red: red.shift / half,
    blue: blue.shift / half,
    redWeight: red.weight,
    blueWeight: blue.weight,
  }
}

/** Size and edge of one channel: displacement = r (size + edge r^2), by weighted least squares that outliers leave cold. */
function fitOne(samples: readonly { r: number; d: number; w: number }[]): { size: number; edge: number } {
  let [size, edge] = [0, 0]
  let weights = samples.map((s) => Math.min(s.w, 2000))
  for (let round = 0; round < 12; round++) {
    let [a, b, c, p, q] = [0, 0, 0, 0, 0]
    samples.forEach(({ r, d }, i) => {
      const w = weights[i]
      const r3 = r * r * r
      a += w * r * r
      b += w * r * r3
      c += w * r3 * r3
      p += w * r * d
      q += w * r3 * d
    })
    // held back a little: the two terms look alike
    const ridge = 1e-4 * (a + c)
    const det = (a + ridge) * (c + ridge) - b * b
    if (!(det > 0)) break
    size = (p * (c + ridge) - q * b) / det
    edge = (q * (a + ridge) - p * b) / det
    const off = samples.map(({ r, d }) => Math.abs(d - r * (size + edge * r * r)))
    const usual = [...off].sort((x, y) => x - y)[Math.floor(off.length / 2)] + 1e-6
    weights = samples.map((s, i) => Math.min(s.w, 2000) / (1 + (off[i] / (1.5 * usual)) ** 2) ** 2)
  }
  return { size, edge }
}

/** Fewest blocks that must have something to say. */
const ENOUGH = 24

/** Fringes of the whole picture from its blocks, as the settings have them; undefined where too few of them say enough. */
export function fitFringes(samples: readonly FringeSample[]) {
  const clear = (w: (s: FringeSample) => number) => samples.filter((s) => w(s) > 60)
  const reds = clear((s) => s.redWeight)
  const blues = clear((s) => s.blueWeight)
  if (reds.length < ENOUGH || blues.length < ENOUGH) return undefined
  const red = fitOne(reds.map((s) => ({ r: s.radius, d: s.red, w: s.redWeight })))
  const blue = fitOne(blues.map((s) => ({ r: s.radius, d: s.blue, w: s.blueWeight })))
  return { redSize: red.size, redEdge: red.edge, blueSize: blue.size, blueEdge: blue.edge }
}
