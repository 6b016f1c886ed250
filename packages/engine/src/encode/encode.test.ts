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
  type SpaceId,
} from '@dunkelkammer/core'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, describe, expect, it } from 'vitest'
import { encoded } from '../../test/delivered'
import { complaints, tagsOf } from '../../test/outside'
import { profileOf } from './order'
import { FileExists, uprightJpeg, writeWhole } from './index'

const WIDTH = 37
const XMP = `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"/><?xpacket end="w"?>`
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

const FORMATS = {
  jpeg: { kind: 'jpeg', quality: 92, chroma: 'automatic' },
  png: { kind: 'png', bits: 8 },
  tiff: { kind: 'tiff', bits: 8, compression: 'deflate' },
} as const
const size = { width: WIDTH, height: HEIGHT, metadata }
const make = (format: keyof typeof FORMATS, bits: 8 | 16, space: SpaceId = 'srgb') =>
  encoded(pixels(bits), { format: FORMATS[format], bits, space, ...size })
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
    [8, { kind: 'png', bits: 8 }],
    [16, { kind: 'png', bits: 16 }],
    [8, { kind: 'tiff', bits: 8, compression: 'none' }],
    [8, { kind: 'tiff', bits: 8, compression: 'deflate' }],
    [8, { kind: 'tiff', bits: 8, compression: 'lzw' }],
    [16, { kind: 'tiff', bits: 16, compression: 'none' }],
    [16, { kind: 'tiff', bits: 16, compression: 'deflate' }],
    [16, { kind: 'tiff', bits: 16, compression: 'lzw' }],
  ] as const)('hold every sample: %i bit, %o', async (bits, format) => {
    const file = await encoded(pixels(bits), { format, bits, ...size })
    expect(Buffer.compare(await samplesOf(file, bits), Buffer.from(pixels(bits)))).toBe(0)
  })

  it('of LZW hold pictures of many strips, of noise, of one tone and of lines', async () => {
    const [width, height] = [700, 1200]
    for (const of of [
      (i: number) => (Math.imul(i, 2654435761) >>> 13) & 255,
      () => 77,
      (i: number) => (i % 5 === 0 ? 255 : 0),
      (i: number) => Math.floor(i / 2100) & 255,
    ]) {
      const picture = Uint8Array.from({ length: width * height * 3 }, (_, i) => of(i))
      const format = { kind: 'tiff', bits: 8, compression: 'lzw' } as const
      const file = await encoded(picture, { format, width, height })
      expect(Buffer.compare(await samplesOf(file, 8), Buffer.from(picture))).toBe(0)
    }
  })

  it.each([
    { kind: 'webp', quality: 95 },
    { kind: 'avif', quality: 95 },
  ] as const)('of %o are close, and say what they are', async (format) => {
    const smooth = Uint8Array.from({ length: 96 * 64 * 3 }, (_, i) => 110 + 60 * Math.sin(i / 900))
    const xmp = '<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"/>'
    const file = await encoded(smooth, { format, width: 96, height: 64, space: 'display-p3', metadata, xmp })
    const back = await samplesOf(file, 8)
    expect(back.reduce((s, v, i) => s + Math.abs(v - smooth[i]), 0) / back.length).toBeLessThan(2.5)
    const said = await sharp(file).metadata()
    expect(Buffer.compare(said.icc!, Buffer.from(iccProfile(spaces['display-p3'])))).toBe(0)
    expect(said.xmp!.toString()).toContain('rdf:RDF')
    const exif = said.exif!.toString('latin1')
    for (const word of ['Veldrom 3', 'Veldrom 28 mm f/2.8', '2026:05:14 06:52:11'])
      expect(exif).toContain(word)
  })

  it('of JPEG are close, and the closer the higher the quality', async () => {
    const smooth = new Uint8Array(WIDTH * HEIGHT * 3).map((_, i) => 100 + 60 * Math.sin(i / 400))
    const error = async (quality: number) => {
      const file = await encoded(smooth, { format: { ...FORMATS.jpeg, quality }, ...size })
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

  it.each([
    ['.jpg', 8, FORMATS.jpeg],
    ['.png', 16, { kind: 'png', bits: 16 }],
    ['.tif', 16, { kind: 'tiff', bits: 16, compression: 'none' }],
    ['.tif', 8, { kind: 'tiff', bits: 8, compression: 'lzw' }],
    ['.webp', 8, { kind: 'webp', quality: 90 }],
    ['.avif', 8, { kind: 'avif', quality: 90 }],
  ] as const)('are right to an independent reader: %s, %i bit, %o', async (ending, bits, format) => {
    const more = { artist: 'M. Oudendijk', copyright: 'Trust', description: 'Schleuse früh' }
    const position = { north: 52.1, east: -4.25, height: -3 }
    const file = await encoded(pixels(bits), {
      ...{ format, bits, ...size, ppi: 240 },
      // of a TIFF that reader wants to know too how the position was found, which nobody says
      metadata: { ...metadata, ...more, ...(ending !== '.tif' && { position }) },
      xmp: XMP,
    })
    expect(await complaints(file, ending)).toEqual([])
    const said = await tagsOf(file, ending)
    expect(said).toMatchObject({
      'IFD0:Model': 'Veldrom 3',
      'IFD0:Copyright': 'Trust',
      'ExifIFD:LensModel': 'Veldrom 28 mm f/2.8',
      'ExifIFD:ExposureTime': 1 / 320,
    })
    if (ending !== '.tif') {
      expect(Math.abs(Number(said['Composite:GPSLatitude']) - 52.1)).toBeLessThan(1e-6)
      expect(Math.abs(Number(said['Composite:GPSLongitude']) + 4.25)).toBeLessThan(1e-6)
    }
    expect(said['IFD0:XResolution']).toBe(240)
    // sRGB, the only space that has a number
    expect(said['ExifIFD:ColorSpace']).toBe(1)
    expect(said['ExifIFD:SubSecTimeOriginal'] ?? said['Composite:SubSecDateTimeOriginal']).toBeDefined()
    // whoever reads the picture is not disturbed by what lies beside it
    const { width, height, icc } = await sharp(file).metadata()
    expect([width, height, icc !== undefined]).toEqual([size.width, size.height, true])
    expect((await sharp(file).raw().toBuffer()).length).toBeGreaterThan(0)
  })

  it('say no number of another space', async () => {
    for (const format of ['jpeg', 'tiff'] as const) {
      const file = await make(format, 8, 'display-p3')
      expect((await tagsOf(file, format === 'jpeg' ? '.jpg' : '.tif'))['ExifIFD:ColorSpace']).toBe(65535)
    }
  })

  it('of linear light carry a linear profile, of camera channels none', () => {
    expect(profileOf('linear-rec2020').icc).toEqual(iccProfile(working, LINEAR, 'Rec. 2020 linear'))
    expect(rec2020).toBe(working)
    expect(profileOf('camera').icc).toBeUndefined()
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
      const file = await encoded(pixels(8), {
        ...{ format: FORMATS[format], width: WIDTH, height: HEIGHT },
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
      expect(entries.number(40962)).toBe(format === 'jpeg' ? WIDTH : undefined)
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
