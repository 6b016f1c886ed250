import { common, grown } from '../../raw/rect'
import type { Level } from './ground'
import { boxOf, cutOut, runningSums, stepsFrom } from './marks'

/** Bins of a channel. */
const BINS = 16
/** What counts as around a gap: pixels of the level at least, and as a share of half its width. */
const RING = { least: 32, share: 0.6 } as const
/** Side of the squares in which strange pixels are counted, and how many make the place strange. */
const SQUARE = { side: 5, most: 6 } as const
/** Share of what could be taken from that must be left. */
const LEFT = 0.1

/**
 * Bars places whose colours are nowhere around the gap: a thing that is thin or small is not seen on small levels, and
 * would be brought in with what lies around it.
 * @param half of the gap at its widest, pixels of the level
 */
export function barStrange(
  { width, height, pixels, hole, barred }: Level,
  memory: ArrayBufferLike,
  half: number,
): void {
  if (Math.min(width, height) < SQUARE.side) return
  const colours = new Uint8Array(memory, pixels, width * height * 4)
  const binOf = (i: number) =>
    ((colours[4 * i] >> 4) * BINS + (colours[4 * i + 1] >> 4)) * BINS + (colours[4 * i + 2] >> 4)
  const reach = Math.ceil(Math.max(RING.least, RING.share * half))
  const near = nearTo(hole, width, height, reach)
  const around = new Uint8Array(BINS ** 3)
  for (const i of near) if (!hole[i] && !barred[i]) around[binOf(i)] = 1
  const usual = widened(around)
  const strange = new Uint8Array(hole.length)
  for (let i = 0; i < hole.length; i++) if (!hole[i] && !usual[binOf(i)]) strange[i] = 1
  const count = runningSums(strange, width, height)
  const more = barred.slice()
  let [before, left] = [0, 0]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      if (hole[i] || barred[i]) continue
      before++
      const from = Math.min(Math.max(x - 2, 0), width - SQUARE.side)
      const top = Math.min(Math.max(y - 2, 0), height - SQUARE.side)
      if (count(from, top, SQUARE.side) > SQUARE.most) more[i] = 1
      else left++
    }
  if (left > LEFT * before) barred.set(more)
}

/** The places within some steps of what is marked. */
function nearTo(marks: Uint8Array, width: number, height: number, reach: number): number[] {
  const box = boxOf(marks, width, height)
  if (!box) return []
  const part = common(grown(box, reach), { x: 0, y: 0, width, height })
  const out: number[] = []
  const steps = stepsFrom(cutOut(marks, width, part), part.width, part.height)
  for (let y = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++)
      if (steps[y * part.width + x] <= reach) out.push((part.y + y) * width + part.x + x)
  return out
}

/** Bins that are marked, or beside one that is. */
function widened(marks: Uint8Array): Uint8Array {
  const out = new Uint8Array(marks.length)
  const near = (k: number) => [Math.max(k - 1, 0), Math.min(k + 1, BINS - 1)] as const
  for (let r = 0; r < BINS; r++)
    for (let g = 0; g < BINS; g++)
      for (let b = 0; b < BINS; b++) {
        if (!marks[(r * BINS + g) * BINS + b]) continue
        const [[r0, r1], [g0, g1], [b0, b1]] = [near(r), near(g), near(b)]
        for (let p = r0; p <= r1; p++)
          for (let q = g0; q <= g1; q++) for (let s = b0; s <= b1; s++) out[(p * BINS + q) * BINS + s] = 1
      }
  return out
}
