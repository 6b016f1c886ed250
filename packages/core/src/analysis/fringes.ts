import { cubic } from '../math'

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

/** Shifts that are compared, pixels to either side; beyond it what interpolation between them needs. */
const REACH = 4
const SPAN = REACH + 3
/** Side of the mean that is taken off, so that shading does not count. */
const MEAN = 4

/** One colour of a block: its light, and where it was measured. */
export interface Channel {
  values: Float32Array
  there: Uint8Array
}

/** Mean of what was measured around each place, weighed 1 2 1 both ways or evenly over more. */
function around({ values, there }: Channel, size: number, reach: number, even: boolean): Float32Array {
  const weigh = (k: number) => (even ? 1 : reach + 1 - Math.abs(k))
  const rows = new Float32Array(values.length)
  const counts = new Float32Array(values.length)
  const out = new Float32Array(values.length)
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      let [sum, n] = [0, 0]
      for (let k = Math.max(-reach, -x); k <= Math.min(reach, size - 1 - x); k++) {
        const o = y * size + x + k
        if (!there[o]) continue
        sum += weigh(k) * values[o]
        n += weigh(k)
      }
      rows[y * size + x] = sum
      counts[y * size + x] = n
    }
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      let [sum, n] = [0, 0]
      for (let k = Math.max(-reach, -y); k <= Math.min(reach, size - 1 - y); k++) {
        sum += weigh(k) * rows[(y + k) * size + x]
        n += weigh(k) * counts[(y + k) * size + x]
      }
      out[y * size + x] = n > 0 ? sum / n : 0
    }
  return out
}

/** A channel without its slow changes. */
function detail(channel: Channel, size: number): Channel {
  const mean = around(channel, size, MEAN, true)
  return { ...channel, values: channel.values.map((v, i) => v - mean[i]) }
}

/**
 * How far outward a channel lies from green in a block. Their correlation over all small shifts is symmetric about
 * the shift between them, whatever the noise, which is not the same in both: the shift is where what is left of
 * asymmetry vanishes.
 * @param away unit vector from the middle of the picture
 */
function shiftOf(
  green: Float32Array,
  { values: other, there }: Channel,
  size: number,
  away: readonly [number, number],
): { shift: number; weight: number } {
  const side = 2 * SPAN + 1
  const correlation = new Float64Array(side * side)
  let [gg, oo] = [0, 0]
  for (let y = SPAN; y < size - SPAN; y++)
    for (let x = SPAN; x < size - SPAN; x++) {
      if (!there[y * size + x]) continue
      const v = other[y * size + x]
      oo += v * v
      gg += green[y * size + x] ** 2
      for (let j = -SPAN; j <= SPAN; j++) {
        const from = (y - j) * size + x
        const to = (j + SPAN) * side + SPAN
        for (let i = -SPAN; i <= SPAN; i++) correlation[to + i] += v * green[from - i]
      }
    }
  const at = (x: number, y: number) => {
    const ix = Math.min(Math.max(Math.floor(x), -SPAN), SPAN - 1)
    const iy = Math.min(Math.max(Math.floor(y), -SPAN), SPAN - 1)
    const [u, v] = [x - ix, y - iy]
    let sum = 0
    for (let j = -1; j <= 2; j++) {
      const row = (Math.min(Math.max(iy + j, -SPAN), SPAN) + SPAN) * side + SPAN
      const wy = cubic(v - j)
      for (let i = -1; i <= 2; i++)
        sum += cubic(u - i) * wy * correlation[row + Math.min(Math.max(ix + i, -SPAN), SPAN)]
    }
    return sum
  }
  let shift = 0
  let slopes = 0
  let odd = 0
  for (let round = 0; round < 8; round++) {
    slopes = 0
    odd = 0
    let across = 0
    const [sx, sy] = [shift * away[0], shift * away[1]]
    const even = (x: number, y: number) => at(sx + x, sy + y) + at(sx - x, sy - y)
    for (let y = -3; y <= 3; y++)
      for (let x = -3; x <= 3; x++) {
        const slope = (even(x + away[0], y + away[1]) - even(x - away[0], y - away[1])) / 4
        const lopsided = (at(sx + x, sy + y) - at(sx - x, sy - y)) / 2
        slopes += slope * slope
        across += slope * lopsided
        odd += lopsided * lopsided
      }
    if (!(slopes > 0)) return { shift: 0, weight: 0 }
    const step = -across / slopes
    shift += Math.min(Math.max(step, -1), 1)
    if (Math.abs(shift) > REACH) return { shift: 0, weight: 0 }
    if (Math.abs(step) < 0.002) break
  }
  // what of both is one and the same thing; little in a block of noise
  const common = at(shift * away[0], shift * away[1]) / Math.sqrt(gg * oo + 1e-12)
  if (common < 0.25) return { shift: 0, weight: 0 }
  return { shift, weight: (slopes / (odd + 0.02 * slopes)) * common * common }
}

/**
 * What a square block of the sensor says about lateral fringes: red and blue where they were measured, against green
 * between its own places. What a demosaic makes of them would not do: it takes the channels to lie on one another.
 * @param channels light of red, green and blue, row by row, `size` a side
 * @param middle of the block, pixels from the middle of the picture
 * @param half half the picture's diagonal
 */
export function sampleFringes(
  channels: readonly Channel[],
  size: number,
  middle: readonly [number, number],
  half: number,
): FringeSample | undefined {
  const far = Math.sqrt(middle[0] ** 2 + middle[1] ** 2)
  if (far < half * 0.12) return undefined
  const away = [middle[0] / far, middle[1] / far] as const
  const [r, g, b] = channels.map((c) => ({
    there: c.there,
    values: c.values.map((v) => Math.log2(Math.max(v, 0) + FLOOR)),
  }))
  const everywhere = new Uint8Array(size * size).fill(1)
  const green = detail({ values: around(g, size, 1, false), there: everywhere }, size).values
  const red = shiftOf(green, detail(r, size), size, away)
  const blue = shiftOf(green, detail(b, size), size, away)
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
  let weights = samples.map((s) => s.w)
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
    weights = samples.map((s, i) => s.w / (1 + (off[i] / (1.5 * usual)) ** 2) ** 2)
  }
  return { size, edge }
}

/** Fewest blocks that must have something to say. */
const ENOUGH = 24

/** Fringes of the whole picture from its blocks, as the settings have them; undefined where too few of them say enough. */
export function fitFringes(samples: readonly FringeSample[]) {
  const clear = (w: (s: FringeSample) => number) => samples.filter((s) => w(s) > 0)
  const reds = clear((s) => s.redWeight)
  const blues = clear((s) => s.blueWeight)
  if (reds.length < ENOUGH || blues.length < ENOUGH) return undefined
  const red = fitOne(reds.map((s) => ({ r: s.radius, d: s.red, w: s.redWeight })))
  const blue = fitOne(blues.map((s) => ({ r: s.radius, d: s.blue, w: s.blueWeight })))
  return { redSize: red.size, redEdge: red.edge, blueSize: blue.size, blueEdge: blue.edge }
}
