import { describe, expect, it } from 'vitest'
import { writeDng } from '@dunkelkammer/demo'
import { contents } from '../../../test/files'
import { cameraToWorking, neutralFromXy, xyFromKelvin, xyFromNeutral } from '../../colour'
import { apply, type Matrix3 } from '../../math'
import { spanOf } from '../frame'
import { readDng } from './reader'

const read = (part: Parameters<typeof contents>[0]) => readDng(writeDng(contents(part)))
const A: Matrix3 = [1.2, -0.4, -0.1, -0.4, 1.3, 0.3, -0.05, 0.1, 0.6]
const D: Matrix3 = [0.9, -0.1, -0.1, -0.45, 1.2, 0.2, -0.1, 0.2, 0.5]

describe('filter patterns', () => {
  it.each([[[0, 1, 1, 2]], [[1, 0, 2, 1]], [[1, 2, 0, 1]], [[2, 1, 1, 0]]])('reads %j', (pattern) => {
    expect(read({ pattern }).pattern).toEqual({ size: 2, colours: pattern })
  })

  it('turns the pattern where the readable area starts at odd places', () => {
    const frame = read({ pattern: [0, 1, 1, 2], activeArea: [1, 2, 47, 60] })
    expect(frame.active).toEqual({ x: 2, y: 1, width: 58, height: 46 })
    expect(frame.pattern.colours).toEqual([1, 2, 0, 1])
  })

  it('reads a pattern of 6 x 6, and refuses one that the demosaic could not take', () => {
    const six = [
      ...[1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1],
      ...[1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1],
    ]
    expect(read({ pattern: six, tile: undefined }).pattern).toEqual({ size: 6, colours: six })
    const moved = read({ pattern: six, tile: undefined, activeArea: [5, 7, 47, 60] }).pattern
    for (let y = 0; y < 6; y++)
      for (let x = 0; x < 6; x++)
        expect(moved.colours[((y + 5) % 6) * 6 + ((x + 7) % 6)]).toBe(six[y * 6 + x])
    const stripes = six.map((_, i) => (Math.floor(i / 6) === 0 ? 1 : i % 2 ? 0 : 2))
    expect(() => read({ pattern: stripes, tile: undefined })).toThrow(/pattern/)
  })
})

describe('levels', () => {
  it('reads black by place and by line, and white', () => {
    const deltaH = Array.from({ length: 64 }, (_, i) => i / 8)
    const deltaV = Array.from({ length: 48 }, (_, i) => -i / 4)
    const frame = read({
      black: [1, 2, 3, 4, 5, 6],
      blackRepeat: [2, 3],
      blackDeltaH: deltaH,
      blackDeltaV: deltaV,
    })
    expect(frame.levels.black).toEqual({ rows: 2, columns: 3, values: [1, 2, 3, 4, 5, 6] })
    expect(frame.levels.deltaH![9]).toBeCloseTo(9 / 8, 6)
    expect(frame.levels.deltaV![9]).toBeCloseTo(-9 / 4, 6)
    expect(spanOf(frame.levels, 0)).toBeCloseTo(15800 - 3.5, 9)
  })

  it('reads white and black of each colour of a linear picture', () => {
    const mosaic = new Uint16Array(64 * 48 * 3).fill(9)
    const frame = read({
      layout: 'linear',
      mosaic,
      black: [1, 2, 3],
      white: [1000, 1100, 1200],
      compression: 'none',
    })
    expect(frame.layout).toBe('linear')
    expect([0, 1, 2].map((c) => spanOf(frame.levels, c))).toEqual([999, 1098, 1197])
  })

  it('refuses a white below black, and lists of the wrong length', () => {
    expect(() => read({ white: 400 })).toThrow(/white level/)
    expect(() => read({ blackDeltaH: [1, 2, 3] })).toThrow(/incomplete/)
  })
})

describe('areas', () => {
  it('reads crop, masked areas, shape of the pixels and orientation', () => {
    const frame = read({
      activeArea: [4, 6, 44, 62],
      maskedAreas: [0, 0, 48, 5, 9, 9, 90, 90],
      defaultCrop: { origin: [2, 3], size: [50, 32] },
      defaultScale: [1, 2],
      orientation: 6,
    })
    expect(frame.picture).toEqual({ x: 8, y: 7, width: 50, height: 32 })
    expect(frame.masked).toEqual([{ x: 0, y: 0, width: 5, height: 48 }])
    expect(frame.pixelScale).toEqual([1, 2])
    expect(frame.metadata.orientation).toBe(6)
  })

  it('refuses areas that lie outside', () => {
    expect(() => read({ activeArea: [0, 0, 49, 64] })).toThrow(/active area/)
    expect(() => read({ defaultCrop: { origin: [20, 0], size: [50, 32] } })).toThrow(/crop/)
  })
})

