import { iccProfile, LINEAR, readDng, RawError, spaces, startDevelopment, working } from '@dunkelkammer/core'
import { cameraFile, demoFrames, photographCrop, veldrom } from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { deflateSync } from 'node:zlib'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testEngine } from '../../test/engines'
import { encoded } from '../../test/delivered'
import { rewritten } from '../../test/outside'
import { tiffFile } from '../../test/tiffFile'
import { avifWithExif } from '../encode/exifInside'
import type { Engine } from '../host/engine'
import { libraryDng, patternOf } from './libraryRaw'
import { adapt, identify } from './index'
import { nodeCodecs } from './node'

const W = 96
const H = 64
/** Smooth colours over most of the cube, greys and pure colours among them. */
const picture = (() => {
  const out = Buffer.alloc(W * H * 3)
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = (y * W + x) * 3
      out[i] = Math.round((x * 255) / (W - 1))
      out[i + 1] = Math.round((y * 255) / (H - 1))
      out[i + 2] = y < 32 ? Math.round(((x + y) * 255) / (W + 32)) : 255 - out[i]
      if (y > 56) out[i + 1] = out[i + 2] = out[i]
    }
  return out
})()
const raw = { raw: { width: W, height: H, channels: 3 } } as const
const source = () => sharp(picture, raw)

let engine: Engine
beforeAll(() => void (engine = testEngine()))
afterAll(() => engine.stop())

/** The picture as it is delivered in sRGB with nothing changed. */
async function delivered(bytes: Uint8Array, bits: 8 | 16 = 8) {
  const { dng } = await adapt(new Uint8Array(bytes), nodeCodecs)
  const open = await engine.open(dng)
  try {
    const size = { width: open.width, height: open.height }
    const out = await open.deliver({ development: startDevelopment(), space: 'srgb', bits, ...size })
    return { ...size, pixels: bits === 16 ? new Uint16Array(out.buffer) : out }
  } finally {
    engine.close(open)
  }
}
const worst = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let most = a.length === b.length ? 0 : Infinity
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]))
  return most
}

