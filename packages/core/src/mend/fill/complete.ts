import type { Kernels } from '../../kernels/kernels'
import type { Scratch } from '../../memory'
import type { Rect } from '../../raw/rect'
import type { FillBox } from './fillMap'
import { allowed, halved, PATCH, type Level } from './ground'
import { boxOf, cutOut, runningSums, stepsFrom } from './marks'

/** Half the widest hole, in pixels, at which the first guess is made. */
const FIRST_HALF = 4
/** Fewest patches that something may be taken from on the first level. */
const FEWEST = 400
/** Rounds of looking and filling in on a level, counted from the last; and on all before those. */
const ROUNDS = [2, 3, 4, 6] as const
const FIRST_ROUNDS = 10
/** How far places better than those of the smaller level are looked for; on the last level. */
const NEAR = 16
const NEAREST = 4
/** Guesses on each of the two smallest levels, of which the best is taken. */
const GUESSES = 2
/** Walks over all patches in a round. */
const WALKS = 2
/** Sixty-fourths by which what a neighbour takes from may be worse when the map is made even. */
const EVEN = 24

/** A level, and the patches of it that may be taken from: 1 for their first pixels. */
interface Step extends Level {
  ok: Uint8Array
}

/** What was found on a level. */
interface Field {
  work: Work
  values: Uint32Array
  /** Of all patches together; more where what was found is too plain. */
  cost: number
}

/** What is done to one level. */
interface Work {
  level: Step
  /** The part of it that is completed. */
  part: Rect
  hole: Uint8Array
  need: Uint8Array
  /** Addresses. */
  at: {
    ok: number
    seen: number
    hole: number
    need: number
    field: number
    costs: number
    trust: number
    known: number
  }
}

/**
 * Fills what is missing in a picture from the rest of it, from small to large: on each level patches look for what is
 * most like them, and what is missing becomes the mean of what they found (Wexler, Shechtman and Irani 2007; Barnes et
 * al. 2009). Only integers and the kernels' fixed sums: the same everywhere.
 * @param finest the picture
 * @param half of the widest of what is missing, pixels
 * @param start another one finds something else, where several things fit
 * @param onLevel is told the share that is done
 * @returns in pixels of the finest level; undefined where there is nothing to take from
 */
export function complete(
  kernels: Kernels,
  scratch: Scratch,
  finest: Level,
  half: number,
  start: number,
  onLevel?: (share: number) => void,
): FillBox | undefined {
  const levels = pyramid(scratch, finest, half)
  const last = levels.length - 1
  const sizes = levels.map(({ width, height }) => width * height)
  const all = sizes.reduce((a, b) => a + b, 0)
  let seed = (start ^ 0x9e3779b9) >>> 0 || 1

  /** Fills a level from what was found on the smaller one, or by a guess. */
  const carryOut = (k: number, before?: Field): Field | undefined => {
    const mark = scratch.mark()
    const work = begin(scratch, levels[k])
    if (!work) return undefined
    const { need, at } = work
    const values = new Uint32Array(scratch.memory.buffer, at.field, need.length)
    seed = before ? carryDown(before.work, before.values, work, values, seed) : guess(work, values, seed)
    if (!seed) return undefined
    if (before) {
      align(kernels, scratch, work)
      vote(kernels, scratch, work, true)
    } else seed = peel(kernels, scratch, work, seed)
    const rounds = k < ROUNDS.length ? ROUNDS[k] : FIRST_ROUNDS
    const radius = !before ? Math.max(work.level.width, work.level.height) : k > 0 ? NEAR : NEAREST
    for (let round = 0; round < rounds; round++) {
      costsOf(kernels, work)
      for (let n = 0; n < WALKS; n++) seed = walk(kernels, work, n & 1, radius, 1, 0, seed)
      // what is found at last stands as it is
      if (k > 0 || round < rounds - 1) vote(kernels, scratch, work, false)
    }
    if (k > 0) costsOf(kernels, work)
    else for (const back of [0, 1, 0, 1]) seed = walk(kernels, work, back, 0, 0, EVEN, seed)
    let cost = 0
    if (k > 0) {
      new Uint32Array(scratch.memory.buffer, at.costs, need.length).forEach((c, i) => need[i] && (cost += c))
      cost *= plainness(scratch, work)
    }
    const field = { work, values: values.slice(), cost }
    scratch.release(mark)
    return field
  }

  let field: Field | undefined
  let k = last
  if (last > 1) {
    k--
    // on the smallest level what is thin may be lost, on the next a gap may be too wide: what fits best is taken
    for (let i = 0; i < GUESSES; i++)
      for (const other of [carryOut(k, carryOut(last)), carryOut(k)])
        if (other && (!field || other.cost < field.cost)) field = other
  } else field = carryOut(last)
  let done = sizes.slice(k).reduce((a, b) => a + b, 0)
  while (--k >= 0) {
    onLevel?.(done / all)
    field = carryOut(k, field)
    done += sizes[k]
  }
  onLevel?.(1)
  return field && offsets(field.work, field.values)
}

