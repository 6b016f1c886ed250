const PATCH = 7
const OMEGA = 0.95
const LEAST = 0.1
const BRIGHTEST = 0.001
const SMOOTH = 20
const EPS = 1e-3

function windowed(v: Float32Array, w: number, h: number, r: number, pick: 'least' | 'mean'): Float32Array {
  const along = (src: Float32Array, n: number, lines: number, step: number, line: number) => {
    const out = new Float32Array(src.length)
    for (let l = 0; l < lines; l++)
      for (let i = 0; i < n; i++) {
        let least = Infinity
        let sum = 0
        const [from, to] = [Math.max(i - r, 0), Math.min(i + r, n - 1)]
        for (let k = from; k <= to; k++) {
          const s = src[l * line + k * step]
          least = Math.min(least, s)
          sum += s
        }
        out[l * line + i * step] = pick === 'least' ? least : sum / (to - from + 1)
      }
    return out
  }
  return along(along(v, w, h, 1, w), h, w, w, 1)
}

/**
 * The classic way, for comparison: the dark channel prior (He, Sun and Tang 2009) with its transmission laid onto
 * edges by a guided filter (He 2010).
 * @param rgb interleaved linear light
 */
export function clearByDarkChannel(rgb: Float32Array, w: number, h: number): Float32Array {
  const n = w * h
  const least = (scale: readonly number[]) =>
    Float32Array.from({ length: n }, (_, i) => Math.min(...scale.map((s, c) => rgb[3 * i + c] / s)))
  const dark = windowed(least([1, 1, 1]), w, h, PATCH, 'least')
  const far = Array.from(dark.keys())
    .sort((a, b) => dark[b] - dark[a])
    .slice(0, Math.max(Math.ceil(n * BRIGHTEST), 1))
  const sum = (i: number) => rgb[3 * i] + rgb[3 * i + 1] + rgb[3 * i + 2]
  const best = far.reduce((a, b) => (sum(b) > sum(a) ? b : a))
  const air = [0, 1, 2].map((c) => Math.max(rgb[3 * best + c], 1e-3))
  const t = windowed(least(air), w, h, PATCH, 'least').map((d) => 1 - OMEGA * d)
  const guide = Float32Array.from({ length: n }, (_, i) => sum(i) / 3)
  const mean = (v: Float32Array) => windowed(v, w, h, SMOOTH, 'mean')
  const [mg, mt] = [mean(guide), mean(t)]
  const mgg = mean(guide.map((v) => v * v))
  const mgt = mean(guide.map((v, i) => v * t[i]))
  const slope = mgt.map((v, i) => (v - mg[i] * mt[i]) / (mgg[i] - mg[i] * mg[i] + EPS))
  const [a, b] = [mean(slope), mean(slope.map((s, i) => mt[i] - s * mg[i]))]
  return rgb.map((v, j) => {
    const i = Math.floor(j / 3)
    const through = Math.max(a[i] * guide[i] + b[i], LEAST)
    return (v - air[j % 3]) / through + air[j % 3]
  })
}
