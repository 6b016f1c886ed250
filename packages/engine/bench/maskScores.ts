import type { Plane } from './truths'

/** Pixels beside a border within which another counts as the same, and beside which shares are compared. */
const NEAR = 2
const BAND = 10

/** Pixels that lie beside another of the other kind. */
function borderOf({ width, height, values }: Plane): Uint8Array {
  const out = new Uint8Array(values.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const inside = values[i] > 0.5
      const right = x + 1 < width && values[i + 1] > 0.5 !== inside
      const below = y + 1 < height && values[i + width] > 0.5 !== inside
      if (right || below) out[i] = 1
    }
  return out
}

/** All pixels within a distance of some. */
export function within(marked: Uint8Array, width: number, height: number, r: number): Uint8Array {
  const out = new Uint8Array(marked.length)
  for (let i = 0; i < marked.length; i++) {
    if (!marked[i]) continue
    const [x, y] = [i % width, Math.floor(i / width)]
    for (let v = Math.max(y - r, 0); v <= Math.min(y + r, height - 1); v++)
      for (let u = Math.max(x - r, 0); u <= Math.min(x + r, width - 1); u++)
        if ((u - x) ** 2 + (v - y) ** 2 <= r * r) out[v * width + u] = 1
  }
  return out
}

const shareOf = (marked: Uint8Array, near: Uint8Array) => {
  let [all, hits] = [0, 0]
  for (let i = 0; i < marked.length; i++) {
    all += marked[i]
    hits += marked[i] & near[i]
  }
  return all > 0 ? hits / all : 1
}

/** How close a mask comes to the truth. */
export function scores(mask: Plane, truth: Plane) {
  const { width, height } = truth
  let [both, any] = [0, 0]
  for (let i = 0; i < truth.values.length; i++) {
    const [is, should] = [mask.values[i] > 0.5, truth.values[i] > 0.5]
    if (is && should) both++
    if (is || should) any++
  }
  const [found, real] = [borderOf(mask), borderOf(truth)]
  const precision = shareOf(found, within(real, width, height, NEAR))
  const recall = shareOf(real, within(found, width, height, NEAR))
  const band = within(real, width, height, BAND)
  let [soft, hard, n] = [0, 0, 0]
  for (let i = 0; i < band.length; i++) {
    if (!band[i]) continue
    n++
    soft += Math.abs(mask.values[i] - truth.values[i])
    hard += Math.abs((mask.values[i] > 0.5 ? 1 : 0) - truth.values[i])
  }
  return {
    overlap: any > 0 ? both / any : 1,
    border: precision + recall > 0 ? (2 * precision * recall) / (precision + recall) : 0,
    soft: soft / n,
    hard: hard / n,
    rim: within(real, width, height, 3),
  }
}