/** The picture and as many smaller ones as make what is missing small. */
function pyramid(scratch: Scratch, finest: Level, half: number): Step[] {
  const levels: Step[] = [{ ...finest, ok: allowed(finest) }]
  for (let h = half; h > FIRST_HALF; h /= 2) {
    const last = levels[levels.length - 1]
    if (Math.min(last.width, last.height) < 4 * PATCH) break
    const pixels = scratch.take((last.width >> 1) * (last.height >> 1) * 4 + 64)
    const next = halved(last, scratch.memory.buffer, pixels)
    const ok = allowed(next)
    let places = 0
    for (const one of ok) places += one
    if (places < FEWEST) break
    levels.push({ ...next, ok })
  }
  return levels
}

/** Lays out what a level needs; undefined where nothing of it is missing, or no patch is whole. */
function begin(scratch: Scratch, level: Step): Work | undefined {
  const { width, height } = level
  const box = boxOf(level.hole, width, height)
  if (!box || width < PATCH || height < PATCH) return undefined
  const x = Math.max(box.x - PATCH, 0)
  const y = Math.max(box.y - PATCH, 0)
  const part: Rect = {
    ...{ x, y },
    width: Math.min(box.x + box.width + PATCH, width) - x,
    height: Math.min(box.y + box.height + PATCH, height) - y,
  }
  const cells = part.width * part.height
  const hole = cutOut(level.hole, width, part)
  const need = needing(hole, part)
  const { memory } = scratch
  const put = (bytes: Uint8Array) => {
    const at = scratch.take(bytes.length + 64)
    new Uint8Array(memory.buffer, at, bytes.length).set(bytes)
    return at
  }
  const at = {
    ...{ ok: put(level.ok), hole: put(hole), need: put(need) },
    seen: scratch.take(cells * 4 + 64),
    field: scratch.take(cells * 4 + 64),
    costs: scratch.take(cells * 4 + 64),
    trust: scratch.take(cells * 4 + 64),
    known: scratch.take(cells * 4 + 64),
  }
  new Float32Array(memory.buffer, at.trust, cells).set(trustOf(hole, part))
  const pixels = new Uint32Array(memory.buffer, level.pixels, width * height)
  const seen = new Uint32Array(memory.buffer, at.seen, cells)
  for (let j = 0; j < part.height; j++) {
    const from = (y + j) * width + x
    seen.set(pixels.subarray(from, from + part.width), j * part.width)
  }
  return { level, part, hole, need, at }
}

/** Patches that hold something that is missing: 1 for their first pixels. */
function needing(hole: Uint8Array, { width, height }: Rect): Uint8Array {
  const along = new Uint8Array(width * height)
  const out = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = width - 1, far = PATCH; x >= 0; x--) {
      far = hole[y * width + x] ? 0 : Math.min(far + 1, PATCH)
      if (far < PATCH) along[y * width + x] = 1
    }
  for (let x = 0; x <= width - PATCH; x++)
    for (let y = height - 1, far = PATCH; y >= 0; y--) {
      far = along[y * width + x] ? 0 : Math.min(far + 1, PATCH)
      if (far < PATCH && y <= height - PATCH) out[y * width + x] = 1
    }
  return out
}

