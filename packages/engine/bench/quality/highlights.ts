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

/** Stops by which the picture is darkened to see what is in its highlights. */
const DOWN = 2

/** Mean CIEDE2000 inside the places where one or two channels are clipped, for a strength of the rebuild. */
export async function highlightError(
  engine: Engine,
  crop: ClippedCrop,
  rebuild: number,
): Promise<{ mean: number; count: number }> {
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
  let sum = 0
  let count = 0
  for (let y = 4; y < crop.height - 4; y++)
    for (let x = 4; x < crop.width - 4; x++) {
      const o = (y * crop.width + x) * 3
      const seen = [crop.light[o], crop.light[o + 1], crop.light[o + 2]] as Triple
      if (Math.max(...seen) < 1 || Math.min(...seen) >= 0.98) continue
      const truth = apply(matrix, seen).map((v) => Math.min(v / 2 ** DOWN, 1)) as unknown as Triple
      const ours = [0, 1, 2].map((c) => values[o + c] / 65535) as unknown as Triple
      sum += ciede2000(toLab(working, ours), toLab(working, truth))
      count++
    }
  return { mean: sum / Math.max(count, 1), count }
}
