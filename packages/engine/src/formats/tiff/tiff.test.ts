import sharp from 'sharp'
import { deflateSync } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { tiffFile, type TiffEntry, type TiffPage } from '../../../test/tiffFile'
import { worst } from '../../../test/asDelivered'
import { identify } from '../identify'
import { nodeCodecs } from '../node'
import { decodeTiffPicture } from './tiff'

const [W, H] = [24, 18]
const rgb = Uint8Array.from({ length: W * H * 3 }, (_, i) => (i * 37 + Math.floor(i / 72) * 11) % 256)
const grey = rgb.filter((_, i) => i % 3 === 0)

const page = (channels: number, part: Uint8Array, ...more: TiffEntry[]): TiffPage => {
  const own: TiffEntry[] = [
    [256, 3, [W]],
    [257, 3, [H]],
    [258, 3, new Array<number>(channels).fill(8)],
    [259, 3, [1]],
    [262, 3, [channels > 2 ? 2 : 1]],
    [277, 3, [channels]],
    [278, 3, [H]],
  ]
  const tags = more.map(([tag]) => tag)
  return { entries: [...own.filter(([tag]) => !tags.includes(tag)), ...more], parts: [part] }
}
const decode = (...pages: TiffPage[]) => decodeTiffPicture(tiffFile(pages), nodeCodecs)

/** Samples of pixels with more channels. */
const joined = (...planes: ((i: number) => number)[]) =>
  Uint8Array.from({ length: W * H * planes.length }, (_, i) =>
    planes[i % planes.length](Math.floor(i / planes.length)),
  )
const channel = (c: number) => (i: number) => rgb[i * 3 + c]

describe('samples beyond the colours', () => {
  const four = joined(channel(0), channel(1), channel(2), (i) => i % 256)

  it.each([
    ['of no kind that is said are left out', [], 3, undefined],
    ['unspecified are left out', [[338, 3, [0]]], 3, undefined],
    ['of opacity are opacity', [[338, 3, [2]]], 4, false],
    ['of opacity that is multiplied in are said so', [[338, 3, [1]]], 4, true],
  ] as [string, TiffEntry[], number, boolean | undefined][])(
    '%s',
    async (_, entries, channels, multiplied) => {
      const picture = await decode(page(4, four, ...entries))
      expect(picture.channels).toBe(channels)
      expect(picture.multiplied).toBe(multiplied)
      expect(worst(picture.data, channels === 4 ? four : rgb)).toBe(0)
    },
  )

  it('keep opacity that comes second', async () => {
    const five = joined(
      channel(0),
      channel(1),
      channel(2),
      () => 7,
      (i) => i % 256,
    )
    const picture = await decode(page(5, five, [338, 3, [0, 2]]))
    expect(worst(picture.data, four)).toBe(0)
  })
})

describe('samples of other depths', () => {
  const packed = (bits: number, turned = false) => {
    const line = Math.ceil((W * bits) / 8)
    const out = new Uint8Array(line * H)
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const v = grey[y * W + x] >> (8 - bits)
        for (let b = 0; b < bits; b++) {
          const at = x * bits + b
          if ((v >> (bits - 1 - b)) & 1) out[y * line + (at >> 3)] |= turned ? 1 << (at & 7) : 128 >> (at & 7)
        }
      }
    return out
  }
  const few = (bits: number) => grey.map((v) => Math.round(((v >> (8 - bits)) * 255) / (2 ** bits - 1)))

  it.each([1, 2, 4])('%i bits are spread from black to white', async (bits) => {
    const picture = await decode(page(1, packed(bits), [258, 3, [bits]]))
    expect(worst(picture.data, few(bits))).toBe(0)
  })

  it('12 bits are spread over 16', async () => {
    // 0x123, 0x456 and so on, two numbers in three bytes
    const numbers = Array.from({ length: W * H }, (_, i) => (i * 291) % 4096)
    const bytes = new Uint8Array((W * H * 12) / 8)
    for (let i = 0; i < W * H; i += 2)
      bytes.set(
        [numbers[i] >> 4, ((numbers[i] & 15) << 4) | (numbers[i + 1] >> 8), numbers[i + 1] & 255],
        (i * 3) / 2,
      )
    const picture = await decode(page(1, bytes, [258, 3, [12]]))
    expect(
      worst(
        picture.data,
        numbers.map((v) => Math.round((v * 65535) / 4095)),
      ),
    ).toBe(0)
  })

  it('bits may begin with the lowest', async () => {
    const picture = await decode(page(1, packed(1, true), [258, 3, [1]], [266, 3, [2]]))
    expect(worst(picture.data, few(1))).toBe(0)
  })

  it('white may be the lowest number', async () => {
    const picture = await decode(page(1, grey, [262, 3, [0]]))
    expect(
      worst(
        picture.data,
        grey.map((v) => 255 - v),
      ),
    ).toBe(0)
  })

  it('32 bits, with differences, come out in 16', async () => {
    for (const littleEndian of [true, false]) {
      const bytes = new Uint8Array(W * H * 4)
      const view = new DataView(bytes.buffer)
      for (let i = 0; i < W * H; i++) {
        const before = i % W ? grey[i - 1] * 0x01010101 : 0
        view.setUint32(i * 4, (grey[i] * 0x01010101 - before) >>> 0, littleEndian)
      }
      const file = tiffFile([page(1, deflateSync(bytes), [258, 3, [32]], [259, 3, [8]], [317, 3, [2]])], {
        littleEndian,
      })
      const { data } = await decodeTiffPicture(file, nodeCodecs)
      expect(
        worst(
          data,
          Uint16Array.from(grey, (v) => v * 257),
        ),
      ).toBe(0)
    }
  })

  it('floats keep light above white, and have no holes where there was no number', async () => {
    for (const [bits, write] of [
      [32, (view: DataView, i: number, v: number) => view.setFloat32(i * 4, v, true)],
      [64, (view: DataView, i: number, v: number) => view.setFloat64(i * 8, v, true)],
    ] as const) {
      const view = new DataView(new ArrayBuffer((W * H * bits) / 8))
      for (let i = 0; i < W * H; i++) write(view, i, i === 5 ? NaN : i === 6 ? Infinity : i / 100)
      const part = new Uint8Array(view.buffer)
      const { data } = await decode(page(1, part, [258, 3, [bits]], [339, 3, [3]]))
      expect(data[5]).toBe(0)
      expect(Number.isFinite(data[6]) && data[6] > 1000).toBe(true)
      expect(data[400]).toBeCloseTo(4, 5)
    }
  })
})