describe('finished pictures', () => {
  it.each([
    ['png', () => source().png()],
    [
      'png of 16 bits',
      () =>
        sharp(
          Uint16Array.from(picture, (v) => v * 257),
          raw,
        )
          .toColourspace('rgb16')
          .png(),
    ],
    ['png with a palette off', () => source().png({ palette: false, progressive: true })],
    ['tiff', () => source().tiff({ compression: 'none' })],
    ['tiff, lzw with prediction', () => source().tiff({ compression: 'lzw', predictor: 'horizontal' })],
    [
      'tiff, deflate in tiles',
      () => source().tiff({ compression: 'deflate', tile: true, tileWidth: 32, tileHeight: 32 }),
    ],
    [
      'tiff of 16 bits',
      () =>
        sharp(
          Uint16Array.from(picture, (v) => v * 257),
          raw,
        )
          .toColourspace('rgb16')
          .tiff({ compression: 'lzw' }),
    ],
    ['tiff in runs', () => source().tiff({ compression: 'packbits' })],
    ['webp', () => source().webp({ lossless: true })],
    ['avif', () => source().avif({ lossless: true, chromaSubsampling: '4:4:4' })],
  ])('%s comes out as it went in', async (_, make) => {
    const { pixels, width, height } = await delivered(await make().toBuffer())
    expect([width, height]).toEqual([W, H])
    // one code for the rounding of linear light to 16 bits
    expect(worst(pixels, picture)).toBeLessThanOrEqual(1)
  })

  it('jpeg comes out as another decoder gives it', async () => {
    const jpeg = await source().jpeg({ quality: 97, chromaSubsampling: '4:4:4' }).toBuffer()
    const { pixels } = await delivered(jpeg)
    expect(worst(pixels, await sharp(jpeg).raw().toBuffer())).toBeLessThanOrEqual(3)
  })

  it('heif comes out as what was coded, within its loss', async () => {
    const bytes = readFileSync(new URL('../../test/files/ramp.heic', import.meta.url))
    const { pixels, width, height } = await delivered(bytes)
    expect([width, height]).toEqual([64, 48])
    let sum = 0
    for (let y = 0; y < 48; y++)
      for (let x = 0; x < 64; x++)
        [x * 4, y * 5, 120].forEach((v, c) => (sum += Math.abs(pixels[(y * 64 + x) * 3 + c] - v)))
    expect(sum / pixels.length).toBeLessThan(3)
  })

  it('floats keep light beyond white', async () => {
    const light = Float32Array.from(picture, (_, i) => (i % 3 === 0 ? 3 : 0.18))
    const pixels = new Uint8Array(light.buffer)
    const options = {
      format: { kind: 'tiff', bits: 8, compression: 'none' },
      width: W * 4,
      height: H,
      metadata: { orientation: 1 },
    } as const
    const made = await encoded(pixels, options)
    // the writer takes bytes; its directory is made to say that they are floats
    const view = new DataView(made.buffer, made.byteOffset)
    const at = view.getUint32(4, true)
    for (let i = 0; i < view.getUint16(at, true); i++) {
      const e = at + 2 + i * 12
      const tag = view.getUint16(e, true)
      if (tag === 256) view.setUint32(e + 8, W, true)
      if (tag === 258)
        for (let c = 0; c < 3; c++) view.setUint16(view.getUint32(e + 8, true) + c * 2, 32, true)
      if (tag === 305) {
        view.setUint16(e, 339, true)
        view.setUint16(e + 2, 3, true)
        view.setUint32(e + 4, 1, true)
        view.setUint32(e + 8, 3, true)
      }
    }
    const entries = [...Array(view.getUint16(at, true)).keys()].map((i) =>
      made.slice(at + 2 + i * 12, at + 14 + i * 12),
    )
    entries.sort((a, b) => a[0] + a[1] * 256 - b[0] - b[1] * 256)
    entries.forEach((e, i) => made.set(e, at + 2 + i * 12))
    const { dng } = await adapt(made, nodeCodecs)
    const open = await engine.open(dng)
    const darker = startDevelopment()
    darker.steps.exposure = { ev: -3 }
    const out = await open.deliver({ development: darker, space: 'srgb', bits: 8, width: W, height: H })
    engine.close(open)
    expect(out[0]).toBeGreaterThan(out[1] + 60)
    expect(out[0]).toBeLessThan(255)
  })

  it('profiles are honoured: the same colour in three spaces is the same colour', async () => {
    const at = async (space: 'display-p3' | 'oprgb' | 'romm') => {
      const open = await engine.open((await adapt(await source().png().toBuffer(), nodeCodecs)).dng)
      const size = { width: W, height: H }
      const options = { development: startDevelopment(), space, bits: 16 as const, ...size }
      const pixels = await open.deliver(options)
      engine.close(open)
      return encoded(pixels, {
        ...{ format: { kind: 'png', bits: 16 }, bits: 16, space, ...size },
        metadata: { orientation: 1 },
      })
    }
    for (const space of ['display-p3', 'oprgb', 'romm'] as const) {
      const { pixels } = await delivered(await at(space))
      const pixel = (i: number) => picture.subarray(i - (i % 3), i - (i % 3) + 3)
      const inside = pixels.map((v, i) => (Math.min(...pixel(i)) >= 8 ? v : picture[i]))
      expect(worst(inside, picture), space).toBeLessThanOrEqual(2)
      // at the gamut's rim a rounding to its outside is brought back along the hue
      expect(worst(pixels, picture), space).toBeLessThanOrEqual(4)
    }
  })

  it('reads its own profiles, curves of every form, and refuses tables and inks', async () => {
    const { readIcc } = await import('@dunkelkammer/core')
    for (const space of Object.values(spaces)) {
      const { curves, toXyz } = readIcc(iccProfile(space))
      expect(curves[0](1)).toBeCloseTo(1, 4)
      expect(curves[1](0.5)).toBeCloseTo(readIcc(iccProfile(space)).curves[2](0.5), 9)
      const white = [0, 1, 2].map((i) => toXyz[i * 3] + toXyz[i * 3 + 1] + toXyz[i * 3 + 2])
      expect(white[1]).toBeCloseTo(1, 3)
      expect(white[0]).toBeCloseTo(0.9505, 3)
    }
    expect(readIcc(iccProfile(working, LINEAR)).curves[0](0.3)).toBeCloseTo(0.3, 5)
    const inks = iccProfile(spaces.srgb)
    inks.set([0x43, 0x4d, 0x59, 0x4b], 16)
    expect(() => readIcc(inks)).toThrow(/CMYK/)
    expect(() => readIcc(inks.subarray(0, 140))).toThrow(RawError)
  })

  it.each([
    ['jpeg', () => source().withMetadata({ density: 240 }).jpeg().toBuffer()],
    ['png', () => source().withMetadata({ density: 240 }).png().toBuffer()],
    ['tiff', () => source().withMetadata({ density: 240 }).tiff().toBuffer()],
    // of its Exif alone
    ['webp', () => source().withMetadata({ density: 240 }).webp().toBuffer()],
  ])('%s keeps its resolution', async (_, make) => {
    const { dng } = await adapt(new Uint8Array(await make()), nodeCodecs)
    expect(readDng(dng).metadata.ppi).toBe(240)
  })

  it('has none where its numbers have no unit', async () => {
    const jpeg = await source().jpeg().toBuffer()
    const at = jpeg.indexOf('JFIF')
    // units: none
    jpeg[at + 7] = 0
    const { dng } = await adapt(new Uint8Array(jpeg), nodeCodecs)
    expect(readDng(dng).metadata.ppi).toBeUndefined()
  })

  it('lies upright as its Exif says, and keeps what else it says', async () => {
    const jpeg = await source()
      .withExif({ IFD0: { Artist: 'Marit Oudendijk', Orientation: '6' }, IFD2: { FocalLength: '35/1' } })
      .withMetadata({ orientation: 6 })
      .jpeg({ quality: 95 })
      .toBuffer()
    const { dng, format } = await adapt(jpeg, nodeCodecs)
    expect(format).toBe('jpeg')
    const frame = readDng(dng)
    expect(frame.metadata.orientation).toBe(6)
    const { width, height } = await delivered(jpeg)
    expect([width, height]).toEqual([H, W])
  })
})

