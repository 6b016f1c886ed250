import { encode as encodeJpeg } from 'jpeg-js'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { writeDng, type DngContents } from '@dunkelkammer/demo'
import { random, testBench } from '../../../test/bench'
import { contents, decodeFile } from '../../../test/files'
import type { Kernels } from '../../kernels/kernels'
import type { Scratch } from '../../memory'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

const W = 50
const H = 38

/** Samples of a depth, with both ends of it, a smooth part and single jumps. */
function samples(bits: number, perPixel: 1 | 3, seed = 3): Uint16Array {
  const next = random(seed)
  const top = 2 ** bits - 1
  const out = Uint16Array.from({ length: W * H * perPixel }, (_, i) =>
    next() < 0.05 ? Math.round(next() * top) : Math.round(top * (0.5 + 0.3 * Math.sin(i * 0.05))),
  )
  out[5] = 0
  out[17] = top
  return out
}

function expectBack(part: Partial<DngContents>, tolerance = 0): void {
  const bytes = writeDng(contents({ width: W, height: H, black: 0, ...part }))
  const { frame, line } = decodeFile(kernels, scratch, bytes)
  const n = frame.storage.samples
  let worst = 0
  for (let p = 0; p < n; p++)
    for (let y = 0; y < H; y++)
      line(p, y).forEach((v, x) => {
        const truth = part.mosaic![(y * W + x) * n + p]
        const off = Math.abs(v - truth) / Math.max(Math.abs(truth), 1)
        // a sample that is no number is as wrong as can be
        worst = Math.max(worst, Number.isNaN(off) ? Infinity : off)
      })
  expect(worst).toBeLessThanOrEqual(tolerance)
}

const both = [false, true]
const shapes: Partial<DngContents>[] = [
  { tile: undefined },
  { tile: undefined, rowsPerStrip: 7 },
  { tile: 16 },
  { tile: [64, 16] },
  { tile: [10, 38] },
]

describe.each(both)('samples of a mosaic, big-endian %s', (bigEndian) => {
  it.each([8, 10, 12, 14, 16])('packed without gaps, %i bits', (bits) => {
    for (const shape of shapes)
      expectBack({
        mosaic: samples(bits, 1),
        bits,
        white: 2 ** bits - 1,
        compression: 'none',
        packed: true,
        bigEndian,
        ...shape,
      })
  })

  it.each([10, 12, 14])('of %i bits in 16', (bits) => {
    for (const shape of shapes)
      expectBack({
        mosaic: samples(bits, 1),
        bits,
        white: 2 ** bits - 1,
        compression: 'none',
        bigEndian,
        ...shape,
      })
  })

  it.each([1, 2, 3, 4, 5, 6, 7])('by lossless JPEG, predictor %i, one to four components', (predictor) => {
    for (const components of [1, 2, 4])
      for (const tile of [undefined, 16, [32, 20] as const])
        expectBack({
          mosaic: samples(14, 1),
          bigEndian,
          compression: 'lossless-jpeg',
          lossless: { predictor, components: tile ? components : 2 },
          tile,
        })
  })

  it('by lossless JPEG with two rows joined to a line', () => {
    expectBack({
      mosaic: samples(12, 1),
      bits: 12,
      white: 4095,
      bigEndian,
      tile: 16,
      lossless: { joined: 2, components: 4 },
    })
  })

  it.each([
    [8, 1],
    [8, 2],
    [16, 1],
    [16, 2],
    [16, 34892],
    [16, 34893],
    [12, 1],
  ])('deflated, %i bits, predictor %i', (bits, predictor) => {
    for (const shape of shapes)
      expectBack({
        mosaic: samples(bits, 1),
        bits,
        packed: true,
        white: 2 ** bits - 1,
        compression: 'deflate',
        predictor,
        bigEndian,
        ...shape,
      })
  })

  it.each([
    [16, 'none', 1, 5e-4],
    [24, 'none', 1, 8e-6],
    [32, 'none', 1, 0],
    [16, 'deflate', 3, 5e-4],
    [24, 'deflate', 3, 8e-6],
    [32, 'deflate', 3, 0],
    [32, 'deflate', 34894, 0],
    [16, 'deflate', 34895, 5e-4],
  ] as const)(
    'of %i bits with a floating point, %s, predictor %i',
    (bits, compression, predictor, tolerance) => {
      const next = random(bits)
      const mosaic = Float32Array.from({ length: W * H }, (_, i) => (i % 7 === 0 ? 0 : next() * 4 - 0.1))
      for (const shape of shapes)
        expectBack(
          { mosaic, bits, float: true, white: 1, compression, predictor, bigEndian, ...shape },
          tolerance,
        )
    },
  )
})

