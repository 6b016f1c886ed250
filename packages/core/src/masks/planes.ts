/** A plane of numbers, line by line without room between lines. */
export interface Plane {
  width: number
  height: number
  values: Float32Array
}

/** Means along the lines of a plane, kept from one use to the next: new room costs as much as the sums. */
let alongLines = new Float32Array(0)

/** Mean over a square around each number, as much of it as there is. @param r half its side, at least 1 */
export function boxMean({ width, height, values }: Plane, r: number): Float32Array {
  if (alongLines.length < values.length) alongLines = new Float32Array(values.length)
  const across = alongLines
  const whole = 1 / (2 * r + 1)
  // where the square reaches beyond neither end
  const [first, last] = [Math.min(r + 1, width), Math.max(width - r, 0)]
  const head = (line: number) => {
    let sum = 0
    for (let x = 0; x < Math.min(r, width); x++) sum += values[line + x]
    return ends(line, sum, 0, first)
  }
  const ends = (line: number, sum: number, from: number, to: number) => {
    for (let x = from; x < to; x++) {
      if (x + r < width) sum += values[line + x + r]
      if (x - r > 0) sum -= values[line + x - r - 1]
      across[line + x] = sum / (Math.min(x + r, width - 1) - Math.max(x - r, 0) + 1)
    }
    return sum
  }
  const tail = Math.max(first, last)
  let y = 0
  // four lines at once: a sum waits for the one before it
  for (; y + 3 < height; y += 4) {
    const [k, l, m, n] = [y * width, (y + 1) * width, (y + 2) * width, (y + 3) * width]
    let [p, q, s, t] = [head(k), head(l), head(m), head(n)]
    for (let x = first, enters = first + r, leaves = first - r - 1; x < last; x++, enters++, leaves++) {
      p += values[k + enters] - values[k + leaves]
      q += values[l + enters] - values[l + leaves]
      s += values[m + enters] - values[m + leaves]
      t += values[n + enters] - values[n + leaves]
      across[k + x] = p * whole
      across[l + x] = q * whole
      across[m + x] = s * whole
      across[n + x] = t * whole
    }
    ends(k, p, tail, width)
    ends(l, q, tail, width)
    ends(m, s, tail, width)
    ends(n, t, tail, width)
  }
  for (; y < height; y++) {
    const line = y * width
    let sum = head(line)
    for (let x = first; x < last; x++) {
      sum += values[line + x + r] - values[line + x - r - 1]
      across[line + x] = sum * whole
    }
    ends(line, sum, tail, width)
  }
  const out = new Float32Array(values.length)
  const sums = new Float64Array(width)
  for (let j = 0; j < Math.min(r, height); j++)
    for (let x = 0; x < width; x++) sums[x] += across[j * width + x]
  for (let j = 0; j < height; j++) {
    const [enters, leaves, line] = [(j + r) * width, (j - r - 1) * width, j * width]
    const per = 1 / (Math.min(j + r, height - 1) - Math.max(j - r, 0) + 1)
    if (j + r < height && j - r > 0)
      for (let x = 0; x < width; x++) {
        const sum = sums[x] + (across[enters + x] - across[leaves + x])
        sums[x] = sum
        out[line + x] = sum * per
      }
    else {
      if (j + r < height) for (let x = 0; x < width; x++) sums[x] += across[enters + x]
      if (j - r > 0) for (let x = 0; x < width; x++) sums[x] -= across[leaves + x]
      for (let x = 0; x < width; x++) out[line + x] = sums[x] * per
    }
  }
  return out
}

/** Boxes one after the other that come close to a Gaussian (Wells 1986). */
const BOXES = 3

/** A plane made soft. @param sigma of the Gaussian, its own pixels */
export function blurred(plane: Plane, sigma: number): Float32Array {
  const side = Math.sqrt((12 * sigma * sigma) / BOXES + 1)
  const [r, part] = [Math.floor((side - 1) / 2), ((side - 1) / 2) % 1]
  let { values } = plane
  for (let i = 0; i < BOXES; i++) {
    const small = r > 0 ? boxMean({ ...plane, values }, r) : values
    const large = boxMean({ ...plane, values }, r + 1)
    // sizes between two boxes, so that nothing jumps
    values = small.map((v, k) => v + part * (large[k] - v))
  }
  return values
}

/**
 * Largest number in a square around each, or the smallest; windows of 1, 2, 4 and so on, then two that overlap.
 * @param r half its side, a few pixels; less than 0 for the smallest
 */