const crop = { x: 200, y: 300, width: 160, height: 128 }
let taken: ReturnType<typeof photographCrop> | undefined
/** A part of a demo frame, photographed once. */
const photographed = () => (taken ??= photographCrop(demoFrames[0], crop))
const makersFile = () =>
  cameraFile(veldrom, crop, photographed().mosaic, demoFrames[0].takenNeutral, { iso: 100 })

describe('raw files through the library', () => {
  it('give the same picture as our own reader', async () => {
    const file = makersFile()
    const mosaic = photographed().mosaic
    const reading = await (await nodeCodecs.raw())(file)
    const adapted = readDng(libraryDng(reading))
    const own = readDng(file)
    expect([adapted.width, adapted.height, adapted.pattern]).toEqual([own.width, own.height, own.pattern])
    expect(adapted.levels.white).toEqual(own.levels.white)
    expect(adapted.levels.black.values.every((v) => v === own.levels.black.values[0])).toBe(true)
    expect(adapted.metadata).toMatchObject({ make: own.metadata.make, model: own.metadata.model, iso: 100 })
    expect(reading.mosaic.data).toEqual(mosaic)
    const develop = async (bytes: Uint8Array) => {
      const open = await engine.open(bytes)
      const size = { width: open.width, height: open.height }
      const out = await open.deliver({ development: startDevelopment(), space: 'camera', bits: 16, ...size })
      engine.close(open)
      return new Uint16Array(out.buffer)
    }
    // what differs is what the noise, which the library does not tell, has to do with defects
    const [a, b] = [await develop(libraryDng(reading)), await develop(file)]
    const differing = a.filter((v, i) => Math.abs(v - b[i]) > 8).length
    expect(differing / a.length).toBeLessThan(0.01)
  })

  it('are refused where the library does not describe them well enough', async () => {
    const file = makersFile()
    const { metadata, mosaic: data } = await (await nodeCodecs.raw())(file)
    const refused =
      (change: object, colour: object = {}) =>
      () =>
        libraryDng({
          metadata: { ...metadata, ...change, color_data: { ...metadata.color_data!, ...colour } },
          mosaic: data,
        })
    expect(refused({ filters: 9 })).toThrow(/6 x 6/)
    expect(refused({ filters: 0 })).toThrow(/no pattern/)
    expect(refused({ cdesc: 'GMCY', colors: 4 })).toThrow(/pattern/)
    expect(refused({ is_foveon: 1 })).toThrow(/all colours/)
    expect(refused({}, { black: 0 })).toThrow(/black level/)
    expect(refused({}, { maximum: 0 })).toThrow(/white level/)
    expect(refused({}, { cam_mul: [0, 0, 0, 0] })).toThrow(/neutral/)
    expect(refused({}, { cam_xyz: [], dng_color: [] })).toThrow(/no colours/)
    expect(patternOf({ filters: 0x94949494, cdesc: 'RGBG', colors: 3 })).toEqual([0, 1, 1, 2])
    expect(() => patternOf({ filters: 0x94949449, cdesc: 'RGBG', colors: 3 })).toThrow(/irregular/)
  })
})