describe('colour', () => {
  it('goes between the two lights in inverse temperature', () => {
    const calibrations = [
      { illuminant: 17, colorMatrix: A },
      { illuminant: 21, colorMatrix: D },
    ]
    const { colour } = read({ calibrations, asShotNeutral: undefined, asShotWhiteXy: [0.3127, 0.329] })
    expect(colour.calibrations.map((c) => c.kelvin)).toEqual([2856, 6504])
    // a white at one of the lights is answered by that light's matrix alone
    const white = [0.3127 / 0.329, 1, (1 - 0.3127 - 0.329) / 0.329] as const
    const n = apply(D, white)
    neutralFromXy(colour, [0.3127, 0.329]).forEach((v, i) => expect(v).toBeCloseTo(n[i] / Math.max(...n), 2))
    expect(colour.asShotNeutral[0]).toBeCloseTo(n[0] / Math.max(...n), 2)
    expect(xyFromNeutral(colour, colour.asShotNeutral)[0]).toBeCloseTo(0.3127, 3)
  })

  it('takes forward matrix, camera calibration and analog balance into account', () => {
    const forward: Matrix3 = [0.7, 0.2, 0.0642, 0.25, 0.8, -0.05, 0.02, -0.15, 0.9551]
    const plain = { illuminant: 21, colorMatrix: D, forwardMatrix: forward }
    const own: Matrix3 = [1.1, 0, 0, 0, 1, 0, 0, 0, 0.9]
    const a = read({ calibrations: [plain] }).colour
    const b = read({ calibrations: [{ ...plain, cameraCalibration: own }], analogBalance: [2, 1, 1] }).colour
    expect(b.analogBalance).toEqual([2, 1, 1])
    // the same light as both cameras see it; white comes out the same, and so does every colour
    const seen = [0.3, 0.5, 0.2] as const
    const other = [0.3 * 1.1 * 2, 0.5, 0.2 * 0.9] as const
    const neutral = [0.5, 1, 0.7] as const
    const top = Math.max(0.5 * 2.2, 1)
    const x = apply(cameraToWorking(a, neutral), seen)
    const y = apply(cameraToWorking(b, [(0.5 * 2.2) / top, 1 / top, (0.7 * 0.9) / top]), other)
    x.forEach((v, i) => expect(v).toBeCloseTo(y[i], 6))
  })

  it('reads baseline exposure and the tables of the own rendering', () => {
    const map = {
      hues: 2,
      saturations: 2,
      levels: 1,
      values: Float32Array.from({ length: 12 }, (_, i) => i / 4),
      encoded: false,
    }
    const look = {
      ...map,
      levels: 2,
      values: Float32Array.from({ length: 24 }, (_, i) => 1 + i / 8),
      encoded: true,
    }
    const frame = read({
      calibrations: [
        { illuminant: 17, colorMatrix: A },
        { illuminant: 21, colorMatrix: D },
      ],
      baselineExposure: -0.35,
      profile: {
        name: 'Evening',
        maps: [map, map],
        look,
        toneCurve: [
          [0, 0],
          [0.5, 0.6],
          [1, 1],
        ],
      },
    })
    expect(frame.baselineExposure).toBeCloseTo(-0.35, 6)
    expect(frame.profile).toMatchObject({
      name: 'Evening',
      look,
      maps: [
        { kelvin: 2856, map },
        { kelvin: 6504, map },
      ],
    })
    expect(frame.profile!.toneCurve!.map((p) => p.map((v) => Math.round(v * 1e6) / 1e6))).toEqual([
      [0, 0],
      [0.5, 0.6],
      [1, 1],
    ])
    expect(() =>
      read({
        profile: {
          toneCurve: [
            [0, 0],
            [0, 1],
          ],
        },
      }),
    ).toThrow(/tone curve/)
    expect(() => read({ profile: { look: { ...look, values: Float32Array.of(1, 2, 3) } } })).toThrow(/tables/)
  })

  it('keeps the maker’s notes and the rest of Exif', () => {
    const makerNote = Uint8Array.from({ length: 300 }, (_, i) => (i * 7) & 255)
    for (const bigEndian of [false, true]) {
      const { metadata } = read({ makerNote, bigEndian })
      const entry = (tag: number) => metadata.exif!.find((e) => e.tag === tag)!
      expect(entry(37500).values).toEqual([...makerNote])
      expect(entry(33434)).toEqual({ tag: 33434, type: 5, values: [1, 320] })
      expect(metadata).toMatchObject({ iso: 400, artist: 'Zoë Ångström', taken: '2026-05-14T06:52:11' })
    }
  })
})

