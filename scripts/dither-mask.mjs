/**
 * Makes the mask that output is dithered by: `node scripts/dither-mask.mjs` writes packages/core/src/output/ditherMask.ts.
 * Void and cluster (Ulichney, Proc. SPIE 1913, 1993) on a torus: every threshold occurs as often as every other, and like ones lie
 * as far apart as they can.
 */
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { format, resolveConfig } from 'prettier'
import { root } from './setup.mjs'

const SIDE = 64
const SIGMA = 1.5
const n = SIDE * SIDE

const nearness = new Float64Array(n)
for (let y = 0; y < SIDE; y++)
  for (let x = 0; x < SIDE; x++) {
    const [dx, dy] = [Math.min(x, SIDE - x), Math.min(y, SIDE - y)]
    nearness[y * SIDE + x] = Math.exp(-(dx * dx + dy * dy) / (2 * SIGMA * SIGMA))
  }

/** Places that are taken, and how near all places are to them. */
class Pattern {
  constructor(taken = new Uint8Array(n), energy = new Float64Array(n)) {
    this.taken = taken
    this.energy = energy
  }
  copy() {
    return new Pattern(this.taken.slice(), this.energy.slice())
  }
  put(at, on) {
    this.taken[at] = on
    const [x0, y0] = [at % SIDE, Math.floor(at / SIDE)]
    for (let y = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++) {
        const d = nearness[((y - y0 + SIDE) % SIDE) * SIDE + ((x - x0 + SIDE) % SIDE)]
        this.energy[y * SIDE + x] += on ? d : -d
      }
  }
  /** The taken place with the most neighbours, or the free one with the fewest. */
  find(taken) {
    let best = -1
    for (let i = 0; i < n; i++)
      if (
        this.taken[i] === taken &&
        (best < 0 || (taken ? this.energy[i] > this.energy[best] : this.energy[i] < this.energy[best]))
      )
        best = i
    return best
  }
}

let seed = 20261127
const random = () => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) / 2 ** 32
const start = new Pattern()
for (let k = 0; k < n / 10;) {
  const at = Math.floor(random() * n)
  if (start.taken[at]) continue
  start.put(at, 1)
  k++
}
for (;;) {
  const cluster = start.find(1)
  start.put(cluster, 0)
  const gap = start.find(0)
  start.put(gap, 1)
  if (gap === cluster) break
}

const rank = new Uint16Array(n)
const ones = start.taken.reduce((sum, v) => sum + v, 0)
const down = start.copy()
for (let r = ones - 1; r >= 0; r--) {
  const at = down.find(1)
  down.put(at, 0)
  rank[at] = r
}
for (let r = ones; r < n; r++) {
  const at = start.find(0)
  start.put(at, 1)
  rank[at] = r
}
const bytes = Buffer.from(rank.map((r) => (r * 256) / n))
const text = `// made by scripts/dither-mask.mjs
export const DITHER_SIDE = ${SIDE}
/** Thresholds 0 to 255, line by line, as base64. */
export const DITHER_MASK = '${bytes.toString('base64')}'
`
const file = join(root, 'packages/core/src/output/ditherMask.ts')
writeFileSync(file, await format(text, { ...(await resolveConfig(file)), filepath: file }))
