import {
  fitFringes,
  sampleFringes,
  SHIPPED_LENSES,
  Square,
  squareSettings,
  curvesOf,
  fitBend,
  straightened,
  type FringeSample,
  type LensFaults,
  type LensProfile,
} from '@dunkelkammer/core'
import {
  demoFrames,
  filterAt,
  levelsOf,
  normal,
  photographCrop,
  response,
  tabulated,
  undistorted,
  veldrom,
  wide,
} from '@dunkelkammer/demo'
import { describe, expect, it } from 'vitest'
import { settings } from '../test/engines'

/** 24 megapixels. */
const SIZE = { width: 6000, height: 4000 }
const HALF = Math.hypot(SIZE.width, SIZE.height) / 2

const faultsOf = (profile: LensProfile): LensFaults => {
  const { distortion, red, blue, fallOff } = curvesOf(profile, {
    ...profile.distortion[0],
    crop: profile.crop,
  })
  return {
    factors: [
      (r) => distortion(r) * red(r * distortion(r)),
      distortion,
      (r) => distortion(r) * blue(r * distortion(r)),
    ],
    fallOff,
    centre: [0, 0],
  }
}
const profileOf = (name: string) => SHIPPED_LENSES.find((p) => p.model === name && p.crop === 1)!
const squareOf = (faults: LensFaults) =>
  new Square(SIZE, squareSettings(settings({ steps: { lens: { choice: 'automatic' } } })), faults)

/** Places all over the sensor. */
const places = Array.from({ length: 61 * 41 }, (_, i) => [
  ((i % 61) / 60) * SIZE.width,
  (Math.floor(i / 61) / 40) * SIZE.height,
])

describe('a lens by its profile, whose formula is not the lens’s', () => {
  it.each([wide, normal])('$name stands where it should: 0.3 px rms, 1 px at worst', (lens) => {
    const square = squareOf(faultsOf(profileOf(lens.name)))
    let sum = 0
    let worst = 0
    for (const [x, y] of places) {
      const ideal = undistorted(lens, SIZE, x, y, 1)
      const [u, v] = square.planeToSource(ideal[0] - 3000, ideal[1] - 2000, 1)!
      const off = Math.hypot(u - x, v - y)
      sum += off * off
      worst = Math.max(worst, off)
    }
    expect(Math.sqrt(sum / places.length)).toBeLessThan(0.3)
    expect(worst).toBeLessThan(1)
  })

  it.each([wide, normal])('$name lays red and blue onto green within 0.15 px', (lens) => {
    const square = squareOf(faultsOf(profileOf(lens.name)))
    for (const [x, y] of places)
      for (const c of [0, 2] as const) {
        // where the channel's light lies that belongs to a place of the scene, and where green's lies
        const ideal = undistorted(lens, SIZE, x, y, c)
        const [u, v] = square.planeToSource(ideal[0] - 3000, ideal[1] - 2000, c)!
        const green = undistorted(lens, SIZE, x, y, 1)
        const [s, t] = square.planeToSource(green[0] - 3000, green[1] - 2000, 1)!
        // the same error in both is distortion, not a fringe
        expect(Math.hypot(u - s, v - t)).toBeLessThan(0.15)
      }
  })

  it.each([wide, normal])('$name gives back the light that did not arrive, within 0.02 EV', (lens) => {
    const square = squareOf(faultsOf(profileOf(lens.name)))
    for (let r = 0; r <= 1; r += 0.01)
      expect(Math.abs(Math.log2(square.gain(r) * tabulated(lens.fallOff, r)))).toBeLessThan(0.02)
  })
})