/** The next number of a sequence (Marsaglia 2003). */
function after(seed: number): number {
  let s = seed
  s ^= s << 13
  s ^= s >>> 17
  s ^= s << 5
  return s >>> 0
}

/** Any patches that may be taken from. @returns the seed to go on with, 0 where there are none */
function guess({ level, need }: Work, values: Uint32Array, start: number): number {
  const places: number[] = []
  level.ok.forEach((one, i) => one && places.push(i))
  if (places.length === 0) return 0
  let seed = start
  for (let i = 0; i < need.length; i++) {
    if (!need[i]) continue
    seed = after(seed)
    const p = places[seed % places.length]
    values[i] = (Math.floor(p / level.width) << 16) | (p % level.width)
  }
  return seed
}

/** What was found on the smaller level, at twice the size. */
function carryDown(from: Work, found: Uint32Array, to: Work, values: Uint32Array, start: number): number {
  const { width, height } = to.level
  const seed = guess(to, values, start)
  if (!seed) return 0
  const nearestNeed = nearestOf(from)
  for (let j = 0; j < to.part.height; j++)
    for (let i = 0; i < to.part.width; i++) {
      const at = j * to.part.width + i
      if (!to.need[at]) continue
      const [x, y] = [to.part.x + i, to.part.y + j]
      const parent = nearestNeed((x >> 1) - from.part.x, (y >> 1) - from.part.y)
      if (parent < 0) continue
      const f = found[parent]
      const [px, py] = [
        from.part.x + (parent % from.part.width),
        from.part.y + Math.floor(parent / from.part.width),
      ]
      const u = x + 2 * ((f & 0xffff) - px)
      const v = y + 2 * ((f >>> 16) - py)
      if (u >= 0 && v >= 0 && u < width && v < height && to.level.ok[v * width + u])
        values[at] = (v << 16) | u
    }
  return seed
}

/** The patch that is filled at a place or beside it; -1 where there is none. */
function nearestOf({ need, part }: Work): (x: number, y: number) => number {
  return (x, y) => {
    for (let r = 0; r < 3; r++)
      for (let v = -r; v <= r; v++)
        for (let u = -r; u <= r; u++) {
          if (Math.max(Math.abs(u), Math.abs(v)) !== r) continue
          const [p, q] = [x + u, y + v]
          if (p >= 0 && q >= 0 && p < part.width && q < part.height && need[q * part.width + p])
            return q * part.width + p
        }
    return -1
  }
}

/** How much less each pixel away from what is known counts (Wexler et al. 2007). */
const FALLS = 1.2
/** Pixels by which what is known grows at once. */
const LAYER = 2
/** Share of a patch that must be known for its likes to be looked for. */
const KNOWN_SHARE = 0.5

/** How far pixels lie from what is known, in steps. */
const depthsIn = (hole: Uint8Array, { width, height }: Rect) =>
  stepsFrom(
    hole.map((h) => 1 - h),
    width,
    height,
  )

/** How much patches count by how near their middles lie to what is known. */
function trustOf(hole: Uint8Array, part: Rect): Float32Array {
  const depth = depthsIn(hole, part)
  const shares = [1]
  for (let d = 1; d < 48; d++) shares.push(shares[d - 1] / FALLS)
  const { width, height } = part
  const out = new Float32Array(width * height)
  const middle = PATCH >> 1
  for (let y = 0; y <= height - PATCH; y++)
    for (let x = 0; x <= width - PATCH; x++)
      out[y * width + x] = shares[Math.min(depth[(y + middle) * width + x + middle], shares.length - 1)]
  return out
}

/**
 * A first guess: what is missing is filled layer by layer from what is known, by what is most like that alone, so that
 * what enters it goes on (as Criminisi, Perez and Toyama 2004).
 */
