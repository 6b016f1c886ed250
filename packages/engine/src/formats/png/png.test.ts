import { profileOfSpace, srgbProfile, type RgbProfile } from '@dunkelkammer/core'
import { crc32, deflateSync } from 'node:zlib'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { decodePngPicture } from './png'

const [WIDTH, HEIGHT] = [37, 29]
const samples = new Uint8Array(WIDTH * HEIGHT * 4)
for (let y = 0; y < HEIGHT; y++)
  for (let x = 0; x < WIDTH; x++) {
    const [across, down] = [Math.floor(x / 10), Math.floor(y / 10)]
    samples.set([across * 80, down * 100, 90, across === 1 ? 0 : 255], (y * WIDTH + x) * 4)
  }
const source = (channels: 3 | 4 = 3) => {
  const image = sharp(samples, { raw: { width: WIDTH, height: HEIGHT, channels: 4 } })
  return channels === 4 ? image : image.removeAlpha()
}
/** What the general library makes of it, transparent on white. */
const usual = (bytes: Uint8Array) =>
  sharp(bytes).flatten({ background: '#fff' }).toColourspace('srgb').raw().toBuffer()

/** How far the picture, transparent on white, is from what the general library makes of it. */
async function off(bytes: Uint8Array): Promise<number> {
  const { data, channels } = decodePngPicture(new Uint8Array(bytes))
  const truth = await usual(bytes)
  let worst = 0
  for (let i = 0; i < WIDTH * HEIGHT; i++)
    for (let c = 0; c < 3; c++) {
      const opacity = channels % 2 === 1 ? 1 : data[i * channels + channels - 1] / 255
      const shown = data[i * channels + (channels > 2 ? c : 0)] * opacity + 255 * (1 - opacity)
      worst = Math.max(worst, Math.abs(shown - truth[i * 3 + c]))
    }
  return worst
}

const u32 = (v: number) => {
  const bytes = Buffer.alloc(4)
  bytes.writeUInt32BE(v)
  return bytes
}
function written(name: string, content: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(name, 'latin1'), content])
  return Buffer.concat([u32(content.length), body, u32(crc32(body))])
}
/** A PNG with more chunks before its pixels. */
function withChunks(png: Buffer, ...added: [name: string, content: Buffer][]): Buffer {
  // behind the header, or the palette where there is one
  const palette = png.indexOf('PLTE')
  const at = palette < 0 ? 33 : palette + 8 + png.readUInt32BE(palette - 4)
  return Buffer.concat([png.subarray(0, at), ...added.map((a) => written(...a)), png.subarray(at)])
}

describe('a PNG shows what it holds', () => {
  it.each(
    [1, 2, 4, 8].flatMap((bitdepth) => [false, true].map((progressive) => [bitdepth, progressive] as const)),
  )('by a palette of %i bits, interlaced: %s', async (bitdepth, progressive) => {
    for (const channels of [3, 4] as const) {
      const png = await source(channels)
        .png({ palette: true, colours: 2 ** bitdepth, dither: 0, progressive })
        .toBuffer()
      expect([png[24], png[25], png[28]]).toEqual([bitdepth, 3, Number(progressive)])
      expect(await off(png)).toBeLessThan(1)
    }
  })

  it('interlaced, with each line foretold in another way', async () => {
    // in grey of 4 bits: what the filters of a line make of the one above and of the byte before
    const foretold = (kind: number, a: number, b: number, c: number) => {
      const near = [a, b, c].sort((x, y) => Math.abs(a + b - c - x) - Math.abs(a + b - c - y))[0]
      return [0, a, b, Math.floor((a + b) / 2), near][kind]
    }
    const lines: number[] = []
    let kind = 0
    for (const [x0, y0, dx, dy] of [
      ...[
        [0, 0, 8, 8],
        [4, 0, 8, 8],
        [0, 4, 4, 8],
        [2, 0, 4, 4],
        [0, 2, 2, 4],
        [1, 0, 2, 2],
        [0, 1, 1, 2],
      ],
    ]) {
      let above: number[] = []
      for (let y = y0; y < HEIGHT; y += dy) {
        const values: number[] = []
        for (let x = x0; x < WIDTH; x += dx) values.push((x * 3 + y * 5 + ((x * y) % 7)) % 16)
        const line: number[] = []
        for (let i = 0; i < values.length; i += 2) line.push((values[i] << 4) | (values[i + 1] ?? 0))
        kind = (kind + 1) % 5
        const by = kind
        lines.push(
          by,
          ...line.map((v, i) => v - foretold(by, line[i - 1] ?? 0, above[i] ?? 0, above[i - 1] ?? 0)),
        )
        above = line
      }
    }
    const head = Buffer.from([...u32(WIDTH), ...u32(HEIGHT), 4, 0, 0, 0, 1])
    const parts: [string, Buffer][] = [
      ['IHDR', head],
      ['IDAT', deflateSync(Uint8Array.from(lines))],
      ['IEND', Buffer.alloc(0)],
    ]
    const png = Buffer.concat([
      Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
      ...parts.map((p) => written(...p)),
    ])
    expect(await off(png)).toBe(0)
  })

  it('with a grey or a colour that stands for what is transparent', async () => {
    const short = (...values: number[]) => Buffer.from(values.flatMap((v) => [v >> 8, v & 255]))
    const colour = withChunks(await source().png().toBuffer(), ['tRNS', short(80, 100, 90)])
    const greyPng = await source().toColourspace('b-w').png().toBuffer()
    const grey = decodePngPicture(new Uint8Array(greyPng)).data[15 * WIDTH + 15]
    const grey16 = await source().toColourspace('grey16').png().toBuffer()
    const deep = decodePngPicture(new Uint8Array(grey16)).data[15 * WIDTH + 15]
    const files = [
      colour,
      withChunks(greyPng, ['tRNS', short(grey)]),
      withChunks(grey16, ['tRNS', short(deep)]),
    ]
    for (const [i, png] of files.entries()) {
      const { data, channels } = decodePngPicture(new Uint8Array(png))
      expect(channels).toBe(i === 0 ? 4 : 2)
      const opacity = (x: number, y: number) => data[(y * WIDTH + x) * channels + channels - 1]
      expect([opacity(15, 15), opacity(5, 5)]).toEqual([0, i === 2 ? 65535 : 255])
    }
    expect(await off(colour)).toBe(0)
  })
})

