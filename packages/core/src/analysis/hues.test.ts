import { expect, it } from 'vitest'
import { sinCosDegrees } from '../math'
import { countHues, HUE_PARTS } from './hues'

it('hues are counted where they are, by their chroma, greys not at all', () => {
  const samples = [
    { hue: 30, chroma: 0.1, count: 40 },
    { hue: 250, chroma: 0.2, count: 40 },
    { hue: 120, chroma: 0.005, count: 500 },
  ].flatMap(({ hue, chroma, count }) =>
    Array.from({ length: count }, () => sinCosDegrees(hue + 0.5).map((v) => v * chroma)),
  )
  const counts = countHues(
    Float32Array.from(samples, ([, cosine]) => cosine),
    Float32Array.from(samples, ([sine]) => sine),
  )
  expect(counts[(250 / 360) * HUE_PARTS]).toBe(1)
  expect(counts[(30 / 360) * HUE_PARTS]).toBeCloseTo(0.5, 5)
  expect(counts[(120 / 360) * HUE_PARTS]).toBe(0)
})