it.each([true, false])('a DNG may be a BigTIFF, little-endian: %s', async (littleEndian) => {
  const [w, h] = [32, 24]
  const samples = new Uint8Array(w * h * 6)
  const view = new DataView(samples.buffer)
  for (let i = 0; i < w * h * 3; i++) view.setUint16(i * 2, i % 3 === 1 ? 20_000 : 9_000, littleEndian)
  const file = tiffFile(
    [
      {
        entries: [
          [254, 4, [0]],
          [256, 3, [w]],
          [257, 3, [h]],
          [258, 3, [16, 16, 16]],
          [259, 3, [1]],
          [262, 3, [34892]],
          [277, 3, [3]],
          [278, 3, [h]],
          [50706, 1, [1, 4, 0, 0]],
          [50717, 4, [65535, 65535, 65535]],
          [50721, 3, [1, 0, 0, 0, 1, 0, 0, 0, 1]],
          [50728, 3, [1, 1, 1]],
          [50778, 3, [21]],
        ],
        parts: [samples],
      },
    ],
    { big: true, littleEndian },
  )
  expect(identify(file)).toBe('dng')
  const { pixels, width, height } = await delivered(file)
  expect([width, height]).toEqual([w, h])
  expect(pixels[1]).toBeGreaterThan(pixels[0] + 30)
})

