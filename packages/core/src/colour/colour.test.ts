import { describe, expect, it } from 'vitest'
import { apply, invert, multiply, type Triple } from '../math'
import { random } from '../../test/bench'
import {
  adaptation,
  asShotBalance,
  between,
  cameraToWorking,
  D50,
  D65,
  iccProfile,
  kelvinFromXy,
  LINEAR,
  neutralFromXy,
  oprgb,
  rec2020,
  romm,
  spaces,
  srgb,
  toLab,
  toOklab,
  whiteXyz,
  working,
  xyFromKelvin,
  xyFromNeutral,
  type CameraColour,
} from './index'

describe('RGB spaces', () => {
  it('have the matrices their standards print', () => {
    const published: [typeof srgb, number[]][] = [
      [srgb, [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505]],
      [rec2020, [0.636958, 0.144617, 0.168881, 0.2627, 0.678, 0.0593, 0, 0.028073, 1.060985]],
      [oprgb, [0.57667, 0.18556, 0.18823, 0.29734, 0.62736, 0.07529, 0.02703, 0.07069, 0.99134]],
      [romm, [0.797675, 0.135192, 0.031353, 0.28804, 0.711874, 0.000086, 0, 0, 0.82521]],
    ]
    for (const [space, m] of published) m.forEach((v, i) => expect(space.toXyz[i]).toBeCloseTo(v, 3))
  })

  it('have continuous curves that meet 0 and 1', () => {
    for (const { curve, id } of Object.values(spaces)) {
      const { cut, slope, a, p, b } = curve
      expect(a - b, id).toBeCloseTo(1, 6)
      if (cut > 0) expect(a * cut ** p - b, id).toBeCloseTo(slope * cut, 4)
    }
  })

  it('keep white exactly on the way from one to another', () => {
    for (const space of Object.values(spaces))
      apply(between(working, space), [1, 1, 1]).forEach((v) => expect(v).toBeCloseTo(1, 12))
  })

  it('adapt D65 to D50 as ICC prints it', () => {
    const printed = [1.0479, 0.0229, -0.0502, 0.0296, 0.9904, -0.0171, -0.0092, 0.0151, 0.7519]
    adaptation(D65, D50).forEach((v, i) => expect(v).toBeCloseTo(printed[i], 3))
  })
})

describe('Oklab and CIE Lab', () => {
  it('give the values of the paper', () => {
    // XYZ and Lab pairs of Ottosson 2020
    const pairs: [Triple, Triple][] = [
      [
        [0.95, 1, 1.089],
        [1, 0, 0],
      ],
      [
        [1, 0, 0],
        [0.45, 1.236, -0.019],
      ],
      [
        [0, 1, 0],
        [0.922, -0.671, 0.263],
      ],
      [
        [0, 0, 1],
        [0.153, -1.415, -0.449],
      ],
    ]
    for (const [xyz, lab] of pairs)
      toOklab(srgb, apply(invert(srgb.toXyz), xyz)).forEach((v, i) => expect(v).toBeCloseTo(lab[i], 2))
  })

  it('have no chroma in greys', () => {
    for (const g of [1e-4, 0.18, 1, 8]) {
      expect(Math.hypot(...toOklab(working, [g, g, g]).slice(1))).toBeLessThan(1e-7)
      expect(Math.hypot(...toLab(srgb, [g, g, g]).slice(1))).toBeLessThan(1e-3 * g ** (1 / 3) * 100)
    }
    expect(toLab(srgb, [1, 1, 1])[0]).toBeCloseTo(100, 6)
    // mid grey of 18 per cent lies at L* 49.5
    expect(toLab(srgb, [0.18, 0.18, 0.18])[0]).toBeCloseTo(49.5, 1)
  })
})

/** Planck's law through the CIE 1931 observer in Wyman's analytic fit (2013). */
function planckXy(T: number): [number, number] {
  const lobe = (l: number, a: number, m: number, s1: number, s2: number) =>
    a * Math.exp(-0.5 * ((l - m) / (l < m ? s1 : s2)) ** 2)
  const sum = [0, 0, 0]
  for (let l = 380; l <= 780; l += 2) {
    const power = 1 / (l ** 5 * (Math.exp(1.4388e7 / (l * T)) - 1))
    sum[0] +=
      power *
      (lobe(l, 1.056, 599.8, 37.9, 31) + lobe(l, 0.362, 442, 16, 26.7) + lobe(l, -0.065, 501.1, 20.4, 26.2))
    sum[1] += power * (lobe(l, 0.821, 568.8, 46.9, 40.5) + lobe(l, 0.286, 530.9, 16.3, 31.1))
    sum[2] += power * (lobe(l, 1.217, 437, 11.8, 36) + lobe(l, 0.681, 459, 26, 13.8))
  }
  const all = sum[0] + sum[1] + sum[2]
  return [sum[0] / all, sum[1] / all]
}

describe('colour temperature', () => {
  it('follows black bodies', () => {
    for (const T of [2000, 2856, 4000, 6500, 12000]) {
      const truth = planckXy(T)
      xyFromKelvin(T, 0).forEach((v, i) => expect(v).toBeCloseTo(truth[i], 2))
    }
  })

  it('comes back from its chromaticity', () => {
    for (const kelvin of [2000, 2900, 5003, 6504, 9000, 14999])
      for (const tint of [-90, -12, 0, 35, 100]) {
        const back = kelvinFromXy(xyFromKelvin(kelvin, tint))
        expect(back.kelvin).toBeCloseTo(kelvin, 1)
        expect(back.tint).toBeCloseTo(tint, 3)
      }
  })

  it('counts daylight as slightly green, as Duv does', () => {
    const { kelvin, tint } = kelvinFromXy(D65)
    expect(kelvin).toBeGreaterThan(6450)
    expect(kelvin).toBeLessThan(6560)
    expect(tint / 3000).toBeCloseTo(0.0032, 3)
  })
})

