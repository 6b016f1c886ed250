import { profileOfSpace, srgbProfile, type RgbProfile } from '@dunkelkammer/core'
import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'
import { decodeJpegPicture } from './jpeg'
import { nodeCodecs } from './node'

const [WIDTH, HEIGHT] = [250, 131]
/** Red and blue edges on green, grey ramps and fine lines: what is lost by coarse chroma shows. */
const samples = new Uint8Array(WIDTH * HEIGHT * 3)
for (let y = 0; y < HEIGHT; y++)
  for (let x = 0; x < WIDTH; x++) {
    const at = (y * WIDTH + x) * 3
    const inside = (x - 70) ** 2 + (y - 60) ** 2 < 2000
    const ramp = Math.round((255 * x) / WIDTH)
    samples.set(
      inside ? [220, 30, 40] : y > 90 ? [ramp, ramp, ramp] : x % 7 < 2 ? [30, 40, 200] : [60, 140, 70],
      at,
    )
  }
const source = () => sharp(samples, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
const decoded = (bytes: Uint8Array) => decodeJpegPicture(new Uint8Array(bytes), nodeCodecs)
/** What the general library makes of it. */
const usual = (bytes: Uint8Array) => sharp(bytes).toColourspace('srgb').removeAlpha().raw().toBuffer()
const psnr = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2
  return 10 * Math.log10((255 ** 2 * a.length) / Math.max(sum, 1e-9))
}
const joined = (...parts: (Uint8Array | number[])[]) => Buffer.concat(parts.map((p) => Buffer.from(p)))

let plain: Buffer
let progressive: Buffer
beforeAll(async () => {
  plain = await source().jpeg({ quality: 90 }).toBuffer()
  progressive = await source().jpeg({ quality: 90, progressive: true }).toBuffer()
})

describe('a JPEG is as near to its source as the usual decoder has it', () => {
  it.each([
    ['4:2:0', false],
    ['4:2:0', true],
    ['4:4:4', false],
    ['4:4:4', true],
  ])('with chroma %s, progressive: %s', async (chromaSubsampling, progressive) => {
    for (const quality of [70, 92]) {
      const bytes = await source().jpeg({ quality, chromaSubsampling, progressive }).toBuffer()
      const { data, width, height, channels } = await decoded(bytes)
      expect([width, height, channels]).toEqual([WIDTH, HEIGHT, 3])
      expect(psnr(samples, data)).toBeGreaterThan(psnr(samples, await usual(bytes)) - 0.05)
    }
  })

  it('in grey, and in red, green and blue that were not transformed', async () => {
    const grey = await source().greyscale().jpeg().toBuffer()
    const { data } = await decoded(grey)
    expect(Buffer.from(data as Uint8Array).equals(await usual(grey))).toBe(true)
    // the mark of the coder says that its three components are no luminance and chroma
    const whole = await source().jpeg({ chromaSubsampling: '4:4:4' }).toBuffer()
    expect(whole.includes('JFIF')).toBe(false)
    const coder = [0xff, 0xee, 0, 14, 0x41, 0x64, 0x6f, 0x62, 0x65, 0, 100, 0, 0, 0, 0, 0]
    const direct = joined(whole.subarray(0, 2), coder, whole.subarray(2))
    const seen = await decoded(direct)
    expect(psnr(seen.data, await usual(direct))).toBeGreaterThan(50)
    expect(psnr(seen.data, samples)).toBeLessThan(20)
  })
})

describe('a JPEG that is not whole', () => {
  const END = [0xff, 0xd9]
  it('is opened where its end mark alone is missing, or more follows it', async () => {
    for (const bytes of [plain, progressive]) {
      const { data } = await decoded(bytes)
      const same = async (other: Uint8Array) =>
        expect(Buffer.from((await decoded(other)).data as Uint8Array).equals(Buffer.from(data as Uint8Array)))
      ;(await same(bytes.subarray(0, -2))).toBe(true)
      ;(await same(joined(bytes, bytes.subarray(0, 3000), [1, 2, 3]))).toBe(true)
      ;(await same(joined(bytes.subarray(0, -2), [0, 0, 0, 0], END))).toBe(true)
    }
  })

  it('is refused with a sentence where a part of it is missing', async () => {
    const cut = (bytes: Uint8Array, share: number) => bytes.subarray(0, Math.floor(bytes.length * share))
    for (const share of [0.5, 0.9])
      for (const bytes of [cut(plain, share), cut(progressive, share), joined(cut(plain, share), END)])
        await expect(decoded(bytes)).rejects.toMatchObject({
          code: 'damaged',
          message: expect.stringMatching(/ends before the picture does|is spoiled/) as string,
        })
    await expect(decoded(plain.subarray(0, 40))).rejects.toMatchObject({ code: 'damaged' })
    // and the decoder is none the worse for it
    expect((await decoded(plain)).width).toBe(WIDTH)
  })
})

/** A block of Exif that says nothing but an index of interoperability. */
function exifOf(index: string): Buffer {
  const block = Buffer.alloc(70)
  const view = new DataView(block.buffer, block.byteOffset, block.length)
  const entry = (at: number, tag: number, type: number, value: number | string) => {
    view.setUint16(at, 1, true)
    view.setUint16(at + 2, tag, true)
    view.setUint16(at + 4, type, true)
    view.setUint32(at + 6, typeof value === 'string' ? value.length + 1 : 1, true)
    if (typeof value === 'string') block.write(value, at + 10, 'latin1')
    else view.setUint32(at + 10, value, true)
  }
  block.write('II*\0', 0, 'latin1')
  view.setUint32(4, 8, true)
  entry(8, 34665, 4, 26)
  entry(26, 40965, 4, 44)
  entry(44, 1, 2, index)
  return joined(Buffer.from('Exif\0\0', 'latin1'), block)
}

it('the wide colours of cameras are told by their index of interoperability, where no profile is', async () => {
  const withExif = (bytes: Uint8Array, exif: Uint8Array) =>
    joined(bytes.subarray(0, 2), [0xff, 0xe1, 0, exif.length + 2], exif, bytes.subarray(2))
  const matrix = async (bytes: Uint8Array) => ((await decoded(bytes)).profile as RgbProfile).toXyz
  expect(await matrix(withExif(plain, exifOf('R03')))).toEqual(profileOfSpace('oprgb').toXyz)
  expect(await matrix(withExif(plain, exifOf('R98')))).toEqual(srgbProfile().toXyz)
  const tagged = await source().withIccProfile('p3').jpeg().toBuffer()
  expect(await matrix(withExif(tagged, exifOf('R03')))).toEqual(await matrix(tagged))
})
