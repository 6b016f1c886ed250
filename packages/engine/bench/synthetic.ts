import { fbm2, hash, cameraFile, noiseOf, veldrom } from '@dunkelkammer/demo'

export const WIDTH = 6000
export const HEIGHT = 4000

/** A mosaic, of 24 megapixels by default, with real detail and noise: a drawn texture of 1500 x 1000, laid out in turned copies. */
export function syntheticMosaic(width = WIDTH, height = HEIGHT): Uint16Array {
  const w = 1500
  const h = 1000
  const camera = veldrom
  const span = camera.white - camera.black
  const { a, b } = noiseOf(camera, { iso: 200 })
  const base = new Float32Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      base[y * w + x] =
        0.02 + 0.5 * fbm2(x / 90, y / 90, 6, 4) ** 2 + (Math.sin(x * 0.4 + y * 0.13) > 0.9 ? 0.2 : 0)
  const normal = new Float32Array(65536)
  for (let i = 0; i < normal.length; i++)
    normal[i] = Math.sqrt(-2 * Math.log(Math.max(hash(i, 1), 1e-9))) * Math.cos(2 * Math.PI * hash(i, 2))
  const mosaic = new Uint16Array(width * height)
  const tint = [0.55, 1, 1, 0.7]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sx = Math.floor(x / w) % 2 ? w - 1 - (x % w) : x % w
      const sy = Math.floor(y / h) % 2 ? h - 1 - (y % h) : y % h
      const signal = base[sy * w + sx] * tint[(y & 1) * 2 + (x & 1)]
      const n = normal[(Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b)) >>> 16]
      mosaic[y * width + x] = camera.black + Math.max(0, signal + n * Math.sqrt(a * signal + b)) * span
    }
  return mosaic
}

/** The same as a losslessly compressed DNG in tiles, with a preview of the given bytes. */
export function syntheticDng(
  preview: { jpeg: Uint8Array; width: number; height: number },
  size = { width: WIDTH, height: HEIGHT },
): Uint8Array {
  return cameraFile(veldrom, size, syntheticMosaic(size.width, size.height), [1, 1, 1], {
    noise: noiseOf(veldrom, { iso: 200 }),
    iso: 200,
    preview,
    compression: 'lossless-jpeg',
    tile: 512,
  })
}