describe('lists of corrections', () => {
  const u32 = (...n: number[]) => n.flatMap((v) => [v >>> 24, (v >> 16) & 255, (v >> 8) & 255, v & 255])
  const f64 = (...n: number[]) => n.flatMap((v) => [...new Uint8Array(Float64Array.of(v).buffer)].reverse())
  const f32 = (...n: number[]) => n.flatMap((v) => [...new Uint8Array(Float32Array.of(v).buffer)].reverse())
  const op = (id: number, body: number[], flags = 1) => [...u32(id, 0x01030000, flags, body.length), ...body]
  const list = (...ops: number[][]) => Uint8Array.from([...u32(ops.length), ...ops.flat()])
  const area = u32(0, 0, 40, 60, 0, 1, 1, 1)

  it('reads every kind, in little- and big-endian files alike', () => {
    const demosaiced = list(
      op(1, [...u32(1), ...f64(1, 0.1, 0.2, 0.3, 0.01, 0.02), ...f64(0.5, 0.4)]),
      op(2, [...u32(1), ...f64(1, 2, 3, 4), ...f64(0.5, 0.5)]),
      op(3, f64(0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7)),
      op(6, u32(1, 2, 30, 40)),
      op(7, [...area, ...u32(2), 0, 5, 1, 0]),
      op(8, [...area, ...u32(1), ...f64(0.5, 2)]),
      op(9, [...area, ...u32(1, 2), ...f64(0, 1, 0, 0), ...u32(1), ...f32(1, 1.5)]),
      op(12, [...area, ...u32(2), ...f32(1, 2)]),
      op(99, u32(1, 2, 3)),
    )
    for (const bigEndian of [false, true]) {
      const { opcodes } = read({ opcodes: { demosaiced }, bigEndian })
      expect(opcodes.demosaiced).toMatchObject([
        { kind: 'warp-rectilinear', planes: [[1, 0.1, 0.2, 0.3, 0.01, 0.02]], centre: [0.5, 0.4] },
        { kind: 'warp-fisheye', planes: [[1, 2, 3, 4]] },
        { kind: 'fix-vignette-radial', terms: [0.1, 0.2, 0.3, 0.4, 0.5], centre: [0.6, 0.7] },
        { kind: 'trim-bounds', area: { x: 2, y: 1, width: 38, height: 29 } },
        { kind: 'map-table', table: [5, 256], area: { width: 60, height: 40, planes: 1 } },
        { kind: 'map-polynomial', terms: [0.5, 2] },
        { kind: 'gain-map', rows: 1, columns: 2, gains: [1, 1.5] },
        { kind: 'scale-per-row', values: [1, 2] },
        { kind: 'unknown', id: 99 },
      ])
    }
  })

  it('refuses lists that are cut off or claim too much', () => {
    const whole = list(op(3, f64(1, 2, 3, 4, 5, 6, 7)))
    expect(() => read({ opcodes: { linear: whole.slice(0, -9) } })).toThrow(/cut off/)
    expect(() => read({ opcodes: { linear: list(op(5, u32(0, 0xffffff, 0))) } })).toThrow(/corrections/)
    expect(() => read({ opcodes: { linear: Uint8Array.from(u32(0xffff)) } })).toThrow(/too long/)
  })
})

describe('a white level that is not said', () => {
  it('is what the samples can hold, or the last entry of the table they go through', () => {
    expect(spanOf(read({ white: undefined, black: 0 }).levels, 0)).toBe(2 ** 14 - 1)
    const linearisation = Array.from({ length: 4096 }, (_, i) => i * 3)
    const curved = read({ white: undefined, black: 0, bits: 12, linearisation, compression: 'none' })
    expect(spanOf(curved.levels, 0)).toBe(4095 * 3)
  })

  it('said once counts for all colours', () => {
    const mosaic = new Uint16Array(64 * 48 * 3).fill(9)
    const frame = read({ layout: 'linear', mosaic, black: 0, white: 900, compression: 'none' })
    expect([0, 1, 2].map((c) => spanOf(frame.levels, c))).toEqual([900, 900, 900])
  })
})

describe('a light beyond both calibrations', () => {
  it('is seen as the nearer of them sees it', () => {
    const calibrations = [
      { illuminant: 17, colorMatrix: A },
      { illuminant: 21, colorMatrix: D },
    ]
    const both = read({ calibrations }).colour
    const [warm, cool] = calibrations.map((c) => read({ calibrations: [c] }).colour)
    for (const [kelvin, one] of [
      [2000, warm],
      [12000, cool],
    ] as const) {
      const xy = xyFromKelvin(kelvin, 0)
      neutralFromXy(both, xy).forEach((v, i) => expect(v).toBeCloseTo(neutralFromXy(one, xy)[i], 6))
    }
  })
})
