import {
  iccProfile,
  LINEAR,
  rec2020,
  spaces,
  readDirectories,
  readPointed,
  TAG,
  turned,
  working,
  type OutputSpace,
} from '@dunkelkammer/core'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, describe, expect, it } from 'vitest'
import { encodePicture, FileExists, uprightJpeg, writeWhole } from './index'

const WIDTH = 37
const HEIGHT = 23
const metadata = {
  make: 'Ostrava & Linde',
  model: 'Veldrom 3',
  lens: 'Veldrom 28 mm f/2.8',
  iso: 400,
  exposureTime: 1 / 320,
  fNumber: 8,
  focalLength: 28,
  taken: '2026-05-14T06:52:11.25+02:00',
  orientation: 6,
}

function pixels(bits: 8 | 16): Uint8Array<ArrayBuffer> {
  const n = WIDTH * HEIGHT * 3
  const samples = bits === 8 ? new Uint8Array(n) : new Uint16Array(n)
  for (let i = 0; i < n; i++) samples[i] = (i * 2654435761) % (bits === 8 ? 256 : 65536)
  return new Uint8Array(samples.buffer)
}

const make = (
  format: 'jpeg' | 'png' | 'tiff',
  bits: 8 | 16,
  space: OutputSpace = 'srgb',
  compression: 'none' | 'deflate' = 'deflate',
) =>
  encodePicture(pixels(bits), {
    format,
    bits,
    space,
    compression,
    width: WIDTH,
    height: HEIGHT,
    quality: 92,
    metadata,
  })

const samplesOf = async (file: Uint8Array, bits: 8 | 16) => {
  const decoded = sharp(file, { ignoreIcc: true } as object)
  const { data } = await (
    bits === 16 ? decoded.toColourspace('rgb16').raw({ depth: 'ushort' }) : decoded.raw()
  ).toBuffer({
    resolveWithObject: true,
  })
  return data
}

describe('files', () => {
  it.each([
    ['png', 8, 'deflate'],
    ['png', 16, 'deflate'],
    ['tiff', 8, 'none'],
    ['tiff', 8, 'deflate'],
    ['tiff', 16, 'none'],
    ['tiff', 16, 'deflate'],
  ] as const)('hold every sample: %s, %i bit, %s', async (format, bits, compression) => {
    const file = await make(format, bits, 'srgb', compression)
    expect(Buffer.compare(await samplesOf(file, bits), Buffer.from(pixels(bits)))).toBe(0)
  })

  it('of JPEG are close, and the closer the higher the quality', async () => {
    const smooth = new Uint8Array(WIDTH * HEIGHT * 3).map((_, i) => 100 + 60 * Math.sin(i / 400))
    const error = async (quality: number) => {
      const file = await encodePicture(smooth, {
        format: 'jpeg',
        bits: 8,
        space: 'srgb',
        compression: 'none',
        width: WIDTH,
        height: HEIGHT,
        quality,
        metadata,
      })
      const back = await samplesOf(file, 8)
      return back.reduce((s, v, i) => s + (v - smooth[i]) ** 2, 0) / back.length
    }
    expect(await error(95)).toBeLessThan(2)
    expect(await error(20)).toBeGreaterThan(await error(95))
  })

  it.each(['srgb', 'display-p3', 'oprgb', 'romm', 'rec2020'] as const)(
    'carry the profile of %s',
    async (space) => {
      for (const format of ['jpeg', 'png', 'tiff'] as const) {
        const { icc } = await sharp(await make(format, 8, space)).metadata()
        expect(Buffer.compare(icc!, Buffer.from(iccProfile(spaces[space])))).toBe(0)
      }
    },
  )

  it('of linear light carry a linear profile, of camera channels none', async () => {
    const linear = await sharp(await make('tiff', 16, 'linear-rec2020')).metadata()
    expect(Buffer.compare(linear.icc!, Buffer.from(iccProfile(working, LINEAR, 'Rec. 2020 linear')))).toBe(0)
    expect(rec2020).toBe(working)
    expect((await sharp(await make('tiff', 16, 'camera')).metadata()).icc).toBeUndefined()
    expect((await sharp(await make('png', 16, 'camera')).metadata()).icc).toBeUndefined()
  })

  it('carry the taking of the frame, upright', async () => {
    const tiff = await make('tiff', 16)
    const [main] = readDirectories(tiff)
    const { exif: block } = await sharp(await make('jpeg', 8)).metadata()
    const inJpeg = Uint8Array.from(block!.subarray(6))
    for (const [bytes, dir] of [
      [tiff, main],
      [inJpeg, readDirectories(inJpeg)[0]],
    ] as const) {
      expect(dir.text(TAG.Model)).toBe('Veldrom 3')
      expect(dir.number(TAG.Orientation)).toBe(1)
      const exif = readPointed(bytes, dir, TAG.ExifIfd)!
      expect(exif.text(TAG.LensModel)).toBe('Veldrom 28 mm f/2.8')
      expect(exif.number(TAG.ExposureTime)).toBe(1 / 320)
      expect(exif.number(TAG.IsoSpeed)).toBe(400)
      expect(exif.text(TAG.DateTimeOriginal)).toBe('2026:05:14 06:52:11')
      expect(exif.text(TAG.SubSecTimeOriginal)).toBe('25')
      expect(exif.text(TAG.OffsetTimeOriginal)).toBe('+02:00')
    }
    expect((await sharp(await make('png', 8)).metadata()).exif?.length).toBeGreaterThan(100)
  })
})

