/** A straight edge: its ends in pixels, and how clear it is (-log10 of the number of false alarms). */
export interface StraightEdge {
  x0: number
  y0: number
  x1: number
  y1: number
  clear: number
}

/** Directions that differ by less belong to one line, degrees and as a share of all. */
const TOLERANCE = (22.5 * Math.PI) / 180
const SHARE = 0.125
/** Gradients below it are noise of quantisation: levels of 0..1. */
const FAINT = 0.011
const DENSE = 0.6

const lengthOf = (s: StraightEdge) => Math.hypot(s.x1 - s.x0, s.y1 - s.y0)

/** Smoothed by a binomial kernel of five, which is what the gradient of a sampled picture needs. */
function smoothed(grey: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(grey.length)
  const out = new Float32Array(grey.length)
  for (let y = 0; y < height; y++) {
    const o = y * width
    const at = (x: number) => grey[o + Math.min(Math.max(x, 0), width - 1)]
    for (let x = 0; x < width; x++)
      rows[o + x] = (at(x - 2) + at(x + 2) + 4 * (at(x - 1) + at(x + 1)) + 6 * at(x)) / 16
  }
  for (let y = 0; y < height; y++) {
    const line = (j: number) => Math.min(Math.max(j, 0), height - 1) * width
    const [a, b, c, d, e] = [line(y - 2), line(y - 1), y * width, line(y + 1), line(y + 2)]
    for (let x = 0; x < width; x++)
      out[c + x] = (rows[a + x] + rows[e + x] + 4 * (rows[b + x] + rows[d + x]) + 6 * rows[c + x]) / 16
  }
  return out
}

/** Gradients between four pixels each: their size, and the direction of the edge. */
function gradients(grey: Float32Array, width: number, height: number) {
  const size = new Float32Array(grey.length)
  const angle = new Float32Array(grey.length)
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const o = y * width + x
      const [a, b, c, d] = [grey[o], grey[o + 1], grey[o + width], grey[o + width + 1]]
      const gx = (b + d - a - c) / 2
      const gy = (c + d - a - b) / 2
      size[o] = Math.sqrt(gx * gx + gy * gy)
      angle[o] = Math.atan2(gx, -gy)
    }
  return { size, angle }
}

const turn = (a: number, b: number) => {
  const d = Math.abs(a - b) % (2 * Math.PI)
  return d > Math.PI ? 2 * Math.PI - d : d
}

const logFactorials: number[] = [0, 0]
const logFactorial = (n: number) => {
  for (let k = logFactorials.length; k <= n; k++) logFactorials[k] = logFactorials[k - 1] + Math.log(k)
  return logFactorials[n]
}

/** -log10 of how many such rectangles chance would make: n pixels, k of them with its direction. */
function clearness(n: number, k: number, tests: number): number {
  if (n === 0 || k === 0) return -tests
  const p = SHARE
  let term =
    logFactorial(n) - logFactorial(k) - logFactorial(n - k) + k * Math.log(p) + (n - k) * Math.log(1 - p)
  let sum = 1
  let factor = 1
  const first = term
  for (let i = k + 1; i <= n; i++) {
    factor *= ((n - i + 1) / i) * (p / (1 - p))
    sum += factor
    if (factor < 1e-9 * sum) break
  }
  term = first + Math.log(sum)
  return -term / Math.LN10 - tests
}

/**
 * Straight edges of a picture (von Gioi 2010): pixels whose gradients point alike grow into regions, each is taken as
 * a rectangle, and kept where chance would hardly have made it.
 * @param grey light as it looks, 0..1, row by row
 * @param shortest least length, pixels
 */
export function findLines(
  grey: Float32Array,
  width: number,
  height: number,
  shortest: number,
): StraightEdge[] {
  const { size, angle } = gradients(smoothed(grey, width, height), width, height)
  const used = new Uint8Array(grey.length)
  // the clearest first, by classes: a full sort is not needed
  const bins: number[][] = Array.from({ length: 1024 }, () => [])
  let most = 0
  for (const v of size) most = Math.max(most, v)
  for (let o = 0; o < size.length; o++)
    if (size[o] >= FAINT) bins[Math.min(Math.floor((size[o] / most) * 1023), 1023)].push(o)
  const tests = 2.5 * Math.log10(width * height)
  const out: StraightEdge[] = []
  const region = new Int32Array(grey.length)
  for (let bin = 1023; bin >= 0; bin--)
    for (const seed of bins[bin]) {
      if (used[seed]) continue
      let count = 0
      let sx = Math.cos(angle[seed])
      let sy = Math.sin(angle[seed])
      let way = angle[seed]
      region[count++] = seed
      used[seed] = 1
      for (let i = 0; i < count; i++) {
        const x = region[i] % width
        const y = (region[i] - x) / width
        for (let dy = -1; dy <= 1; dy++)
          for (let dx = -1; dx <= 1; dx++) {
            const nx = x + dx
            const ny = y + dy
            if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue
            const o = ny * width + nx
            if (used[o] || size[o] < FAINT || turn(angle[o], way) > TOLERANCE) continue
            used[o] = 1
            region[count++] = o
            sx += Math.cos(angle[o])
            sy += Math.sin(angle[o])
            way = Math.atan2(sy, sx)
          }
      }
      if (count < shortest) continue
      const found = rectangle(region, count, size, angle, width, way, tests)
      if (found && lengthOf(found) >= shortest) out.push(found)
    }
  return out
}

