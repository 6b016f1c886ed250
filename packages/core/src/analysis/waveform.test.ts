import { expect, it } from 'vitest'
import { addWaveform, WAVE_COLUMNS, WAVE_COUNTS, WAVE_LEVELS } from './waveform'

it('a waveform counts every pixel at its column and level', () => {
  const counts = new Uint32Array(WAVE_COUNTS)
  const line = new Uint8Array(4 * 2 * WAVE_COLUMNS)
  for (let x = 0; x < 2 * WAVE_COLUMNS; x++) line.set([x < WAVE_COLUMNS ? 0 : 255, 128, x % 256, 255], 4 * x)
  addWaveform(counts, line)
  addWaveform(counts, line)
  const at = (c: number, level: number, column: number) =>
    counts[(c * WAVE_LEVELS + level) * WAVE_COLUMNS + column]
  expect(at(0, 0, 0)).toBe(4)
  expect(at(0, WAVE_LEVELS - 1, WAVE_COLUMNS - 1)).toBe(4)
  expect(at(0, 0, WAVE_COLUMNS - 1)).toBe(0)
  for (let column = 0; column < WAVE_COLUMNS; column++) expect(at(1, 32, column)).toBe(4)
  expect(counts.reduce((a, b) => a + b, 0)).toBe(3 * 4 * WAVE_COLUMNS)
})