describe('files of other forms', () => {
  it.each([true, false])('BigTIFF is read, little-endian: %s', async (littleEndian) => {
    const file = tiffFile([page(3, rgb)], { big: true, littleEndian })
    expect(identify(file)).toBe('tiff')
    expect(worst((await decodeTiffPicture(file, nodeCodecs)).data, rgb)).toBe(0)
  })

  it('a small copy may come first', async () => {
    const small: TiffPage = {
      entries: [
        [256, 3, [16]],
        [257, 3, [16]],
        [258, 3, [8, 8, 8]],
        [262, 3, [2]],
        [277, 3, [3]],
        [254, 4, [1]],
      ],
      parts: [new Uint8Array(16 * 16 * 3)],
    }
    const file = tiffFile([small, page(3, rgb, [274, 3, [6]])])
    expect(identify(file)).toBe('tiff')
    const picture = await decodeTiffPicture(file, nodeCodecs)
    expect(worst(picture.data, rgb)).toBe(0)
    expect(picture.orientation).toBe(6)
  })

  it('a large grey page after a small colour one is a mosaic', () => {
    const small = page(3, rgb.subarray(0, 16 * 16 * 3), [256, 3, [16]], [257, 3, [16]])
    expect(identify(tiffFile([small, page(1, grey)]))).toBe('raw')
  })

  it.each([
    [5, /inks/],
    [8, /Lab/],
    [6, /luma and chroma/],
  ])('colours of kind %i are refused by name', async (kind, said) => {
    await expect(decode(page(3, rgb, [262, 3, [kind]]))).rejects.toThrow(said)
  })

  it.each([
    [50000, /ZSTD/],
    [34712, /JPEG 2000/],
    [4, /fax/],
    [9999, /compression 9999/],
  ])('compression %i is refused by name', async (kind, said) => {
    const file = tiffFile([page(3, rgb, [259, 3, [kind]])])
    await expect(decodeTiffPicture(file, nodeCodecs)).rejects.toThrow(said)
    if (kind !== 9999) expect(identify(file)).toBe('tiff')
  })
})

describe('JPEGs in a TIFF', () => {
  const picture = sharp(Buffer.from(rgb), { raw: { width: W, height: H, channels: 3 } })
  const jpeg = async () =>
    new Uint8Array(await picture.jpeg({ quality: 95, chromaSubsampling: '4:4:4' }).toBuffer())
  /** The segments of a JPEG by their markers, the scan with what follows it. */
  const parted = (bytes: Uint8Array) => {
    const tables: number[] = []
    const rest: number[] = []
    let at = 2
    while (bytes[at + 1] !== 0xda) {
      const size = 2 + bytes[at + 2] * 256 + bytes[at + 3]
      const isTable = bytes[at + 1] === 0xdb || bytes[at + 1] === 0xc4
      // without the note of JFIF, as parts of a TIFF have none
      if (bytes[at + 1] !== 0xe0) (isTable ? tables : rest).push(...bytes.subarray(at, at + size))
      at += size
    }
    return {
      tables: Uint8Array.from([0xff, 0xd8, ...tables, 0xff, 0xd9]),
      part: Uint8Array.from([0xff, 0xd8, ...rest, ...bytes.subarray(at)]),
    }
  }

  it('share their tables, and are luma and chroma or RGB as the file says', async () => {
    const whole = await jpeg()
    const { tables, part } = parted(whole)
    const shown = await decode(page(3, part, [259, 3, [7]], [262, 3, [6]], [347, 7, tables]))
    expect(worst(shown.data, await sharp(whole).raw().toBuffer())).toBeLessThanOrEqual(1)
    // the same numbers taken for RGB are other colours
    const plain = await decode(page(3, part, [259, 3, [7]], [262, 3, [2]], [347, 7, tables]))
    expect(worst(plain.data, shown.data)).toBeGreaterThan(60)
  })

  it('are refused where one is not of the size that it should have', async () => {
    const small = await sharp({ create: { width: 16, height: H, channels: 3, background: '#345' } })
      .jpeg()
      .toBuffer()
    await expect(decode(page(3, small, [259, 3, [7]], [262, 3, [6]]))).rejects.toThrow(/another size/)
    await expect(decode(page(3, rgb, [259, 3, [7]], [262, 3, [6]]))).rejects.toThrow(/decompressed/)
  })
})
