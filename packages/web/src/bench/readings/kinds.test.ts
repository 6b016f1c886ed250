import { describe, expect, it } from 'vitest'
import { written } from './kinds'

describe('readings', () => {
  it('are written as is usual for each kind', () => {
    const reading = {
      sensor: [0.5, 0.25, 0.1],
      linear: [1.5, -0.002, 0],
      output: [1, 0.5, 0],
      lab: [50, -3.25, 10],
    } as const
    expect(written(reading, 'output')).toEqual(['255', '128', '0'])
    expect(written(reading, 'sensor')).toEqual(['50.0', '25.0', '10.0'])
    expect(written(reading, 'linear')).toEqual(['1.500', '\u22120.002', '0.000'])
    expect(written(reading, 'lab')).toEqual(['50.0', '\u22123.3', '10.0'])
  })
})
