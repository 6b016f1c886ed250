import { srgb, toOklab } from '../colour'
import type { Triple } from '../math'
import { LIGHT_OF_LEVEL } from './levels'
import { CurveSchema } from '../steps/curve/schema'
import { ColourfulnessSchema } from '../steps/colourfulness/schema'
import { HueNodesSchema } from '../steps/hueNodes/schema'
import type { Recipe } from '../steps/look/schema'

const SHARES = [0.04, 0.15, 0.3, 0.5, 0.7, 0.85, 0.96]
const NODES = [30, 90, 150, 210, 270, 330]

/** Contraharmonic mean, as the curve for luminance takes it, as the square root. */
function tone(rgb: Triple): number {
  const squares = rgb[0] ** 2 + rgb[1] ** 2 + rgb[2] ** 2
  return squares > 0 ? Math.sqrt((rgb[0] ** 3 + rgb[1] ** 3 + rgb[2] ** 3) / squares) : 0
}

/**
 * A look that brings one rendering of a picture near to another of the same picture: tones by their distribution, then
 * colourfulness, and hue and colourfulness around six hues, place by place.
 * @param ours, theirs encoded sRGB with alpha, of the same size and framing
 */
export function fitLook(ours: ArrayLike<number>, theirs: ArrayLike<number>): Recipe {
  const n = ours.length / 4
  const read = (p: ArrayLike<number>, i: number): Triple => [
    LIGHT_OF_LEVEL[p[4 * i]],
    LIGHT_OF_LEVEL[p[4 * i + 1]],
    LIGHT_OF_LEVEL[p[4 * i + 2]],
  ]
  const tones = [ours, theirs].map((p) =>
    Array.from({ length: n }, (_, i) => tone(read(p, i))).sort((a, b) => a - b),
  )
  const points: [number, number][] = [[0, 0]]
  for (const share of SHARES) {
    const [x, y] = tones.map((t) => t[Math.min(Math.floor(share * n), n - 1)])
    const [px, py] = points[points.length - 1]
    if (x > px + 0.03 && x < 0.97) points.push([round(x), round(Math.min(Math.max(y, py), 1))])
  }
  points.push([1, 1])

  // colours compared where both have some, weighted by how much
  const sums = NODES.map(() => ({ weight: 0, turn: 0, own: 0, their: 0 }))
  let own = 0
  let their = 0
  for (let i = 0; i < n; i++) {
    const [, a, b] = toOklab(srgb, read(ours, i))
    const [, c, d] = toOklab(srgb, read(theirs, i))
    const p = Math.sqrt(a * a + b * b)
    const q = Math.sqrt(c * c + d * d)
    if (p < 0.015) continue
    own += p
    their += q
    const hue = (Math.atan2(b, a) * 180) / Math.PI
    // sine and cosine of the angle between, from the products
    const turn = (Math.atan2(a * d - b * c, a * c + b * d) * 180) / Math.PI
    NODES.forEach((at, k) => {
      const away = Math.abs(((hue - at + 900) % 360) - 180)
      const w = Math.max(1 - away / 60, 0) * Math.min(p, q)
      sums[k].weight += w
      sums[k].turn += w * turn
      sums[k].own += w * p
      sums[k].their += w * q
    })
  }
  const all = own > 0 ? Math.min(Math.max(their / own, 0), 2) : 1
  const nodes = NODES.map((hue, k) => {
    const { weight, turn, own: p, their: q } = sums[k]
    const enough = weight > n * 1e-5
    return {
      hue,
      shift: enough ? Math.round(Math.min(Math.max(turn / weight, -40), 40)) : 0,
      colour: enough && p > 0 ? round(Math.min(Math.max(q / p / Math.max(all, 0.05) - 1, -1), 1)) : 0,
    }
  })
  return {
    curve: CurveSchema.parse({ luminance: points }),
    hueNodes: HueNodesSchema.parse({ nodes }),
    colourfulness: ColourfulnessSchema.parse({ all: round(all - 1) }),
  }
}

const round = (v: number) => Math.round(v * 1000) / 1000