describe('the colours of a PNG', () => {
  const profile = async (...added: [string, Buffer][]): Promise<RgbProfile> =>
    decodePngPicture(new Uint8Array(withChunks(await source().png().toBuffer(), ...added)))
      .profile as RgbProfile
  const gamma = (g: number): [string, Buffer] => ['gAMA', u32(Math.round(g * 1e5))]
  const chromaticities = (...xy: number[]): [string, Buffer] => [
    'cHRM',
    Buffer.concat(xy.map((v) => u32(Math.round(v * 1e5)))),
  ]
  const WIDE = chromaticities(0.3127, 0.329, 0.68, 0.32, 0.265, 0.69, 0.15, 0.06)
  const P3: [string, Buffer] = ['cICP', Buffer.from([12, 13, 0, 1])]
  const SRGB: [string, Buffer] = ['sRGB', Buffer.from([0])]
  const near = (a: RgbProfile, b: RgbProfile) => {
    a.toXyz.flat().forEach((v, i) => expect(v).toBeCloseTo(b.toXyz.flat()[i], 2))
    for (const v of [0.02, 0.3, 0.8]) expect(a.curves[1](v)).toBeCloseTo(b.curves[1](v), 5)
  }

  it('are by code points, else a profile, else sRGB, else gamma and chromaticities', async () => {
    const p3 = profileOfSpace('display-p3')
    near(await profile(SRGB, gamma(1), WIDE, P3), p3)
    near(await profile(SRGB, gamma(1), WIDE), srgbProfile())
    near(await profile(), srgbProfile())
    near(await profile(WIDE), p3)
    // the number that stands for the curve of sRGB, with its primaries or none
    const plain = chromaticities(0.3127, 0.329, 0.64, 0.33, 0.3, 0.6, 0.15, 0.06)
    near(await profile(gamma(0.45455)), srgbProfile())
    near(await profile(gamma(0.45455), plain), srgbProfile())
    const power = await profile(gamma(1 / 2.2), WIDE)
    expect(power.curves[0](0.5)).toBeCloseTo(0.5 ** 2.2, 5)
    expect((await profile(gamma(1))).curves[2](0.25)).toBeCloseTo(0.25, 9)
    const tagged = await source().withIccProfile('p3').png().toBuffer()
    near(decodePngPicture(new Uint8Array(withChunks(tagged, SRGB, gamma(1)))).profile as RgbProfile, p3)
  })

  it('for a display of high range are refused, and such as are none', async () => {
    const coded = (...values: number[]) => profile(['cICP', Buffer.from(values)])
    for (const transfer of [16, 18])
      await expect(coded(9, transfer, 0, 1)).rejects.toThrow(/display of high range/)
    await expect(coded(1, 13, 0, 0)).rejects.toThrow(/leave room/)
    await expect(profile(gamma(0))).rejects.toThrow(/gamma is 0/)
    await expect(profile(chromaticities(0.3, 0, 0.6, 0.3, 0.3, 0.6, 0.1, 0.1))).rejects.toThrow(/no colours/)
  })
})
