/** Parts of the hue circle that are counted. */
export const HUE_PARTS = 180

/**
 * How much of each Oklab hue a picture holds, by chroma.
 * @param a, b Oklab planes of `n` samples
 * @returns HUE_PARTS sums, the largest 1
 */
export function countHues(a: Float32Array, b: Float32Array): Float32Array {
  const out = new Float32Array(HUE_PARTS)
  for (let i = 0; i < a.length; i++) {
    const chroma = Math.sqrt(a[i] * a[i] + b[i] * b[i])
    if (chroma < 0.01) continue
    const turn = Math.atan2(b[i], a[i]) / (2 * Math.PI)
    out[Math.floor((turn - Math.floor(turn)) * HUE_PARTS) % HUE_PARTS] += chroma
  }
  let top = 1e-9
  for (const v of out) top = Math.max(top, v)
  return out.map((v) => v / top)
}