export function extremeInSquare({ width, height, values }: Plane, r: number): Float32Array {
  const half = Math.abs(r)
  const side = 2 * half + 1
  const sign = r < 0 ? -1 : 1
  const [wide, tall] = [width + 2 * half, height + 2 * half]
  const room = new Float32Array(wide * tall).fill(-Infinity)
  for (let y = 0; y < height; y++) {
    const to = (y + half) * wide + half
    for (let x = 0; x < width; x++) room[to + x] = sign * values[y * width + x]
  }
  const along = (step: number) => {
    const larger = (by: number) => {
      for (let i = 0, j = by * step; j < room.length; i++, j++) if (room[j] > room[i]) room[i] = room[j]
    }
    let size = 1
    for (; 2 * size <= side; size *= 2) larger(size)
    if (side > size) larger(side - size)
  }
  along(1)
  along(wide)
  const out = new Float32Array(values.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out[y * width + x] = sign * room[y * wide + x]
  return out
}

type Pick = (a: number, b: number) => number

/**
 * Largest or smallest number along a line around each (van Herk 1992).
 * @param dx, dy from one to the next
 * @param half numbers to either side
 */
function along({ width, height, values }: Plane, dx: 0 | 1, dy: 0 | 1 | -1, half: number, pick: Pick): void {
  const most = Math.max(width, height)
  const [line, forth, back] = [0, 1, 2].map(() => new Float32Array(most + 2 * half + 2))
  const none = pick(-Infinity, Infinity) === Infinity ? -Infinity : Infinity
  const size = 2 * half + 1
  const run = (x: number, y: number) => {
    let n = 0
    for (let [i, j] = [x, y]; i < width && j >= 0 && j < height; i += dx, j += dy)
      line[n++] = values[j * width + i]
    const padded = n + 2 * half
    for (let k = padded - 1; k >= 0; k--) line[k] = k < half || k >= n + half ? none : line[k - half]
    for (let k = 0; k < padded; k++) forth[k] = k % size === 0 ? line[k] : pick(forth[k - 1], line[k])
    for (let k = padded - 1; k >= 0; k--)
      back[k] = k % size === size - 1 || k === padded - 1 ? line[k] : pick(back[k + 1], line[k])
    for (let k = 0, at = y * width + x; k < n; k++, at += dy * width + dx)
      values[at] = pick(back[k], forth[k + size - 1])
  }
  if (dx === 0) for (let x = 0; x < width; x++) run(x, 0)
  else for (let y = 0; y < height; y++) run(0, y)
  if (dx === 1 && dy !== 0) for (let x = 1; x < width; x++) run(x, dy > 0 ? 0 : height - 1)
}

/** Largest or smallest number in an octagon around each, in place. @param r its inner radius */
function inOctagon(plane: Plane, r: number, pick: Pick): void {
  // segments along and across, and along the diagonals, whose sum it is
  const slant = Math.round(r * (1 - Math.SQRT1_2))
  const straight = r - 2 * slant
  if (straight > 0) {
    along(plane, 1, 0, straight, pick)
    along(plane, 0, 1, straight, pick)
  }
  if (slant > 0) {
    along(plane, 1, 1, slant, pick)
    along(plane, 1, -1, slant, pick)
  }
}

/** What is bright becomes larger all around; with less than 0 smaller. @param by pixels, also parts of one */
export function grown(plane: Plane, by: number): Float32Array {
  const pick = by > 0 ? Math.max : Math.min
  const r = Math.floor(Math.abs(by))
  const part = Math.abs(by) - r
  const less = { ...plane, values: plane.values.slice() }
  inOctagon(less, r, pick)
  if (part === 0) return less.values
  const more = { ...plane, values: plane.values.slice() }
  inOctagon(more, r + 1, pick)
  return less.values.map((v, i) => v + part * (more.values[i] - v))
}

/** Sweeps after which what is left to be reached is given up. */
const MOST_SWEEPS = 40

/**
 * Without bright places that hold no octagon of a radius; all others keep their form (opening by reconstruction,
 * Vincent 1993).
 * @param r pixels
 */
export function withoutSpecks(plane: Plane, r: number): Float32Array {
  const { width, height, values } = plane
  const marker = { ...plane, values: values.slice() }
  inOctagon(marker, Math.max(Math.round(r), 1), Math.min)
  const out = marker.values
  const reach = (i: number, by: readonly number[], x: number) => {
    let v = out[i]
    for (const d of by) {
      const side =
        d === 1 || d === width + 1 || d === 1 - width
          ? 1
          : d === -1 || d === -width - 1 || d === width - 1
            ? -1
            : 0
      if (x + side < 0 || x + side >= width) continue
      const other = out[i + d]
      if (other > v) v = other
    }
    v = Math.min(v, values[i])
    if (v === out[i]) return false
    out[i] = v
    return true
  }
  const [before, after] = [
    [-1, -width - 1, -width, 1 - width],
    [1, width + 1, width, width - 1],
  ]
  for (let sweep = 0, moved = true; moved && sweep < MOST_SWEEPS; sweep++) {
    moved = false
    for (let i = 0; i < out.length; i++) {
      const by = i < width ? before.slice(0, 1) : before
      if (reach(i, by, i % width)) moved = true
    }
    for (let i = out.length - 1; i >= 0; i--) {
      const by = i >= width * (height - 1) ? after.slice(0, 1) : after
      if (reach(i, by, i % width)) moved = true
    }
  }
  return out
}
