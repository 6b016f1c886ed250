import { boxMean, type Plane } from './planes'
import type { Guide } from './range'

/** Pixels to either side over which an edge is measured, and that it takes up. */
export const ACROSS = 2

/** Lightness beside which a contrast counts in full; brighter light differs more for the same edge. */
const DIM = 0.35
/** From one side of a place to the other. */
const WAYS = [
  [ACROSS, 0],
  [0, ACROSS],
  [ACROSS - 1, ACROSS - 1],
  [ACROSS - 1, 1 - ACROSS],
] as const

/** How much the picture differs from one side of each place to the other, as seen: Oklab over lightness. */
export function contrasts({ width, height }: Plane, guide: Guide): Float32Array {
  const [L, a, b] = [guide.L, guide.a, guide.b].map((values) => boxMean({ width, height, values }, 1))
  const out = new Float32Array(width * height)
  for (const [dx, dy] of WAYS)
    for (let y = 0; y < height; y++) {
      const up = Math.min(Math.max(y - dy, 0), height - 1) * width
      const down = Math.min(Math.max(y + dy, 0), height - 1) * width
      for (let x = 0; x < width; x++) {
        const i = up + (x < dx ? 0 : x - dx)
        const j = down + (x + dx < width ? x + dx : width - 1)
        const [p, q, r] = [L[i] - L[j], a[i] - a[j], b[i] - b[j]]
        const at = y * width + x
        out[at] = Math.max(out[at], p * p + q * q + r * r)
      }
    }
  for (let i = 0; i < out.length; i++) out[i] = Math.sqrt(out[i]) / (DIM + Math.max(L[i], 0))
  return out
}