describe('a lens by lines that should be straight', () => {
  it('is fitted within 1 px rms, its scale apart', () => {
    // where a straight line of the scene lies on the sensor
    const bentTo = (x: number, y: number): [number, number] => {
      const [dx, dy] = [x - 3000, y - 2000]
      const far = Math.hypot(dx, dy)
      let [low, high] = [0, 1.2]
      for (let i = 0; i < 50; i++) {
        const k = (low + high) / 2
        const [u, v] = undistorted(wide, SIZE, 3000 + dx * k, 2000 + dy * k, 1)
        if (Math.hypot(u - 3000, v - 2000) < far) low = k
        else high = k
      }
      return [3000 + dx * low, 2000 + dy * low]
    }
    let seed = 5
    const noise = () => ((seed = (seed * 48271) % 2147483647) / 2147483647 - 0.5) * 1.6
    const marked = [
      [150, 200, 5850, 260],
      [200, 3800, 5800, 3700],
      [220, 150, 300, 3850],
      [5700, 200, 5820, 3800],
      [500, 1200, 5500, 900],
    ].map(([x0, y0, x1, y1]) =>
      Array.from({ length: 40 }, (_, i) => {
        const [x, y] = bentTo(x0 + ((x1 - x0) * i) / 39, y0 + ((y1 - y0) * i) / 39)
        return [(x + noise() - 3000) / HALF, (y + noise() - 2000) / HALF] as const
      }),
    )
    const { bend, edge, before, after } = fitBend(marked)
    expect(before * HALF).toBeGreaterThan(4)
    expect(after * HALF).toBeLessThan(1)
    const pairs = places.map(([x, y]) => {
      const got = straightened([(x - 3000) / HALF, (y - 2000) / HALF], bend, edge)
      const want = undistorted(wide, SIZE, x, y, 1)
      return { got: [got[0] * HALF, got[1] * HALF], want: [want[0] - 3000, want[1] - 2000] }
    })
    // lines do not tell how large things are
    const scale =
      pairs.reduce((s, p) => s + p.got[0] * p.want[0] + p.got[1] * p.want[1], 0) /
      pairs.reduce((s, p) => s + p.got[0] ** 2 + p.got[1] ** 2, 0)
    const rms = Math.sqrt(
      pairs.reduce(
        (s, p) => s + (p.got[0] * scale - p.want[0]) ** 2 + (p.got[1] * scale - p.want[1]) ** 2,
        0,
      ) / pairs.length,
    )
    expect(rms).toBeLessThan(1)
  })
})

describe('lateral fringes by the picture itself', () => {
  it('are found within 0.3 px of 24 megapixels, through mosaic and noise', () => {
    const facade = demoFrames.find((f) => f.fileName.startsWith('HM0488'))!
    const frame = { ...facade, ...SIZE, camera: veldrom, iso: 400 }
    const { black, white } = levelsOf(veldrom, {})
    const size = 80
    const samples: FringeSample[] = []
    for (let i = 0; i < 130; i++) {
      const crop = {
        x: (60 + ((i * 761) % 5780)) & ~1,
        y: (60 + ((i * 1237) % 3780)) & ~1,
        width: size,
        height: size,
      }
      const { mosaic } = photographCrop(frame, crop, veldrom)
      const channels = [0, 1, 2].map((c) => ({
        values: Float32Array.from(mosaic, (v) => (v - black) / (white - black)),
        there: Uint8Array.from(mosaic, (_, k) => (filterAt(k % size, Math.floor(k / size)) === c ? 1 : 0)),
      }))
      const middle = [crop.x + size / 2 - 3000, crop.y + size / 2 - 2000] as const
      const found = sampleFringes(channels, size, middle, HALF)
      if (found) samples.push(found)
    }
    const found = fitFringes(samples)!
    // every channel of the sensor sees a little of all light: its picture lies where the mixture does
    const m = response(veldrom)
    const seen = (channel: number, r: number) => {
      const shares = [0, 1, 2].map((k) => m[3 * channel + k])
      const all = shares.reduce((a, b) => a + b, 0)
      return (shares[0] * tabulated(wide.fringeRed, r) + shares[2] * tabulated(wide.fringeBlue, r)) / all
    }
    for (let r = 0.1; r <= 1; r += 0.05) {
      // light lies nearer in where the table lets it lie farther out
      const red = -(seen(0, r) - seen(1, r)) * r * HALF
      const blue = -(seen(2, r) - seen(1, r)) * r * HALF
      expect(Math.abs((found.redSize + found.redEdge * r * r) * r * HALF - red)).toBeLessThan(0.3)
      expect(Math.abs((found.blueSize + found.blueEdge * r * r) * r * HALF - blue)).toBeLessThan(0.3)
    }
    expect(fitFringes(samples.slice(0, 10))).toBeUndefined()
  })
})
