import {
  apply,
  cameraToWorking,
  ciede2000,
  readDevelopment,
  readDng,
  toLab,
  working,
  type Triple,
} from '@dunkelkammer/core'
import { cameraFile, mosaicOf, plainLight, renderCrop, response, type Scene } from '@dunkelkammer/demo'
import type { Engine } from '../../src/node'
import { plainCamera } from './crops'
import type { Photograph } from './photographs'

/** A photograph with clipped places, and the light that was there. */
export interface ClippedCrop {
  name: string
  width: number
  height: number
  dng: Uint8Array
  /** Interleaved camera channels, 1 at saturation, going on above. */
  light: Float32Array
}

/** Photographs a whole scene small, at an exposure at which parts of it clip. */
export function clippedScene(
  scene: Scene,
  exposure: number,
  taken: Triple,
  width = 300,
  height = 200,
): ClippedCrop {
  const rgb = renderCrop(scene, width, height, { x: -2, y: -2, width: width + 4, height: height + 4 })
  return photographClipped(scene.title, rgb, exposure, taken, width, height)
}

/** The same of interleaved radiance, two pixels wider on every side. */
export function photographClipped(
  name: string,
  rgb: Float32Array,
  exposure: number,
  taken: Triple,
  width: number,
  height: number,
): ClippedCrop {
  const crop = { x: 0, y: 0, width, height }
  const seen = plainLight(rgb, width, height)
  const m = response(plainCamera)
  const light = new Float32Array(seen.length)
  for (let i = 0; i < seen.length; i += 3)
    apply(m, [seen[i], seen[i + 1], seen[i + 2]]).forEach((v, c) => (light[i + c] = v * exposure))
  const mosaic = mosaicOf(plainCamera, { iso: 100, exposure, seed: 1, noise: false }, seen, crop)
  const dng = cameraFile(plainCamera, crop, mosaic, taken)
  return { name, width, height, dng, light }
}

/** Exposes a photograph so that its brightest hundredth clips by so many stops. */
export function clippedPhotograph({ name, width, height, rgb }: Photograph, stops: number): ClippedCrop {
  const m = response(plainCamera)
  const tops: number[] = []
  for (let i = 0; i < rgb.length; i += 3) tops.push(Math.max(...apply(m, [rgb[i], rgb[i + 1], rgb[i + 2]])))
  tops.sort((a, b) => a - b)
  const exposure = 2 ** stops / tops[Math.floor(tops.length * 0.99)]
  const [w, h] = [(width - 4) & ~1, (height - 4) & ~1]
  const part = new Float32Array((w + 4) * (h + 4) * 3)
  for (let y = 0; y < h + 4; y++)
    part.set(rgb.subarray(y * width * 3, (y * width + w + 4) * 3), y * (w + 4) * 3)
  return photographClipped(name, part, exposure, [1, 1, 1], w, h)
}

/** Stops by which the picture is darkened to see what is in its highlights. */
const DOWN = 2

/** Mean CIEDE2000 and number of places. */
export interface HighlightError {
  mean: number
  count: number
}

/** Errors where one, two and three channels are clipped, for a strength of the rebuild. */
export async function highlightErrors(
  engine: Engine,
  crop: ClippedCrop,
  rebuild: number,
): Promise<HighlightError[]> {
  const picture = await engine.open(crop.dng)
  const bytes = await picture.deliver({
    development: readDevelopment({ steps: { highlights: { rebuild }, exposure: { ev: -DOWN } } }),
    space: 'linear-rec2020',
    width: crop.width,
    height: crop.height,
    bits: 16,
  })
  engine.close(picture)
  const values = new Uint16Array(bytes.buffer)
  const { colour } = readDng(crop.dng)
  const matrix = cameraToWorking(colour, colour.asShotNeutral)
  const sums = [0, 0, 0]
  const counts = [0, 0, 0]
  for (let y = 4; y < crop.height - 4; y++)
    for (let x = 4; x < crop.width - 4; x++) {
      const o = (y * crop.width + x) * 3
      const seen = [crop.light[o], crop.light[o + 1], crop.light[o + 2]] as Triple
      const kind = seen.filter((v) => v >= 1).length - 1
      if (kind < 0) continue
      const truth = apply(matrix, seen).map((v) =>
        Math.min(Math.max(v / 2 ** DOWN, 0), 1),
      ) as unknown as Triple
      const ours = [0, 1, 2].map((c) => values[o + c] / 65535) as unknown as Triple
      sums[kind] += ciede2000(toLab(working, ours), toLab(working, truth))
      counts[kind]++
    }
  return sums.map((s, k) => ({ mean: s / Math.max(counts[k], 1), count: counts[k] }))
}