function peel(kernels: Kernels, scratch: Scratch, work: Work, start: number): number {
  const { part, hole, need, at } = work
  const { width, height } = part
  const { buffer } = scratch.memory
  const known = new Uint32Array(buffer, at.known, hole.length)
  const wanted = new Uint8Array(buffer, at.need, hole.length)
  const layer = new Uint8Array(buffer, at.hole, hole.length)
  const left = hole.slice()
  let seed = start
  for (;;) {
    const depth = depthsIn(left, part)
    if (!left.includes(1)) break
    layer.fill(0)
    let any = false
    for (let i = 0; i < left.length; i++) {
      known[i] = left[i] ? 0 : 0xffffffff
      if (left[i] && depth[i] <= LAYER) layer[i] = 1
    }
    const sums = runningSums(left, width, height)
    for (let y = 0; y <= height - PATCH; y++)
      for (let x = 0; x <= width - PATCH; x++) {
        const i = y * width + x
        const missing = sums(x, y, PATCH)
        wanted[i] = need[i] && missing > 0 && missing <= PATCH * PATCH * (1 - KNOWN_SHARE) ? 1 : 0
        if (wanted[i]) any = true
      }
    if (!any) break
    costsOf(kernels, work, true)
    const radius = Math.max(work.level.width, work.level.height)
    for (let k = 0; k < PEEL_WALKS; k++) seed = walk(kernels, work, k & 1, radius, 2, 0, seed, true)
    vote(kernels, scratch, work, false)
    for (let i = 0; i < left.length; i++) if (layer[i]) left[i] = 0
  }
  wanted.set(need)
  layer.set(hole)
  return seed
}

/** Walks of which the first guess of a layer is made. */
const PEEL_WALKS = 10

const walk = (
  kernels: Kernels,
  { level, part, at }: Work,
  back: number,
  radius: number,
  tries: number,
  keep: number,
  seed: number,
  masked = false,
): number =>
  kernels.match_pass(
    ...([level.pixels, level.width, level.height, at.ok, at.seen, part.width, part.height] as const),
    ...([at.need, at.field, at.costs, masked ? at.known : 0, back, radius, tries, keep, seed] as const),
  )

const costsOf = (kernels: Kernels, { level, part, at }: Work, masked = false): void =>
  kernels.patch_costs(
    ...([level.pixels, level.width, at.seen, part.width, part.height] as const),
    ...([at.need, at.field, at.costs, masked ? at.known : 0] as const),
  )

/** How far what is taken together is moved to meet what is around it, pixels. */
const MOVED = 2
/** Fewest patches at the border that say something about it, and as many as are asked. */
const BORDER = { least: 8, most: 200 } as const
/** Share of its cost that must be left at most for a move to be worth it. */
const WORTH = 0.95

/**
 * Moves what is taken from one distance together, where it meets what is known better so: single patches agree with
 * each other wherever they lie, and would stay a little off.
 */
function align(kernels: Kernels, { memory }: Scratch, { level, part, hole, need, at }: Work): void {
  const { width, height } = part
  const values = new Uint32Array(memory.buffer, at.field, need.length)
  const known = new Uint32Array(memory.buffer, at.known, need.length)
  for (let i = 0; i < hole.length; i++) known[i] = hole[i] ? 0 : 0xffffffff
  const missing = runningSums(hole, width, height)
  const atBorder = (i: number) => missing(i % width, Math.floor(i / width), PATCH) <= PATCH * (PATCH - 1)
  const costAt = (i: number, dx: number, dy: number) => {
    const [x, y] = [(values[i] & 0xffff) + dx, (values[i] >>> 16) + dy]
    if (x < 0 || y < 0 || x >= level.width || y >= level.height || !level.ok[y * level.width + x]) return -1
    return kernels.patch_cost(level.pixels, level.width, at.seen, width, i, at.known, x, y)
  }
  for (const together of alike(values, need, width)) {
    const border = together.filter(atBorder)
    if (border.length < BORDER.least) continue
    const step = Math.ceil(border.length / BORDER.most)
    const some = border.filter((_, k) => k % step === 0)
    const sumAt = (dx: number, dy: number) => {
      let sum = 0
      for (const i of some) {
        const cost = costAt(i, dx, dy)
        if (cost < 0) return Infinity
        sum += cost
      }
      return sum
    }
    let [best, right, down] = [sumAt(0, 0) * WORTH, 0, 0]
    for (let dy = -MOVED; dy <= MOVED; dy++)
      for (let dx = -MOVED; dx <= MOVED; dx++) {
        const sum = sumAt(dx, dy)
        if (sum < best) [best, right, down] = [sum, dx, dy]
      }
    if (right === 0 && down === 0) continue
    for (const i of together)
      if (costAt(i, right, down) >= 0)
        values[i] = (((values[i] >>> 16) + down) << 16) | ((values[i] & 0xffff) + right)
  }
}

