import { carriedOut, leftToDo, readDevelopment, type Development } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { delivered } from '../../test/delivered'
import { demoFile, psnr8, testEngine } from '../../test/engines'
import { complaints, rawLibraryMeans, tagsOf } from '../../test/outside'
import type { Engine, Picture } from '../index'

let engine: Engine
beforeAll(() => (engine = testEngine({ workers: 2 })))
afterAll(() => engine.stop())

const demo = (name: string) => new Uint8Array(readFileSync(demoFile.replace('HM0417', name)))
const DNG = { format: { kind: 'dng' } } as const

const BUSY = readDevelopment({
  steps: {
    noise: { mode: 'automatic' },
    lens: { choice: 'hand', bend: -0.04 },
    exposure: { ev: 0.7 },
    baseRendering: { grade: 2.6 },
    cameraColour: { source: 'kelvin', kelvin: 4800, tint: 8 },
    recovery: { amount: 0.6 },
    tones: { shadows: { lift: 0.5 } },
    colourfulness: { amount: 0.2 },
    sharpen: { amount: 0.6 },
    relief: { fine: 0.3 },
  },
})

async function withPicture<T>(bytes: Uint8Array, use: (picture: Picture) => Promise<T>): Promise<T> {
  const picture = await engine.open(bytes)
  try {
    return await use(picture)
  } finally {
    engine.close(picture)
  }
}
const finished = (picture: Picture, development: Development) =>
  picture
    .square(development)
    .then(({ finished: { width, height } }) =>
      picture.deliver({ development, space: 'srgb', bits: 8, width, height }),
    )

describe('a linear DNG', () => {
  it.each(['HM0417', 'HM0405', 'HM0502'])(
    '%s, developed with what is left to do, is the picture as it would be',
    async (name) => {
      const [file, direct] = await withPicture(demo(name), async (picture) => [
        await delivered(picture, BUSY, DNG, { metadata: picture.frame.metadata }),
        await finished(picture, BUSY),
      ])
      await withPicture(file, async (picture) => {
        expect(picture.frame.layout).toBe('linear')
        expect(psnr8(await finished(picture, leftToDo(BUSY)), direct)).toBeGreaterThan(45)
        // nothing of colour and exposure is in it: without them it is another picture
        expect(psnr8(await finished(picture, readDevelopment({})), direct)).toBeLessThan(35)
      })
      expect(await complaints(file, '.dng')).toEqual([])
      // by weight no more than half as much again as what came in
      expect(file.length).toBeLessThan(demo(name).length * 1.5)
    },
  )

  it('keeps light beyond white that was brought back, and is cleaned of noise', async () => {
    const dark = { exposure: { ev: -2 } }
    const kept = readDevelopment({ steps: { ...dark, highlights: { rebuild: 1 } } })
    const [file, direct] = await withPicture(demo('HM0466'), async (picture) => [
      await delivered(picture, kept, DNG),
      await finished(picture, kept),
    ])
    await withPicture(file, async (picture) =>
      expect(psnr8(await finished(picture, leftToDo(kept)), direct)).toBeGreaterThan(45),
    )
  })

  it('says of its camera, light and making what the original says, and is read by others', async () => {
    const source = demo('HM0417')
    const file = await withPicture(source, (picture) =>
      delivered(picture, BUSY, DNG, { metadata: picture.frame.metadata }),
    )
    const [before, after] = [await tagsOf(source, '.dng'), await tagsOf(file, '.dng')]
    for (const tag of [
      'Make',
      'Model',
      'UniqueCameraModel',
      'CalibrationIlluminant1',
      'CalibrationIlluminant2',
    ])
      expect(after[`IFD0:${tag}`], tag).toEqual(before[`IFD0:${tag}`])
    const numbers = (value: unknown) => String(value).split(' ').map(Number)
    for (const tag of ['ColorMatrix1', 'ColorMatrix2', 'AsShotNeutral'])
      numbers(after[`IFD0:${tag}`]).forEach((v, i) =>
        expect(Math.abs(v - numbers(before[`IFD0:${tag}`])[i]), tag).toBeLessThan(2e-4),
      )
    for (const tag of ['ExposureTime', 'FNumber', 'ISO', 'LensModel', 'DateTimeOriginal'])
      expect(after[`ExifIFD:${tag}`], tag).toEqual(before[`ExifIFD:${tag}`])
    expect(after).toMatchObject({
      'SubIFD:PhotometricInterpretation': 34892,
      'SubIFD:Compression': 7,
      'SubIFD:SamplesPerPixel': 3,
      'SubIFD:ImageWidth': 2256,
      'SubIFD:ImageHeight': 1504,
      'IFD0:SubfileType': 1,
      'IFD0:BaselineExposure': Number(before['IFD0:BaselineExposure'] ?? 0) + 1,
    })
    // variance = a * light + b, of light that is stored at a half
    const [a, b] = numbers(before['SubIFD:NoiseProfile'])
    const noise = numbers(after['SubIFD:NoiseProfile'])
    expect(noise).toHaveLength(6)
    expect(Math.abs(noise[2] / a - 0.5)).toBeLessThan(1e-6)
    expect(Math.abs(noise[3] / b - 0.25)).toBeLessThan(1e-6)
    const [there, made] = [await rawLibraryMeans(source), await rawLibraryMeans(file)]
    expect(made.size).toEqual(there.size)
    // it is stored at half the light, which the library shows as 0.76 of the value (sRGB to BT.709)
    made.means.forEach((v, c) =>
      expect(Math.abs(v / there.means[c] - made.means[1] / there.means[1])).toBeLessThan(0.03),
    )
    expect(made.means[1]).toBeGreaterThan(40)
  })

  it('is parted so that no step is carried out twice or never', () => {
    const all = readDevelopment(BUSY)
    const [done, left] = [carriedOut(all), leftToDo(all)]
    const start = readDevelopment({})
    for (const id of Object.keys(all.steps) as (keyof Development['steps'])[]) {
      const taken = JSON.stringify(done.steps[id]) === JSON.stringify(all.steps[id])
      const kept = JSON.stringify(left.steps[id]) === JSON.stringify(all.steps[id])
      expect(taken || kept, id).toBe(true)
      if (JSON.stringify(all.steps[id]) !== JSON.stringify(start.steps[id]))
        expect(taken !== kept, id).toBe(true)
    }
  })
})
