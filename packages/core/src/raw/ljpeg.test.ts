import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { random, testBench } from '../../test/bench'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { decodeLosslessJpeg } from './ljpeg'
import { encodeLosslessJpeg } from './ljpegEncode'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))
beforeEach(() => scratch.release())

/** A scan written plainly: every category has a code of 5 bits, 0 first. */
function plainStream(
  samples: number[][],
  components: number,
  predictor: number,
  precision: number,
): Uint8Array {
  const bits: number[] = []
  const put = (v: number, n: number) => {
    for (let i = n - 1; i >= 0; i--) bits.push((v >> i) & 1)
  }
  const wide = samples[0].length
  samples.forEach((line, y) =>
    line.forEach((v, i) => {
      const a = line[i - components]
      const b = samples[y - 1]?.[i]
      const c = samples[y - 1]?.[i - components]
      const guess =
        i < components
          ? y === 0
            ? 1 << (precision - 1)
            : b
          : y === 0
            ? a
            : [0, a, b, c, a + b - c, a + ((b - c) >> 1), b + ((a - c) >> 1), (a + b) >> 1][predictor]
      // differences are modulo 2^16
      let d = (v - guess) & 0xffff
      if (d >= 32768) d -= 65536
      if (d === -32768) d = 32768
      const n = 32 - Math.clz32(Math.abs(d))
      put(n, 5)
      if (n > 0 && n < 16) put(d > 0 ? d : d + (1 << n) - 1, n)
    }),
  )
  while (bits.length % 8) bits.push(1)
  const data: number[] = []
  for (let i = 0; i < bits.length; i += 8) {
    const byte = bits.slice(i, i + 8).reduce((s, b) => s * 2 + b, 0)
    data.push(byte)
    if (byte === 255) data.push(0)
  }
  const counts = [0, 0, 0, 0, 17, ...Array<number>(11).fill(0)]
  const values = Array.from({ length: 17 }, (_, i) => i)
  const ids = Array.from({ length: components }, (_, i) => i + 1)
  const columns = wide / components
  return Uint8Array.from([
    0xff,
    0xd8,
    0xff,
    0xc4,
    0,
    2 + 17 + 17,
    0,
    ...counts,
    ...values,
    0xff,
    0xc3,
    0,
    8 + 3 * components,
    precision,
    samples.length >> 8,
    samples.length & 255,
    columns >> 8,
    columns & 255,
    components,
    ...ids.flatMap((id) => [id, 0x11, 0]),
    0xff,
    0xda,
    0,
    6 + 2 * components,
    components,
    ...ids.flatMap((id) => [id, 0]),
    predictor,
    0,
    0,
    ...data,
    0xff,
    0xd9,
  ])
}

function decode(stream: Uint8Array, width: number, height: number): number[][] {
  const offset = scratch.take(stream.length)
  new Uint8Array(scratch.memory.buffer, offset, stream.length).set(stream)
  const target = scratch.take(width * height * 2)
  const rect = { offset: target, stride: width, width, height }
  decodeLosslessJpeg(kernels, scratch, { offset, length: stream.length }, rect, { width, height })
  const out = new Uint16Array(scratch.memory.buffer, target, width * height)
  return Array.from({ length: height }, (_, y) => [...out.subarray(y * width, (y + 1) * width)])
}

const picture = (width: number, height: number, precision: number, seed: number) => {
  const next = random(seed)
  const top = 2 ** precision - 1
  return Array.from({ length: height }, (_, y) =>
    Array.from({ length: width }, (_, x) =>
      next() < 0.02
        ? Math.round(next() * top)
        : Math.round(top * (0.5 + 0.4 * Math.sin(x * 0.1 + y * 0.07)) * (0.98 + 0.02 * next())),
    ),
  )
}

describe('lossless JPEG', () => {
  const cases = [1, 2, 3, 4, 5, 6, 7].flatMap((p) => [1, 2, 3, 4].map((c) => [p, c] as const))
  it.each(cases)('decodes predictor %i with %i components', (predictor, components) => {
    const truth = picture(48, 20, 14, predictor * 10 + components)
    expect(decode(plainStream(truth, components, predictor, 14), 48, 20)).toEqual(truth)
  })

  it('decodes 16 bits with the largest differences', () => {
    const truth: number[][] = Array.from({ length: 8 }, (_, y) =>
      Array.from({ length: 16 }, (_, x) => ((x + y) % 2 ? 65535 : 0)),
    )
    truth[3][5] = 32768
    expect(decode(plainStream(truth, 1, 1, 16), 16, 8)).toEqual(truth)
  })

  it('decodes what the demo camera writes', () => {
    const truth = picture(64, 40, 14, 3)
    const stream = encodeLosslessJpeg(Uint16Array.from(truth.flat()), 64, 40, 14)
    expect(decode(stream, 64, 40)).toEqual(truth)
  })

  it.each([1, 2, 3, 4, 5, 6, 7])('reads rows joined two to a line, predictor %i', (predictor) => {
    const truth = picture(48, 40, 12, predictor)
    for (const layout of [
      { joined: 2, predictor, components: 2 },
      { joined: 4, predictor, components: 4 },
      { joined: 1, predictor, components: 3 },
    ]) {
      scratch.release()
      expect(decode(encodeLosslessJpeg(Uint16Array.from(truth.flat()), 48, 40, 12, layout), 48, 40)).toEqual(
        truth,
      )
    }
  })

  it('says so where the stream is cut off, of another size or no JPEG', () => {
    const truth = picture(64, 40, 14, 4)
    const stream = encodeLosslessJpeg(Uint16Array.from(truth.flat()), 64, 40, 14)
    expect(() => decode(stream.slice(0, stream.length / 2), 64, 40)).toThrow(/cut off/)
    expect(() => decode(stream, 66, 40)).toThrow(/another size/)
    expect(() => decode(stream.slice(4), 64, 40)).toThrow(/no lossless JPEG/)
  })

  it('ends in bounded time, one way or the other, for any damage', () => {
    const stream = encodeLosslessJpeg(Uint16Array.from(picture(64, 40, 14, 5).flat()), 64, 40, 14)
    const next = random(11)
    let refused = 0
    for (let i = 0; i < 400; i++) {
      scratch.release()
      const broken = stream.slice()
      for (let k = 0; k < 1 + (i % 4); k++)
        broken[Math.floor(next() * broken.length)] = Math.floor(next() * 256)
      try {
        expect(decode(broken, 64, 40).length).toBe(40)
      } catch (error) {
        expect((error as Error).name).toBe('RawError')
        refused++
      }
    }
    expect(refused).toBeGreaterThan(20)
  })
})
