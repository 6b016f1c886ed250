import {
  ciede2000,
  decode,
  SPACE_IDS,
  spaces,
  toLab,
  type DeliveryInput,
  type Triple,
} from '@dunkelkammer/core'
import { paperProfile, printedLab } from '@dunkelkammer/demo'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartFile, PATCH } from '../../test/chart'
import { delivered } from '../../test/delivered'
import { settings, testEngine } from '../../test/engines'
import type { Engine, Picture } from '../index'
import { FLOATS, openFrom, colourManagement } from '../profiles/profile'

const PATCHES = 24
let engine: Engine
let picture: Picture
/** L*a*b* of the patches as they are developed, before anything is encoded. */
let truth: Triple[]
const development = settings({})

/** Means of the inner parts of the patches, samples 0..1. */
function patchMeans(values: ArrayLike<number>, top: number): Triple[] {
  const edge = PATCH / 4
  return Array.from({ length: PATCHES }, (_, patch) => {
    const sum = [0, 0, 0]
    for (let y = edge; y < PATCH - edge; y++)
      for (let x = edge; x < PATCH - edge; x++) {
        const at = (Math.floor(patch / 6) * PATCH + y) * CHART_WIDTH + (patch % 6) * PATCH + x
        for (let c = 0; c < 3; c++) sum[c] += values[at * 3 + c]
      }
    return sum.map((v) => v / (PATCH / 2) ** 2 / top) as unknown as Triple
  })
}

/** L*a*b* of a file's patches, by other people's readers: of the format, and of the profile in it. */
async function labInFile(file: Uint8Array): Promise<Triple[]> {
  const { icc, depth } = await sharp(file).metadata()
  const deep = depth === 'ushort'
  const raw = await sharp(file, { ignoreIcc: true })
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer()
  const values = deep ? new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2) : raw
  const lcms = await colourManagement()
  const profile = openFrom(lcms, icc!)
  const lab = lcms.cmsCreateLab4Profile()
  const transform = lcms.cmsCreateTransform(profile, FLOATS.RGB, lab, FLOATS.Lab, 1, 0x0140)
  const means = patchMeans(values, deep ? 65535 : 255)
  const out = lcms.cmsDoTransform(transform, Float32Array.from(means.flat()), PATCHES)
  lcms.cmsDeleteTransform(transform)
  for (const opened of [profile, lab]) lcms.cmsCloseProfile(opened)
  return means.map((_, i) => [...out.subarray(i * 3, i * 3 + 3)] as unknown as Triple)
}

const error = (found: readonly Triple[], meant: readonly Triple[]) =>
  found.reduce((sum, lab, i) => sum + ciede2000(lab, meant[i]), 0) / PATCHES

beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(chartFile('daylight65', 0.5))
  const bytes = await picture.deliver({
    ...{ development, space: 'rec2020', bits: 16, width: CHART_WIDTH, height: CHART_HEIGHT },
  })
  const { curve } = spaces.rec2020
  truth = patchMeans(new Uint16Array(bytes.buffer), 65535).map((rgb) =>
    toLab(spaces.rec2020, rgb.map((v) => decode(curve, v)) as unknown as Triple),
  )
})
afterAll(() => engine.stop())

const DEEP: DeliveryInput['format'][] = [
  { kind: 'tiff', bits: 16 },
  { kind: 'png', bits: 16 },
]
const SHALLOW: DeliveryInput['format'][] = [
  { kind: 'jpeg', quality: 95 },
  { kind: 'png', bits: 8 },
  { kind: 'tiff', bits: 8 },
  { kind: 'webp', quality: 95 },
  { kind: 'avif', quality: 95 },
]

describe('24 patches in a file', () => {
  it.each(SPACE_IDS)('are what was developed: %s', async (space) => {
    for (const format of DEEP) {
      const lab = await labInFile(await delivered(picture, development, { format, space }))
      expect(error(lab, truth)).toBeLessThan(0.5)
    }
    for (const format of SHALLOW) {
      const lab = await labInFile(await delivered(picture, development, { format, space }))
      expect(error(lab, truth)).toBeLessThan(1)
    }
  })

  it('print as they were developed, by the profile of a paper', async () => {
    const profile = paperProfile()
    const made = (format: DeliveryInput['format']) =>
      delivered(
        picture,
        development,
        { format, space: { profile: 'paper', intent: 'relative', blackPoint: false } },
        { profile },
      )
    const tiff = await made({ kind: 'tiff', bits: 16 })
    const { icc } = await sharp(tiff).metadata()
    expect(new Uint8Array(icc!)).toEqual(profile)
    const raw = await sharp(tiff, { ignoreIcc: true })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer()
    const device = patchMeans(new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2), 65535)
    // by the made-up printer itself, where the paper has the colour
    const errors = device
      .map((rgb, i) => ciede2000(printedLab(rgb), truth[i]))
      .filter((_, i) => truth[i][0] > 30 && Math.hypot(truth[i][1], truth[i][2]) < 35)
    expect(errors.length).toBeGreaterThan(10)
    expect(errors.reduce((a, b) => a + b, 0) / errors.length).toBeLessThan(1)
    // a JPEG says the same, a step of its levels apart
    expect(
      error(await labInFile(await made({ kind: 'jpeg', quality: 95 })), await labInFile(tiff)),
    ).toBeLessThan(1)
  })
})
