import { describe, expect, it } from 'vitest'
import { deviates } from '../../test/collage'
import { cameraNoise } from './cameraNoise'
import { estimateNoise, NOISE_BLOCK, sampleNoise, type NoiseSample } from './noise'

/** Blocks of even light at many brightnesses, and of drawing, under known noise. */
function blocks(a: number, b: number, drawn: number): NoiseSample[] {
  const gauss = deviates(17)
  return Array.from({ length: 900 }, (_, k) => {
    const light = ((k % 30) / 30) ** 2 * 0.85
    const texture = k % 10 < drawn ? 0.2 * light : 0
    return sampleNoise(
      Float64Array.from({ length: NOISE_BLOCK ** 2 }, (__, i) => {
        const v = light + texture * Math.sin(i * 1.7) * Math.sin(Math.floor(i / NOISE_BLOCK) * 2.1)
        return v + Math.sqrt(a * Math.max(v, 0) + b) * gauss()
      }),
    )
  })
}

describe('a noise model from the picture', () => {
  it.each([
    [3e-5, 1e-8, 0],
    [5e-4, 2e-6, 5],
    [4e-3, 8e-5, 5],
  ])('finds the noise that was put in: a %s, b %s, %s tenths drawn on', (a, b, drawn) => {
    const found = estimateNoise(blocks(a, b, drawn))!
    // as noise, at tones that matter
    for (const s of [0.02, 0.18, 0.7])
      expect(Math.sqrt((found.a * s + found.b) / (a * s + b))).toBeGreaterThan(0.85)
    for (const s of [0.02, 0.18, 0.7])
      expect(Math.sqrt((found.a * s + found.b) / (a * s + b))).toBeLessThan(1.2)
  })

  it('is not made up from a few blocks', () => {
    expect(estimateNoise(blocks(1e-4, 1e-6, 0).slice(0, 5))).toBeUndefined()
  })

  it('is not taken in by a slope or a straight edge', () => {
    const slope = sampleNoise(
      Float64Array.from({ length: NOISE_BLOCK ** 2 }, (_, i) => 0.1 + 0.001 * (i % NOISE_BLOCK)),
    )
    expect(slope.variance).toBeLessThan(1e-12)
    const edge = sampleNoise(
      Float64Array.from({ length: NOISE_BLOCK ** 2 }, (_, i) => (i % NOISE_BLOCK > 6 ? 1 : 0)),
    )
    expect(edge.variance).toBeLessThan(1e-12)
  })
})

describe('a stored profile of a camera', () => {
  const camera = { make: 'Ostrava & Linde', model: 'Veldrom 2' }
  it('is what was measured at its own sensitivities, and in between them', () => {
    expect(cameraNoise({ ...camera, iso: 400 })![0].a).toBeCloseTo(1.44e-4, 8)
    const [low, middle, high] = [400, 800, 1600].map((iso) => cameraNoise({ ...camera, iso })![0])
    expect(middle.a).toBeCloseTo(Math.sqrt(low.a * high.a), 6)
    expect(middle.b).toBeGreaterThan(low.b)
    expect(middle.b).toBeLessThan(high.b)
    expect(cameraNoise({ ...camera, iso: 51200 })![0].a).toBeGreaterThan(9.2e-3)
  })

  it('is not there for others, or without a sensitivity', () => {
    expect(cameraNoise({ make: 'Nobody', model: 'Nothing', iso: 100 })).toBeUndefined()
    expect(cameraNoise(camera)).toBeUndefined()
  })
})