describe('linear colours', () => {
  it.each([
    { compression: 'none', bits: 16 },
    { compression: 'none', bits: 8, packed: true },
    { compression: 'deflate', bits: 16, predictor: 2 },
    { compression: 'lossless-jpeg', bits: 14 },
  ] as const)('%o', (part) => {
    for (const shape of shapes)
      expectBack({
        ...part,
        layout: 'linear',
        mosaic: samples(part.bits, 3),
        white: 2 ** part.bits - 1,
        ...shape,
      })
  })

  it('of 32 bits with a floating point', () => {
    const mosaic = Float32Array.from({ length: W * H * 3 }, (_, i) => Math.sin(i) + 1)
    expectBack({
      layout: 'linear',
      mosaic,
      bits: 32,
      float: true,
      white: 1,
      compression: 'deflate',
      predictor: 3,
    })
  })

  it('by baseline JPEG, through the linearisation table', () => {
    const smooth = Uint16Array.from({ length: W * H * 3 }, (_, i) =>
      Math.round(128 + 100 * Math.sin(Math.floor(i / 3) * 0.02 + (i % 3))),
    )
    const encode = (rgb: Uint8Array, width: number, height: number) => {
      const data = new Uint8Array(width * height * 4)
      for (let i = 0; i < width * height; i++)
        data.set([rgb[i * 3], rgb[i * 3 + 1], rgb[i * 3 + 2], 255], i * 4)
      return new Uint8Array(encodeJpeg({ data, width, height }, 98).data)
    }
    const table = Array.from({ length: 256 }, (_, i) => i * i)
    const bytes = writeDng(
      contents({
        ...{ width: W, height: H, layout: 'linear', mosaic: smooth, bits: 8, black: 0, white: 65025 },
        ...{ compression: 'jpeg', tile: [64, 16], encodeJpeg: encode, linearisation: table },
      }),
    )
    const { line } = decodeFile(kernels, scratch, bytes)
    let worst = 0
    for (let p = 0; p < 3; p++)
      for (let y = 0; y < H; y++)
        line(p, y).forEach(
          (v, x) => (worst = Math.max(worst, Math.abs(Math.sqrt(v) - smooth[(y * W + x) * 3 + p]))),
        )
    // JPEG's own loss, on saturated colours with shared chroma
    expect(worst).toBeLessThan(16)
  })
})

describe('what else lies between stored and linear values', () => {
  it('goes through the linearisation table, its last entry for all beyond', () => {
    const mosaic = samples(8, 1)
    const table = Array.from({ length: 200 }, (_, i) => i * 300)
    const bytes = writeDng(
      contents({ ...{ width: W, height: H, mosaic, bits: 8, black: 0, white: 59700 }, linearisation: table }),
    )
    const { line } = decodeFile(kernels, scratch, bytes)
    for (let y = 0; y < H; y++)
      line(0, y).forEach((v, x) => expect(v).toBe(table[Math.min(mosaic[y * W + x], 199)]))
  })

  it('mends the photosites that the file lists, from their own colour', () => {
    const mosaic = Uint16Array.from({ length: W * H }, (_, i) => {
      const x = i % W
      const y = Math.floor(i / W)
      return 1000 + 10 * x + 4 * y + ((y % 2) + (x % 2)) * 2000
    })
    const broken = mosaic.slice()
    const list: [number, number][] = [
      [12, 9],
      [13, 9],
      [14, 9],
      [0, 0],
      [W - 1, H - 1],
    ]
    for (const [x, y] of list) broken[y * W + x] = 0
    const at = (...n: number[]) => n.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255])
    const body = at(0, list.length, 0, ...list.flatMap(([x, y]) => [y, x]))
    const constant = at(777, 0)
    broken[20 * W + 30] = 777
    const stored = Uint8Array.from([
      ...at(2, 5, 0x01030000, 0, body.length),
      ...body,
      ...at(4, 0x01030000, 0, 8),
      ...constant,
    ])
    const bytes = writeDng(
      contents({ width: W, height: H, mosaic: broken, black: 0, white: 16383, opcodes: { stored } }),
    )
    const { line, frame } = decodeFile(kernels, scratch, bytes)
    expect(frame.opcodes.stored.map((o) => o.kind)).toEqual([
      'fix-bad-pixels-list',
      'fix-bad-pixels-constant',
    ])
    for (const [x, y] of [...list, [30, 20] as const]) {
      const there = line(0, y)[x]
      // at a corner the neighbours lie to one side
      expect(Math.abs(there - mosaic[y * W + x])).toBeLessThanOrEqual(x === 0 || x === W - 1 ? 60 : 12)
    }
  })
})