/** A region as a rectangle: its axis by the moments of its gradients, its ends by its farthest pixels. */
function rectangle(
  region: Int32Array,
  count: number,
  size: Float32Array,
  angle: Float32Array,
  width: number,
  way: number,
  tests: number,
): StraightEdge | undefined {
  let [sum, cx, cy] = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    const o = region[i]
    const w = size[o]
    const x = o % width
    sum += w
    cx += w * x
    cy += (w * (o - x)) / width
  }
  cx /= sum
  cy /= sum
  let [xx, yy, xy] = [0, 0, 0]
  for (let i = 0; i < count; i++) {
    const o = region[i]
    const w = size[o]
    const px = o % width
    const x = px - cx
    const y = (o - px) / width - cy
    xx += w * x * x
    yy += w * y * y
    xy += w * x * y
  }
  let theta = 0.5 * Math.atan2(2 * xy, xx - yy)
  if (turn(theta, way) > Math.PI / 2) theta += Math.PI
  const [c, s] = [Math.cos(theta), Math.sin(theta)]
  let [from, to, left, right, aligned] = [0, 0, 0, 0, 0]
  for (let i = 0; i < count; i++) {
    const o = region[i]
    const px = o % width
    const x = px - cx
    const y = (o - px) / width - cy
    const along = x * c + y * s
    const across = y * c - x * s
    from = Math.min(from, along)
    to = Math.max(to, along)
    left = Math.min(left, across)
    right = Math.max(right, across)
    if (turn(angle[o], theta) <= TOLERANCE) aligned++
  }
  const area = Math.ceil(to - from + 1) * Math.ceil(right - left + 1)
  if (count / area < DENSE * 0.7) return undefined
  const clear = clearness(area, Math.min(aligned, area), tests)
  if (clear < 0) return undefined
  // gradients lie between four pixels
  const at = (k: number) => [cx + k * c + 1, cy + k * s + 1]
  const [a, b] = [at(from), at(to)]
  return { x0: a[0], y0: a[1], x1: b[0], y1: b[1], clear }
}

/**
 * Follows the edge under a line that somebody drew: at steps along it the strongest change across it, held together
 * so that it runs smoothly (dynamic programming), to a fraction of a pixel.
 * @param reach how far from the drawn line the edge may lie, pixels
 * @returns places along the edge; undefined where there is none
 */
export function traceEdge(
  grey: Float32Array,
  width: number,
  height: number,
  from: readonly [number, number],
  to: readonly [number, number],
  reach: number,
): [number, number][] | undefined {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1])
  const steps = Math.min(Math.max(Math.round(length / 6), 8), 120)
  if (length < 12) return undefined
  const [dx, dy] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length]
  const places = 2 * reach + 1
  const at = (x: number, y: number) => {
    const fx = Math.min(Math.max(x - 0.5, 0), width - 1.001)
    const fy = Math.min(Math.max(y - 0.5, 0), height - 1.001)
    const ix = Math.floor(fx)
    const iy = Math.floor(fy)
    const o = iy * width + ix
    const [u, v] = [fx - ix, fy - iy]
    const top = grey[o] + u * (grey[o + 1] - grey[o])
    const low = grey[o + width] + u * (grey[o + width + 1] - grey[o + width])
    return top + v * (low - top)
  }
  // change across the line, averaged a little along it
  const change = new Float32Array((steps + 1) * places)
  for (let i = 0; i <= steps; i++)
    for (let k = 0; k < places; k++) {
      const d = k - reach
      let sum = 0
      for (const along of [-2, 0, 2]) {
        const x = from[0] + dx * ((length * i) / steps + along) - dy * d
        const y = from[1] + dy * ((length * i) / steps + along) + dx * d
        sum += at(x - dy, y + dx) - at(x + dy, y - dx)
      }
      change[i * places + k] = sum / 3
    }
  const path = (sign: number) => {
    const score = new Float32Array(change.length)
    const back = new Int16Array(change.length)
    for (let k = 0; k < places; k++) score[k] = sign * change[k]
    for (let i = 1; i <= steps; i++)
      for (let k = 0; k < places; k++) {
        let best = -1e9
        for (let b = -2; b <= 2; b++) {
          const j = k + b
          if (j < 0 || j >= places) continue
          const s = score[(i - 1) * places + j] - 0.01 * b * b
          if (s > best) {
            best = s
            back[i * places + k] = j
          }
        }
        score[i * places + k] = best + sign * change[i * places + k]
      }
    let k = 0
    for (let j = 1; j < places; j++) if (score[steps * places + j] > score[steps * places + k]) k = j
    const total = score[steps * places + k] / (steps + 1)
    const ks = new Array<number>(steps + 1)
    for (let i = steps; i >= 0; i--) {
      ks[i] = k
      k = back[i * places + k]
    }
    return { total, ks, sign }
  }
  const up = path(1)
  const down = path(-1)
  const best = up.total >= down.total ? up : down
  if (best.total < 0.012) return undefined
  const out: [number, number][] = []
  best.ks.forEach((k, i) => {
    const value = (j: number) => best.sign * change[i * places + Math.min(Math.max(j, 0), places - 1)]
    const [a, b, c] = [value(k - 1), value(k), value(k + 1)]
    if (b < best.total * 0.35) return
    const bend = a - 2 * b + c
    const d =
      k -
      reach +
      (bend < 0 && k > 0 && k < places - 1 ? Math.min(Math.max((a - c) / (2 * bend), -0.5), 0.5) : 0)
    out.push([from[0] + dx * ((length * i) / steps) - dy * d, from[1] + dy * ((length * i) / steps) + dx * d])
  })
  return out.length >= 6 ? out : undefined
}
