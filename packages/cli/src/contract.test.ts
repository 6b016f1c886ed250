import {
  decode,
  encode,
  letsNumbersIn,
  readDevelopment,
  srgb,
  stepById,
  STEP_IDS,
  withoutStages,
  type Development,
  type StepId,
} from '@dunkelkammer/core'
import { delivered } from '../../engine/test/delivered'
import { builtEngineFiles, createEngine, type Engine, type Picture } from '@dunkelkammer/engine/node'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { temporary } from '../../server/test/server'
import { contractFrame, SAMPLES } from '../test/samples'
import { develop } from './develop'

const place = temporary()
const frame = join(place.path, 'frame.dng')
let engine: Engine
let picture: Picture
beforeAll(async () => {
  writeFileSync(frame, contractFrame())
  engine = createEngine(builtEngineFiles())
  picture = await engine.open(new Uint8Array(readFileSync(frame)))
})
afterAll(() => {
  engine.stop()
  place.remove()
})

interface Pixels {
  width: number
  height: number
  data: Uint8Array
}
const png = async (file: string | Uint8Array): Promise<Pixels> => {
  const { data, info } = await sharp(file, { ignoreIcc: true }).raw().toBuffer({ resolveWithObject: true })
  return { width: info.width, height: info.height, data }
}
/** A delivered file's pixels. */
const file = async (development: Development) =>
  png(await delivered(picture, development, { format: { kind: 'png' } }))
/** The same through the shell. */
async function byShell(development: Development, name: string): Promise<Pixels> {
  const settings = join(place.path, `${name}.json`)
  const to = join(place.path, `${name}.png`)
  writeFileSync(settings, JSON.stringify(development))
  const said = vi.spyOn(process.stdout, 'write').mockReturnValue(true)
  await develop([frame, '--to', to, '--settings', settings]).finally(() => said.mockRestore())
  return png(to)
}
/** The view of all of a picture at a size, as the bench shows it. */
async function shown(development: Development, by = 1): Promise<Pixels> {
  const { finished } = await picture.square(development)
  const size = { width: Math.round(finished.width * by), height: Math.round(finished.height * by) }
  const { rgba } = await picture.view({ development, ...size, region: { x: 0, y: 0, ...size } })
  return {
    ...size,
    data: Uint8Array.from({ length: rgba.length * 0.75 }, (_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)]),
  }
}
const alike = (a: Pixels, b: Pixels) =>
  a.width === b.width && a.height === b.height && Buffer.compare(a.data, b.data) === 0
const distance = (a: Pixels, b: Pixels) => {
  let sum = 0
  for (let i = 0; i < a.data.length; i++) sum += (a.data[i] - b.data[i]) ** 2
  return Math.sqrt(sum / a.data.length)
}

/** Means of the light of `by` x `by` pixels, parts of pixels at the rims of each counted as parts. */
function madeSmall({ width, height, data }: Pixels, by: number): Pixels {
  const size = { width: Math.round(width / by), height: Math.round(height / by) }
  const out = new Uint8Array(size.width * size.height * 3)
  /** The pixels that one of the small picture covers along an edge, and how much of each. */
  const covered = (at: number, small: number, large: number) => {
    const [from, to] = [(at * large) / small, ((at + 1) * large) / small]
    const first = Math.floor(from)
    return Array.from({ length: Math.ceil(to - 1e-9) - first }, (_, k) => {
      const share = Math.min(to, first + k + 1) - Math.max(from, first + k)
      return [first + k, share / (to - from)] as const
    })
  }
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (const [j, down] of covered(y, size.height, height))
          for (const [i, across] of covered(x, size.width, width))
            sum += down * across * decode(srgb.curve, data[(j * width + i) * 3 + c] / 255)
        out[(y * size.width + x) * 3 + c] = Math.round(encode(srgb.curve, sum) * 255)
      }
  return { ...size, data: out }
}

describe.each(STEP_IDS)('the step %s', (id: StepId) => {
  const step = stepById.get(id)!
  const absent = step.absent ?? step.neutral
  const of = (settings: unknown, part: object = {}) => readDevelopment({ steps: { [id]: settings }, ...part })
  const sample = SAMPLES[id]

  it('keeps its contract in files and on the screen', async () => {
    const without = await file(of(absent))
    const full = await file(of(sample))
    // it changes the file, and the shell delivers that very file
    expect(alike(full, without)).toBe(false)
    expect(alike(await byShell(of(sample), id), full)).toBe(true)
    // taken away in any way it is gone
    expect(alike(await file(of(sample, { off: [id] })), without)).toBe(true)
    expect(alike(await file(of(sample, { strength: { [id]: 0 } })), without)).toBe(true)
    expect(
      alike(
        await file(withoutStages(of(sample), [step.stage])),
        await file(withoutStages(of(step.neutral), [step.stage])),
      ),
    ).toBe(true)
    // half of it lies between
    if (letsNumbersIn(id) || (!step.essential && step.takes !== 'frame')) {
      const half = await file(of(sample, { strength: { [id]: 0.5 } }))
      const areas = [without, half, full].map(({ width, height }) => width * height)
      if (areas[0] !== areas[2]) expect(areas.toSorted((a, b) => b - a)).toEqual(areas)
      else {
        const all = distance(full, without)
        expect(distance(half, without)).toBeLessThan(all * 0.95)
        expect(distance(half, full)).toBeLessThan(all * 0.95)
      }
    }
    // the screen shows the file, at 100 % and made small
    expect(alike(await shown(of(sample)), full)).toBe(true)
    // sizes are whole pixels: what is cut to another shape lies a part of a pixel elsewhere in a small view
    const most = step.takes === 'frame' ? 16 : 8
    expect(distance(await shown(of(sample), 0.25), madeSmall(full, 4))).toBeLessThan(most)
    // undone it is as before
    expect(alike(await file(of(absent)), without)).toBe(true)
  })
})
