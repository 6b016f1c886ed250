import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ciede2000, decode, readDevelopment, srgb, toLab, type Triple } from '@dunkelkammer/core'
import {
  cameraFile,
  demoFrames,
  mosaicOf,
  noiseOf,
  plainLight,
  renderCrop,
  type DemoFrame,
} from '@dunkelkammer/demo'
import type { Engine } from '../../src/node'
import { projectRoot } from '../../src/paths'
import { plainCamera } from './crops'

/** A crop photographed at some ISO, and what it would look like without noise; 8-bit sRGB. */
export interface NoisyCrop {
  name: string
  iso: number
  width: number
  height: number
  dng: Uint8Array
  truth: Uint8Array
}

export const NOISY_W = 320
export const NOISY_H = 240
const RIM = 16
export const ISOS = [800, 3200, 12800] as const

const PLACES: readonly [file: string, x: number, y: number][] = [
  ['HM0417', 1420, 440],
  ['HM0417', 300, 640],
  ['HM0431', 820, 520],
  ['HM0431', 1250, 330],
  ['HM0466', 880, 720],
  ['HM0466', 1700, 500],
  ['HM0488', 600, 420],
  ['HM0553', 500, 380],
]

const byName = (name: string) => demoFrames.find((f) => f.fileName.startsWith(name))!

function photograph(frame: DemoFrame, light: Float32Array, exposure: number, iso: number, noise: boolean) {
  const crop = { x: 0, y: 0, width: NOISY_W, height: NOISY_H }
  const mosaic = mosaicOf(plainCamera, { iso, exposure, seed: 40 + iso, noise }, light, crop)
  return cameraFile(plainCamera, crop, mosaic, frame.takenNeutral, {
    noise: noiseOf(plainCamera, { iso }),
    iso,
  })
}

/** The picture that a file gives, 8-bit sRGB. */
export async function develop(engine: Engine, dng: Uint8Array, steps: object = {}): Promise<Uint8Array> {
  const picture = await engine.open(dng)
  const { width, height } = picture
  try {
    const development = readDevelopment({ steps })
    return await picture.deliver({ development, space: 'srgb', width, height, bits: 8 })
  } finally {
    engine.close(picture)
  }
}

/** Eight places of the demo scenes at three ISOs. */
export async function noisyCrops(engine: Engine, isos: readonly number[] = ISOS): Promise<NoisyCrop[]> {
  const out: NoisyCrop[] = []
  for (const [file, x, y] of PLACES) {
    const frame = byName(file)
    const part = { x: x - 2, y: y - 2, width: NOISY_W + 4, height: NOISY_H + 4 }
    const rgb = renderCrop(frame.scene, frame.width, frame.height, part)
    const light = plainLight(rgb, NOISY_W, NOISY_H)
    // as bright as the frame was taken; little light is what high sensitivities are for
    for (const iso of isos) {
      const exposure = frame.exposure
      const truth = await develop(engine, photograph(frame, light, exposure, iso, false))
      const dng = photograph(frame, light, exposure, iso, true)
      out.push({ name: `${frame.scene.title}, ${x} ${y}`, iso, width: NOISY_W, height: NOISY_H, dng, truth })
    }
  }
  return out
}

export interface Score {
  psnr: number
  /** Mean CIEDE2000. */
  de: number
  /** Mean distance in a* and b*. */
  chroma: number
}

const labs = new Map<number, Triple>()
function labOf(rgb: Uint8Array, i: number): Triple {
  const key = (rgb[i] << 16) | (rgb[i + 1] << 8) | rgb[i + 2]
  let found = labs.get(key)
  if (!found) {
    const linear = [0, 1, 2].map((c) => decode(srgb.curve, rgb[i + c] / 255)) as unknown as Triple
    labs.set(key, (found = toLab(srgb, linear)))
  }
  return found
}

export function score(picture: Uint8Array, { truth, width, height }: NoisyCrop): Score {
  let squares = 0
  let de = 0
  let chroma = 0
  let n = 0
  for (let y = RIM; y < height - RIM; y++)
    for (let x = RIM; x < width - RIM; x++) {
      const i = (y * width + x) * 3
      for (let c = 0; c < 3; c++) squares += (picture[i + c] - truth[i + c]) ** 2
      const a = labOf(picture, i)
      const b = labOf(truth, i)
      de += ciede2000(a, b)
      chroma += Math.hypot(a[1] - b[1], a[2] - b[2])
      n++
    }
  return {
    psnr: 10 * Math.log10((255 * 255 * 3 * n) / Math.max(squares, 1)),
    de: de / n,
    chroma: chroma / n,
  }
}

/** Strengths that the other method is tried at. */
const LUMINANCE = [1.5, 3, 5, 8, 12, 17, 24]
const COLOUR = [4, 10, 20]

/** The general library's non-local means at its own best strength for each picture; undefined where it is not installed. */
export function nonLocalMeans(
  pictures: readonly { picture: Uint8Array; crop: NoisyCrop }[],
): { score: Score; ms: number }[] | undefined {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-nlm-'))
  try {
    const jobs = pictures.flatMap(({ picture, crop }, k) => {
      writeFileSync(join(folder, `${k}.rgb`), picture)
      return LUMINANCE.flatMap((h) =>
        COLOUR.map((hColour) => ({ k, crop, h, hColour, out: join(folder, `${k}-${h}-${hColour}.rgb`) })),
      )
    })
    const script = join(projectRoot(), 'packages/engine/bench/quality/nlm.py')
    const input = jobs
      .map(({ k, crop, h, hColour, out }) =>
        [join(folder, `${k}.rgb`), out, crop.width, crop.height, h, hColour].join(' '),
      )
      .join('\n')
    const ran = spawnSync('/usr/bin/python3', [script], { input, encoding: 'utf8' })
    if (ran.status !== 0) return undefined
    const times = ran.stdout.trim().split('\n').map(Number)
    const best: { score: Score; ms: number }[] = []
    jobs.forEach(({ k, crop, out }, i) => {
      const found = score(new Uint8Array(readFileSync(out)), crop)
      if (!best[k] || found.psnr > best[k].score.psnr) best[k] = { score: found, ms: times[i] }
    })
    return best
  } finally {
    rmSync(folder, { recursive: true })
  }
}