describe('turned pictures', () => {
  /** A directory with nothing but an orientation. */
  const turnedBy = (orientation: number) =>
    Uint8Array.from([
      ...[0x49, 0x49, 42, 0, 8, 0, 0, 0, 1, 0],
      ...[0x12, 1, 3, 0, 1, 0, 0, 0, orientation, 0, 0, 0, 0, 0, 0, 0],
    ])

  it('of AVIF and HEIF follow their Exif where the file itself says nothing', async () => {
    const avif = await source()
      .avif({ lossless: true, chromaSubsampling: '4:4:4' })
      .withExif({ IFD0: { Software: 'x' } })
      .toBuffer()
    const turned6 = await delivered(avifWithExif(new Uint8Array(avif), turnedBy(6)))
    expect([turned6.width, turned6.height]).toEqual([H, W])
    // the first stored pixel is right on top
    const first = Array.from(picture.subarray(0, 3))
    expect(worst(turned6.pixels.subarray((H - 1) * 3, H * 3), first)).toBeLessThanOrEqual(1)
    const heic = readFileSync(new URL('../../test/files/ramp.heic', import.meta.url))
    const { width, height } = await delivered(await rewritten(heic, '.heic', ['-n', '-EXIF:Orientation=8']))
    expect([width, height]).toEqual([48, 64])
  })

  it.each([
    // the raw library's words for turns: none, half, a quarter against the clock, a quarter with it
    [0, 1],
    [3, 3],
    [5, 8],
    [6, 6],
  ])('of makers: the library’s %i is orientation %i', async (flip, orientation) => {
    const file = makersFile()
    // the same file, its orientation written over
    const tagged = Buffer.from(file)
    const entry = tagged.indexOf(Buffer.from([0x12, 1, 3, 0, 1, 0, 0, 0]))
    tagged.writeUInt16LE(orientation, entry + 8)
    expect(readDng(tagged).metadata.orientation).toBe(orientation)
    const reading = await (await nodeCodecs.raw())(tagged)
    expect(reading.metadata.flip).toBe(flip)
    expect(readDng(libraryDng(reading)).metadata.orientation).toBe(orientation)
  })
})

describe('finished pictures of rarer kinds', () => {
  /** An uncompressed TIFF of greys, white at zero where asked. */
  function greyTiff(bits: 8 | 16, photometric: 0 | 1, values: readonly number[]): Uint8Array {
    const body = Buffer.alloc((W * H * bits) / 8)
    for (let i = 0; i < W * H; i++)
      if (bits === 16) body.writeUInt16LE(values[i % values.length], i * 2)
      else body[i] = values[i % values.length]
    const tags = [
      [256, W],
      [257, H],
      [258, bits],
      [259, 1],
      [262, photometric],
      [273, 8],
      [277, 1],
      [278, H],
      [279, body.length],
    ]
    const directory = Buffer.alloc(2 + tags.length * 12 + 4)
    directory.writeUInt16LE(tags.length)
    tags.forEach(([tag, value], i) => {
      directory.writeUInt16LE(tag, 2 + i * 12)
      directory.writeUInt16LE(4, 4 + i * 12)
      directory.writeUInt32LE(1, 6 + i * 12)
      directory.writeUInt32LE(value, 10 + i * 12)
    })
    const head = Buffer.from([0x49, 0x49, 42, 0, 0, 0, 0, 0])
    head.writeUInt32LE(8 + body.length, 4)
    return Buffer.concat([head, body, directory])
  }
  it.each([8, 16] as const)(
    'TIFF with white at zero, of %i bits, comes out the right way round',
    async (bits) => {
      const top = 2 ** bits - 1
      const values = Array.from({ length: 97 }, (_, i) => Math.round((top * i) / 96))
      const { pixels } = await delivered(greyTiff(bits, 0, values), bits)
      const { pixels: usual } = await delivered(
        greyTiff(
          bits,
          1,
          values.map((v) => top - v),
        ),
        bits,
      )
      expect(worst(pixels, usual)).toBe(0)
      expect(pixels[0]).toBeGreaterThan(top * 0.99)
      expect(pixels[96 * 3]).toBeLessThan(top * 0.01)
    },
  )

  it.each([8, 16] as const)('what is seen through, of %i bits, lies on white', async (bits) => {
    const top = 2 ** bits - 1
    const rgba = Array.from({ length: W * H * 4 }, (_, i) => {
      const [p, c] = [i >> 2, i & 3]
      return c === 3
        ? Math.round((top * (p % W)) / (W - 1))
        : Math.round((top * (c + 1) * Math.floor(p / W)) / (4 * H))
    })
    const data = bits === 16 ? Uint16Array.from(rgba) : Uint8Array.from(rgba)
    const image = sharp(data, { raw: { width: W, height: H, channels: 4 } })
    const png = await (bits === 16 ? image.toColourspace('rgb16') : image).png().toBuffer()
    const { pixels } = await delivered(png, bits)
    const truth = Array.from({ length: W * H * 3 }, (_, i) => {
      const p = Math.floor(i / 3)
      const opacity = rgba[p * 4 + 3] / top
      return rgba[p * 4 + (i % 3)] * opacity + top * (1 - opacity)
    })
    expect(worst(pixels, truth)).toBeLessThan(bits === 16 ? 40 : 1.51)
  })
})

