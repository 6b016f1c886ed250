import {
  angularError,
  apply,
  neutralFromXy,
  readDevelopment,
  readDng,
  working,
  xyFromKelvin,
  invert,
  type Triple,
} from '@dunkelkammer/core'
import { demoFrames, renderCrop, response } from '@dunkelkammer/demo'
import { automatic, type Engine } from '../../src/node'
import { photographClipped } from './highlights'
import { plainCamera } from './crops'
import type { Photograph } from './photographs'

/** Lights, and how far off the camera's word for each is: red and blue, as factors. */
const LIGHTS: readonly [kelvin: number, red: number, blue: number][] = [
  [2850, 1, 1],
  [3600, 1.05, 0.94],
  [5200, 0.96, 1.03],
  [6500, 1, 1],
  [8500, 1.06, 0.95],
]
/** One picture in so many is taken with the camera set to daylight. */
const DAYLIGHT_EACH = 4
const DAYLIGHT = 5500
const MOST = 20
/** Degrees that whole steps of temperature and tint may be off. */
const ROUNDING = 0.1

/** A black body's or daylight's colour as working light, its green 1. */
function lightOf(kelvin: number): Triple {
  const [x, y] = xyFromKelvin(kelvin, 0)
  const rgb = apply(invert(working.toXyz), [x / y, 1, (1 - x - y) / y])
  return [rgb[0] / rgb[1], 1, rgb[2] / rgb[1]]
}

const times = (a: Triple, b: Triple): Triple => [a[0] * b[0], a[1] * b[1], a[2] * b[2]]

function scenes(): Photograph[] {
  const seen = new Set<string>()
  return demoFrames.flatMap(({ scene }) => {
    if (seen.has(scene.title)) return []
    seen.add(scene.title)
    const size = { width: 240, height: 160 }
    return [{ name: scene.title, ...size, rgb: renderCrop(scene, 240, 160, { x: 0, y: 0, ...size }) }]
  })
}

/** How far the camera's word and the white found by itself are from the light that was there, in degrees. */
export async function whiteTable(engine: Engine, others: readonly Photograph[] = []): Promise<string[]> {
  const rows: string[] = []
  const found: number[] = []
  let better = 0
  const pictures = [...scenes(), ...others]
  const m = response(plainCamera)
  for (let i = 0; i < MOST; i++) {
    const { name, width, height, rgb } = pictures[i % pictures.length]
    const [kelvin, red, blue] = LIGHTS[i % LIGHTS.length]
    const light = lightOf(kelvin)
    const top = Float32Array.from(rgb).sort()[Math.floor(rgb.length * 0.98)]
    const lit = rgb.map((v, j) => (v / top) * 0.8 * (light[j % 3] / Math.max(...light)))
    const told = i % DAYLIGHT_EACH === 3 ? lightOf(DAYLIGHT) : times(light, [red, 1, blue])
    const [w, h] = [width - 4, height - 4]
    const { dng } = photographClipped(name, lit, 0.8, told, w, h)
    const picture = await engine.open(dng)
    const { cameraColour } = (await automatic(picture, readDevelopment({}), ['white'], 1)).steps
    engine.close(picture)
    const { colour } = readDng(dng)
    const truth = apply(m, light)
    const neutral =
      cameraColour.source === 'kelvin'
        ? neutralFromXy(colour, xyFromKelvin(cameraColour.kelvin, cameraColour.tint))
        : colour.asShotNeutral
    const [before, after] = [angularError(colour.asShotNeutral, truth), angularError(neutral, truth)]
    found.push(after)
    if (after <= before + ROUNDING) better++
    rows.push(`| ${name}, ${kelvin} K | ${before.toFixed(2)} | ${after.toFixed(2)} |`)
  }
  found.sort((a, b) => a - b)
  return [
    '\n| white by itself, degrees from the light | as taken | found |',
    '|---|--:|--:|',
    ...rows,
    `| at most the camera’s in ${better} of ${MOST}; median | | ${((found[MOST / 2 - 1] + found[MOST / 2]) / 2).toFixed(2)} |`,
  ]
}
