import { random } from './bench'

/** Interleaved linear RGB. */
export interface Collage {
  width: number
  height: number
  rgb: Float32Array
}

/**
 * Sheets of coloured paper at random places, sizes and angles, one over the other (dead leaves, Matheron 1968): edges
 * in all directions, detail at all sizes, as photographs have. Every pixel is the mean over its area.
 * @param least, most half sides of the sheets, pixels
 */
export function collage(
  width: number,
  height: number,
  seed: number,
  least = 3,
  most = 40,
  sheets = 260,
): Collage {
  const next = random(seed)
  const fine = 3
  const w = width * fine
  const h = height * fine
  const layer = new Float32Array(w * h * 3).fill(0.18)
  for (let n = 0; n < sheets; n++) {
    // small ones are many
    const size = least / Math.sqrt(1 - next() * (1 - (least / most) ** 2))
    const [cx, cy] = [next() * w, next() * h]
    const [a, b] = [size * fine, size * fine * (0.4 + 0.6 * next())]
    const angle = next() * Math.PI
    const [s, c] = [Math.sin(angle), Math.cos(angle)]
    const tone = 0.03 + 0.75 * next() ** 2
    const colour = [0, 1, 2].map(() => tone * (0.55 + 0.9 * next()))
    const reach = Math.hypot(a, b)
    for (let y = Math.max(Math.floor(cy - reach), 0); y < Math.min(cy + reach, h); y++)
      for (let x = Math.max(Math.floor(cx - reach), 0); x < Math.min(cx + reach, w); x++) {
        const [u, v] = [(x - cx) * c + (y - cy) * s, (y - cy) * c - (x - cx) * s]
        if (Math.abs(u) > a || Math.abs(v) > b) continue
        layer.set(colour, (y * w + x) * 3)
      }
  }
  const rgb = new Float32Array(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let k = 0; k < 3; k++) {
        let sum = 0
        for (let j = 0; j < fine; j++)
          for (let i = 0; i < fine; i++) sum += layer[((y * fine + j) * w + x * fine + i) * 3 + k]
        rgb[(y * width + x) * 3 + k] = sum / fine ** 2
      }
  return { width, height, rgb }
}

/** A picture spread by taps of (2 r + 1)^2, its edge repeated. */
export function spread({ width, height, rgb }: Collage, taps: ArrayLike<number>, r: number): Collage {
  const n = 2 * r + 1
  const out = new Float32Array(rgb.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let j = -r; j <= r; j++)
        for (let i = -r; i <= r; i++) {
          const t = taps[(j + r) * n + i + r]
          if (t === 0) continue
          const from =
            (Math.min(Math.max(y + j, 0), height - 1) * width + Math.min(Math.max(x + i, 0), width - 1)) * 3
          for (let k = 0; k < 3; k++) out[(y * width + x) * 3 + k] += t * rgb[from + k]
        }
  return { width, height, rgb: out }
}

/** Normal deviates (Box and Muller 1958). */
export function deviates(seed: number): () => number {
  const next = random(seed)
  return () => Math.sqrt(-2 * Math.log(Math.max(next(), 1e-12))) * Math.cos(2 * Math.PI * next())
}

/** The same with a sensor's noise: variance = a * light + b. */
export function noisy({ width, height, rgb }: Collage, a: number, b: number, seed: number): Collage {
  const gauss = deviates(seed)
  return { width, height, rgb: rgb.map((v) => v + Math.sqrt(a * Math.max(v, 0) + b) * gauss()) }
}

const encode = (v: number) => {
  const h = Math.min(Math.max(v, 0), 1)
  return h <= 0.0031308 ? 12.92 * h : 1.055 * h ** (1 / 2.4) - 0.055
}

/** Peak signal to noise ratio as a display shows the two, without a rim. */
export function shownPsnr(a: Collage, b: Collage, rim = 24): number {
  let sum = 0
  let n = 0
  for (let y = rim; y < a.height - rim; y++)
    for (let x = rim; x < a.width - rim; x++)
      for (let k = 0; k < 3; k++) {
        const i = (y * a.width + x) * 3 + k
        sum += (encode(a.rgb[i]) - encode(b.rgb[i])) ** 2
        n++
      }
  return -10 * Math.log10(sum / n)
}