describe('bad input', () => {
  const sentence = /^This .*\.$/
  it('is refused with a sentence', async () => {
    const jpeg = await source().jpeg().toBuffer()
    const png = await source().png().toBuffer()
    const tiff = await source().tiff({ compression: 'lzw' }).toBuffer()
    const webp = await source().webp().toBuffer()
    const avif = await source().avif().toBuffer()
    const heic = readFileSync(new URL('../../test/files/ramp.heic', import.meta.url))
    const cut = (b: Uint8Array) => new Uint8Array(b.subarray(0, Math.floor(b.length * 0.6)))
    const cases: [string, Uint8Array][] = [
      ['nothing', new Uint8Array()],
      ['a text', Buffer.from('only a text, long enough to be taken for something else\n'.repeat(200))],
      ['noise', Uint8Array.from({ length: 9000 }, (_, i) => (i * 7919 + (i >> 3) * 31) & 255)],
      ['a cut jpeg', cut(jpeg)],
      ['a cut png', cut(png)],
      ['a cut tiff', cut(tiff)],
      ['a cut webp', cut(webp)],
      ['a cut avif', cut(avif)],
      ['a cut heif', cut(heic)],
      ['inks', await source().toColourspace('cmyk').jpeg().toBuffer()],
    ]
    for (const [name, bytes] of cases)
      await expect(
        adapt(bytes, nodeCodecs).then(({ dng }) => readDng(dng).width),
        name,
      ).rejects.toThrow(sentence)
  })

  it('decompresses no more than a picture may hold', async () => {
    const bomb = deflateSync(Buffer.alloc(200e6))
    const make = (width: number, height: number) => {
      const head = Buffer.alloc(8)
      head.write('II*\0', 'latin1')
      head.writeUInt32LE(8 + bomb.length + (bomb.length & 1), 4)
      const tags = [
        [256, 4, 1, width],
        [257, 4, 1, height],
        [258, 3, 1, 8],
        [259, 3, 1, 8],
        [262, 3, 1, 1],
        [273, 4, 1, 8],
        [277, 3, 1, 1],
        [278, 4, 1, height],
        [279, 4, 1, bomb.length],
      ]
      const dir = Buffer.alloc(2 + tags.length * 12 + 4)
      dir.writeUInt16LE(tags.length)
      tags.forEach(([tag, type, count, value], i) => {
        dir.writeUInt16LE(tag, 2 + i * 12)
        dir.writeUInt16LE(type, 4 + i * 12)
        dir.writeUInt32LE(count, 6 + i * 12)
        dir.writeUInt32LE(value, 10 + i * 12)
      })
      return new Uint8Array(Buffer.concat([head, bomb, Buffer.alloc(bomb.length & 1), dir]))
    }
    await expect(adapt(make(20000, 10000), nodeCodecs)).rejects.toThrow(/200 megapixels/)
    // stated small: only that much is taken out of the stream
    const { dng } = await adapt(make(64, 64), nodeCodecs)
    expect(dng.length).toBeLessThan(20000)
  })

  it('tells kinds by content, not by name', async () => {
    expect(identify(await source().avif().toBuffer())).toBe('avif')
    expect(identify(readFileSync(new URL('../../test/files/ramp.heic', import.meta.url)))).toBe('heif')
    expect(identify(await source().tiff({ compression: 'lzw' }).toBuffer())).toBe('tiff')
    expect(identify(await source().webp().toBuffer())).toBe('webp')
  })
})