/** Patches that hang together and are taken from the same distance. */
function* alike(values: Uint32Array, need: Uint8Array, width: number): Generator<number[]> {
  const seen = new Uint8Array(need.length)
  for (let start = 0; start < need.length; start++) {
    if (!need[start] || seen[start]) continue
    seen[start] = 1
    const all = [start]
    // what is added while it is walked through is walked through as well
    for (const i of all)
      for (const [to, step] of [
        [i - 1, -1],
        [i + 1, 1],
        [i - width, -0x10000],
        [i + width, 0x10000],
      ]) {
        if (to < 0 || to >= need.length || !need[to] || seen[to] || values[to] !== values[i] + step) continue
        seen[to] = 1
        all.push(to)
      }
    yield all
  }
}

/** By how much what was found is plainer than what is around it, 1 or more: plain places fit anywhere. */
function plainness({ memory }: Scratch, { part, hole, at }: Work): number {
  const bytes = new Uint8Array(memory.buffer, at.seen, hole.length * 4)
  const sums = [0, 0]
  const counts = [0, 0]
  for (let y = 0; y < part.height - 1; y++)
    for (let x = 0; x < part.width - 1; x++) {
      const i = y * part.width + x
      const of = hole[i] && hole[i + 1] && hole[i + part.width] ? 1 : 0
      const here = bytes[4 * i + 1]
      sums[of] += Math.abs(here - bytes[4 * i + 5]) + Math.abs(here - bytes[4 * (i + part.width) + 1])
      counts[of]++
    }
  const [around, within] = sums.map((sum, i) => (sum + 1) / (counts[i] + 1))
  const ratio = Math.max(around / within, 1)
  return ratio ** 4
}

/** Fills in what is missing by what the patches found. @param even whether all count the same */
function vote(kernels: Kernels, { memory }: Scratch, work: Work, even: boolean): void {
  const { level, part, at } = work
  // while a first guess is made, those that are looked for by now: no others have costs
  const need = new Uint8Array(memory.buffer, at.need, work.need.length)
  const costs = new Uint32Array(memory.buffer, at.costs, need.length)
  if (even) costs.fill(0)
  const spread = even ? 1 : Math.max(middleOf(costs, need) / SHARPNESS, 1)
  kernels.vote_patches(
    ...([level.pixels, level.width, at.seen, part.width, part.height] as const),
    ...([at.hole, at.need, at.field, at.costs, at.trust, spread] as const),
  )
}

/** By how much a patch must be better than the middle one to count half. */
const SHARPNESS = 12

/** About so many patches are looked at for what is usual. */
const SOME = 20_000

/** The middle of what patches cost. */
function middleOf(costs: Uint32Array, need: Uint8Array): number {
  const step = Math.max(Math.floor(costs.length / SOME), 1)
  const some: number[] = []
  for (let i = 0; i < costs.length; i += step) if (need[i]) some.push(costs[i])
  const sorted = Uint32Array.from(some).sort()
  return sorted[sorted.length >> 1] ?? 0
}

/** Where each pixel is taken from: as the patch around it is. */
function offsets({ part, need }: Work, values: Uint32Array): FillBox {
  const { x, y, width, height } = part
  const right = new Int32Array(width * height)
  const down = new Int32Array(width * height)
  const middle = PATCH >> 1
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const [p, q] = [
        Math.min(Math.max(i - middle, 0), width - PATCH),
        Math.min(Math.max(j - middle, 0), height - PATCH),
      ]
      const patch = q * width + p
      if (!need[patch]) continue
      right[j * width + i] = (values[patch] & 0xffff) - (x + p)
      down[j * width + i] = (values[patch] >>> 16) - (y + q)
    }
  return { x, y, width, height, right, down }
}