const camera: CameraColour = {
  calibrations: [
    { kelvin: 2856, colorMatrix: [0.9, -0.35, -0.02, -0.5, 1.3, 0.22, -0.12, 0.25, 0.55] },
    { kelvin: 6504, colorMatrix: [0.78, -0.23, -0.09, -0.45, 1.26, 0.21, -0.08, 0.18, 0.63] },
  ],
  analogBalance: [1, 1, 1],
  asShotNeutral: [0.5, 1, 0.7],
}

describe('camera colour', () => {
  it('finds the white of a neutral that it made from that white', () => {
    for (const kelvin of [2300, 2856, 4100, 6504, 8000])
      for (const tint of [-30, 0, 40]) {
        const back = kelvinFromXy(xyFromNeutral(camera, neutralFromXy(camera, xyFromKelvin(kelvin, tint))))
        expect(Math.abs(back.kelvin / kelvin - 1)).toBeLessThan(0.002)
        expect(back.tint).toBeCloseTo(tint, 0)
      }
  })

  it('uses each calibration under its own light and its matrix exactly', () => {
    const xy = xyFromKelvin(6504, 0)
    const neutral = neutralFromXy(camera, xy)
    const matrix = cameraToWorking(camera, neutral)
    const truth = multiply(
      invert(working.toXyz),
      multiply(adaptation(xy, D65), invert(camera.calibrations[1].colorMatrix)),
    )
    // what the matrix makes of a camera colour is the colour, up to exposure
    const colour: Triple = [0.3, 0.42, 0.2]
    const ours = apply(matrix, colour)
    const theirs = apply(truth, colour)
    const scale = theirs[1] / ours[1]
    ours.forEach((v, i) => expect(v * scale).toBeCloseTo(theirs[i], 2))
  })

  it('makes any neutral grey with its green kept', () => {
    const next = random(3)
    for (let i = 0; i < 50; i++) {
      const neutral: Triple = [0.2 + 0.8 * next(), 1, 0.2 + 0.8 * next()]
      const [r, g, b] = apply(cameraToWorking(camera, neutral), neutral)
      expect(g).toBeCloseTo(1, 9)
      expect(Math.max(Math.abs(r - g), Math.abs(b - g))).toBeLessThan(1e-9)
    }
  })

  it('agrees with a forward matrix that says the same as the colour matrix', () => {
    const [, day] = camera.calibrations
    const xy = xyFromKelvin(day.kelvin, 0)
    const n = apply(day.colorMatrix, whiteXyz(xy))
    const forwardMatrix = multiply(multiply(adaptation(xy, D50), invert(day.colorMatrix)), [
      n[0],
      0,
      0,
      0,
      n[1],
      0,
      0,
      0,
      n[2],
    ])
    const plain: CameraColour = { ...camera, calibrations: [day] }
    const forward: CameraColour = { ...camera, calibrations: [{ ...day, forwardMatrix }] }
    const neutral = neutralFromXy(plain, xy)
    cameraToWorking(forward, neutral).forEach((v, i) =>
      expect(v).toBeCloseTo(cameraToWorking(plain, neutral)[i], 2),
    )
  })

  it('balances as shot with a smallest factor of one', () => {
    expect(asShotBalance(camera)).toEqual([2, 1, 1 / 0.7])
  })
})

describe('ICC profiles', () => {
  const tag = (profile: Uint8Array, name: string) => {
    const view = new DataView(profile.buffer)
    for (let i = 0; i < view.getUint32(128); i++) {
      const at = 132 + i * 12
      if (new TextDecoder().decode(profile.subarray(at, at + 4)) === name)
        return new DataView(profile.buffer, view.getUint32(at + 4), view.getUint32(at + 8))
    }
    throw new Error(`no ${name}`)
  }
  it('hold colourants that add up to D50 and curves that undo the encoding', () => {
    for (const space of Object.values(spaces)) {
      const profile = iccProfile(space)
      expect(new DataView(profile.buffer).getUint32(0)).toBe(profile.length)
      const xyz = ['rXYZ', 'gXYZ', 'bXYZ'].map((n) =>
        [8, 12, 16].map((o) => tag(profile, n).getInt32(o) / 65536),
      )
      // as the standard has it to the bit: readers warn of any other
      const header = new DataView(profile.buffer, profile.byteOffset)
      expect([68, 72, 76].map((at) => header.getUint32(at))).toEqual([0xf6d6, 0x10000, 0xd32d])
      whiteXyz(D50).forEach((w, i) => expect(xyz[0][i] + xyz[1][i] + xyz[2][i]).toBeCloseTo(w, 3))
      const curve = tag(profile, 'rTRC')
      const type = curve.getUint16(8)
      const [g, a, b, c, d] = [0, 1, 2, 3, 4].map((i) =>
        12 + i * 4 < curve.byteLength ? curve.getInt32(12 + i * 4) / 65536 : 0,
      )
      for (const x of [0.0005, 0.01, 0.18, 0.7, 1]) {
        const { cut, slope, a: ea, p, b: eb } = space.curve
        const encoded = x < cut ? slope * x : ea * x ** p - eb
        const back = type === 0 ? encoded ** g : encoded >= d ? (a * encoded + b) ** g : c * encoded
        expect(Math.abs(back - x), `${space.id} ${x}`).toBeLessThan(2e-4)
      }
    }
    expect(tag(iccProfile(working, LINEAR, 'linear'), 'gTRC').getInt32(12)).toBe(65536)
  })
})