describe('writing', () => {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
  afterAll(() => rmSync(folder, { recursive: true }))

  it('never takes the place of a file unasked, and leaves nothing behind', async () => {
    const path = join(folder, 'a.jpg')
    writeFileSync(path, 'old')
    await expect(writeWhole(path, Buffer.from('new'))).rejects.toBeInstanceOf(FileExists)
    expect(readFileSync(path, 'utf8')).toBe('old')
    await writeWhole(path, Buffer.from('new'), { replace: true })
    expect(readFileSync(path, 'utf8')).toBe('new')
    await writeWhole(join(folder, 'b.jpg'), Buffer.from('b'))
    expect(readdirSync(folder).sort()).toEqual(['a.jpg', 'b.jpg'])
    await expect(writeWhole(join(folder, 'no', 'c.jpg'), Buffer.from('c'))).rejects.toThrow()
  })
})

describe('what the camera wrote', () => {
  it('goes along into every format, maker’s notes included', async () => {
    const makerNote = Array.from({ length: 200 }, (_, i) => (i * 11) & 255)
    const exif = [
      { tag: TAG.MakerNote, type: 7, values: makerNote },
      { tag: 37380, type: 10, values: [0xffffffff - 32, 100] },
      { tag: 37383, type: 3, values: [5] },
      { tag: 40962, type: 4, values: [9999] },
      { tag: TAG.IsoSpeed, type: 3, values: [100] },
    ]
    for (const format of ['jpeg', 'tiff'] as const) {
      const file = await encodePicture(pixels(8), {
        ...{ format, bits: 8, space: 'srgb', compression: 'none', width: WIDTH, height: HEIGHT, quality: 90 },
        metadata: { ...metadata, exif },
      })
      // in a JPEG the directories follow the mark of their segment
      const at = format === 'tiff' ? 0 : Buffer.from(file).indexOf('Exif\0\0') + 6
      const bytes = Uint8Array.from(file.subarray(at))
      const entries = readPointed(bytes, readDirectories(bytes)[0], TAG.ExifIfd)!
      expect(entries.numbers(TAG.MakerNote)).toEqual(makerNote)
      expect(entries.number(37383)).toBe(5)
      expect(entries.pairs(37380)).toEqual([-33, 100])
      // what speaks of the raw file's pixels stays behind, and what we know better is ours
      expect(entries.number(40962)).toBeUndefined()
      expect(entries.number(TAG.IsoSpeed)).toBe(400)
    }
  })
})

describe('the camera’s own picture', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('stands upright, orientation %i', async (orientation) => {
    // four fields: as seen upright red is left on top, green right on top, blue left below
    const upright = { width: 64, height: 48 }
    const lying = orientation >= 5
    const stored = lying ? { width: 48, height: 64 } : upright
    const field = (x: number, y: number) =>
      y < upright.height / 2
        ? x < upright.width / 2
          ? [255, 0, 0]
          : [0, 255, 0]
        : x < upright.width / 2
          ? [0, 0, 255]
          : [255, 255, 255]
    const raw = new Uint8Array(stored.width * stored.height * 3)
    for (let y = 0; y < stored.height; y++)
      for (let x = 0; x < stored.width; x++)
        raw.set(field(...turned(x, y, stored, orientation)), (y * stored.width + x) * 3)
    const jpeg = await sharp(raw, { raw: { ...stored, channels: 3 } })
      .jpeg({ quality: 95 })
      .toBuffer()
    const { data, info } = await sharp(await uprightJpeg(jpeg, orientation))
      .raw()
      .toBuffer({ resolveWithObject: true })
    expect([info.width, info.height]).toEqual([64, 48])
    for (const [x, y] of [
      [10, 10],
      [54, 10],
      [10, 38],
      [54, 38],
    ])
      field(x, y).forEach((v, c) => expect(Math.abs(data[(y * 64 + x) * 3 + c] - v)).toBeLessThan(40))
  })
})
