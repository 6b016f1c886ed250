import { describe, expect, it } from 'vitest'
import { levelsOf, mosaicOf, specksOf, veldrom } from './camera'
import { needed, normal, perfect, tabulated, throughLens, undistorted, wide, type Piece } from './lens'

const frame = { width: 600, height: 400 }

/** A picture of soft points of light on a grid, and grey. */
function points(part: Omit<Piece, 'rgb'>): Piece {
  const rgb = new Float32Array(part.width * part.height * 3)
  for (let y = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++) {
      const u = part.x + x + 0.5
      const v = part.y + y + 0.5
      const du = u - Math.round(u / 40) * 40
      const dv = v - Math.round(v / 40) * 40
      rgb.fill(Math.exp(-(du * du + dv * dv) / 6), (y * part.width + x) * 3, (y * part.width + x) * 3 + 3)
    }
  return { ...part, rgb }
}

/** Centre of the light near a place, by channel. */
function centre(light: Float32Array, width: number, x: number, y: number, c: number): [number, number] {
  let [sum, sx, sy] = [0, 0, 0]
  for (let j = -7; j <= 7; j++)
    for (let i = -7; i <= 7; i++) {
      const v = light[((y + j) * width + x + i) * 3 + c]
      sum += v
      sx += v * (x + i + 0.5)
      sy += v * (y + j + 0.5)
    }
  return [sx / sum, sy / sum]
}

describe('lenses', () => {
  it('go smoothly through their tables', () => {
    for (let i = 0; i <= 10; i++)
      expect(tabulated(wide.distortion, i / 10)).toBeCloseTo(wide.distortion[i], 9)
    for (let r = 0; r < 1.08; r += 0.001)
      expect(Math.abs(tabulated(wide.distortion, r + 0.001) - tabulated(wide.distortion, r))).toBeLessThan(
        5e-5,
      )
  })

  it('lay points of light where their tables say, each channel for itself', () => {
    const crop = { x: 0, y: 0, ...frame }
    const light = throughLens(wide, frame, points(needed(wide, frame, crop)), crop)
    let seen = 0
    let parted = 0
    for (const [gx, gy] of [
      [80, 80],
      [520, 320],
      [320, 40],
      [40, 200],
      [280, 200],
    ]) {
      const centres = ([0, 1, 2] as const).map((c) => {
        // where on the sensor the light of the grid's point comes to lie
        let [x, y] = [gx, gy]
        for (let k = 0; k < 20; k++) {
          const [u, v] = undistorted(wide, frame, x, y, c)
          x += gx - u
          y += gy - v
        }
        const found = centre(light, frame.width, Math.round(x), Math.round(y), c)
        // the spot is a little lopsided
        expect(Math.hypot(found[0] - x, found[1] - y)).toBeLessThan(0.12)
        return found
      })
      seen++
      parted = Math.max(parted, Math.hypot(centres[0][0] - centres[2][0], centres[0][1] - centres[2][1]))
    }
    expect(seen).toBe(5)
    expect(parted).toBeGreaterThan(0.15)
  })

  it('give any crop as they give the whole, and darken toward the corners', () => {
    const all = { x: 0, y: 0, ...frame }
    const crop = { x: 450, y: 250, width: 40, height: 30 }
    for (const lens of [wide, normal, perfect]) {
      const whole = throughLens(lens, frame, points(needed(lens, frame, all)), all)
      const part = throughLens(lens, frame, points(needed(lens, frame, crop)), crop)
      for (let y = 0; y < crop.height; y++)
        for (let x = 0; x < crop.width * 3; x++)
          expect(part[y * crop.width * 3 + x]).toBe(whole[((crop.y + y) * frame.width + crop.x) * 3 + x])
    }
    const grey: Piece = { ...needed(wide, frame, all), rgb: new Float32Array() }
    grey.rgb = new Float32Array(grey.width * grey.height * 3).fill(1)
    const light = throughLens(wide, frame, grey, all)
    expect(light[(200 * 600 + 300) * 3]).toBeCloseTo(1, 3)
    expect(light[0]).toBeLessThan(0.6)
  })
})

describe('what lies on and in the sensor', () => {
  const size = { width: 64, height: 48 }
  const grey = new Float32Array(64 * 48 * 3).fill(0.4)
  const shot = { iso: 100, exposure: 0.8, seed: 3 }

  it('has dust at the same places in every frame, and only where it lies', () => {
    const camera = { ...veldrom, hot: 0, dead: 0, rowNoise: 0, readNoise: 0, fullWell: 1e12 }
    const longEdge = 1500
    const speck = specksOf(camera).reduce((a, b) => (b.depth > a.depth ? b : a))
    const at = { x: Math.round(speck.x * longEdge) - 32, y: Math.round(speck.y * longEdge) - 24, ...size }
    const under = mosaicOf(camera, shot, grey, { ...at, longEdge })
    const clean = mosaicOf(camera, shot, grey, at)
    const other = mosaicOf(camera, { ...shot, seed: 4 }, grey, { ...at, longEdge })
    expect(under[24 * 64 + 32]).toBeLessThan(clean[24 * 64 + 32] * (1 - speck.depth * 0.7))
    expect(Math.abs(other[24 * 64 + 32] - under[24 * 64 + 32])).toBeLessThanOrEqual(2)
    expect(Math.abs(under[1] - clean[1])).toBeLessThanOrEqual(2)
  })

  it('stores 12 bits as a quarter of 14, and lets greens take on a little of their neighbours', () => {
    const quiet = { ...shot, noise: false }
    const fine = mosaicOf(veldrom, quiet, grey, { x: 0, y: 0, ...size })
    const coarse = mosaicOf(veldrom, { ...quiet, bits: 12 }, grey, { x: 0, y: 0, ...size })
    coarse.forEach((v, i) => expect(Math.abs(v * 4 - fine[i])).toBeLessThanOrEqual(2))
    expect(levelsOf(veldrom, { bits: 12 })).toMatchObject({ black: 128, white: 3950 })
    const red = new Float32Array(64 * 48 * 3).map((_, i) => [0.8, 0.1, 0.02][i % 3])
    const mosaic = mosaicOf(veldrom, quiet, red, { x: 0, y: 0, ...size })
    // green beside red against green beside blue
    expect(mosaic[1] - mosaic[64]).toBeGreaterThan(40)
  })
})
