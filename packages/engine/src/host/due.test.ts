import { readDng, startDevelopment } from '@dunkelkammer/core'
import { writeDng, type DngContents } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { contents } from '../../../core/test/files'
import { testEngine } from '../../test/engines'
import type { Engine } from './engine'

const [WIDTH, HEIGHT] = [128, 96]

let engine: Engine
beforeAll(() => void (engine = testEngine()))
afterAll(() => engine.stop())

const u32 = (...n: number[]) => n.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255])
const big = (bytes: Uint8Array) => [...bytes].reverse()
const f64 = (...n: number[]) => n.flatMap((v) => big(new Uint8Array(Float64Array.of(v).buffer)))
const f32 = (...n: number[]) => n.flatMap((v) => big(new Uint8Array(Float32Array.of(v).buffer)))
/** A list of one correction (DNG 1.7, chapter 7). */
const list = (id: number, optional: boolean, body: number[]) =>
  Uint8Array.from([...u32(1), ...u32(id, 0x01030000, optional ? 1 : 0, body.length), ...body])

/** Gains from 1 on the left to 2 on the right, of every photosite. */
const gains = (optional: boolean) =>
  list(9, optional, [
    ...u32(0, 0, HEIGHT, WIDTH, 0, 1, 1, 1),
    ...u32(1, 2),
    ...f64(1, 1, 0, 0),
    ...u32(1),
    ...f32(1, 2),
  ])

const file = (part: Partial<DngContents>, light: (x: number) => number) =>
  writeDng(
    contents({
      ...{ width: WIDTH, height: HEIGHT, black: 512, noise: undefined },
      mosaic: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => 512 + 3000 * light(i % WIDTH)),
      ...part,
    }),
  )

async function delivered(bytes: Uint8Array): Promise<Uint16Array> {
  const open = await engine.open(bytes.slice())
  try {
    const size = { width: open.width, height: open.height }
    const out = await open.deliver({ development: startDevelopment(), space: 'srgb', bits: 16, ...size })
    return new Uint16Array(out.buffer)
  } finally {
    engine.close(open)
  }
}

/** The middle line's greens. */
const line = (pixels: Uint16Array) =>
  Array.from({ length: WIDTH - 8 }, (_, i) => pixels[((HEIGHT / 2) * WIDTH + i + 4) * 3 + 1])

describe('gain maps of a file', () => {
  it('are applied by themselves where the file lists them as compulsory', async () => {
    const made = line(await delivered(file({ opcodes: { linear: gains(false) } }, () => 1)))
    // the same light as a camera without fall-off would have had it
    const truth = line(await delivered(file({}, (x) => 1 + (x + 0.5) / WIDTH)))
    made.forEach((v, i) => expect(Math.abs(v / truth[i] - 1)).toBeLessThan(0.01))
    expect(made[made.length - 1]).toBeGreaterThan(made[0] * 1.3)
  })

  it('are left to the user where they are optional', async () => {
    const made = line(await delivered(file({ opcodes: { linear: gains(true) } }, () => 1)))
    expect(Math.max(...made) - Math.min(...made)).toBeLessThan(60)
  })
})

describe('what a file asks of its reader', () => {
  it.each([
    [14, /WarpRectilinear2/],
    [8, /MapPolynomial/],
    [77, /number 77/],
  ])('correction %i is refused by name where it is compulsory', (id, said) => {
    const asks = (optional: boolean) =>
      readDng(
        file(
          { opcodes: { linear: list(id, optional, [...u32(0, 0, 8, 8, 0, 1, 1, 1), ...u32(0), ...f64(1)]) } },
          () => 1,
        ),
      )
    expect(() => asks(false)).toThrow(said)
    expect(() => asks(true)).not.toThrow()
  })

  /** The same file with a tag of a type written over. */
  const written = (tag: number, type: number, to: number, values: number[]) => {
    const bytes = Buffer.from(file({}, () => 1))
    const at = bytes.lastIndexOf(Buffer.from([tag & 255, tag >> 8, type, 0]))
    expect(at).toBeGreaterThan(0)
    bytes.writeUInt16LE(to, at)
    bytes.set(values, at + 8)
    return bytes
  }

  it('a newer version of the format is refused with its number', () => {
    expect(() => readDng(written(50707, 1, 50707, [1, 8, 0, 0]))).toThrow(/DNG 1\.8/)
    expect(() => readDng(written(50707, 1, 50707, [2, 0, 0, 0]))).toThrow(/DNG 2\.0/)
    expect(() => readDng(written(50707, 1, 50707, [1, 7, 1, 0]))).not.toThrow()
    expect(() => readDng(written(50707, 1, 50707, [1, 4, 9, 0]))).not.toThrow()
  })

  it('filters that lie in shifted lines are refused', () => {
    // a mosaic need not say that it has one sample a pixel: that entry is free
    expect(() => readDng(written(277, 3, 50711, [2]))).toThrow(/rectangular grid/)
    expect(() => readDng(written(277, 3, 50711, [1]))).not.toThrow()
  })
})

it('light is measured from the highest black to white', () => {
  const { levels } = readDng(
    file(
      {
        ...{ black: [500, 510, 520, 505], blackRepeat: [2, 2] },
        blackDeltaH: Array.from({ length: WIDTH }, (_, i) => (i === 3 ? 7 : -2)),
        blackDeltaV: Array.from({ length: HEIGHT }, (_, i) => (i === 9 ? 11 : 0)),
      },
      () => 1,
    ),
  )
  expect(levels.highestBlack).toEqual([538])
})
