import { expect, it } from 'vitest'
import { fieldsOf, STEP_IDS } from '../steps'
import { developmentBetween } from './carry'
import { readDevelopment, startDevelopment } from './development'

const START = startDevelopment()
const develop = (steps: object, more: object = {}) =>
  readDevelopment({
    ...START,
    ...more,
    steps: Object.fromEntries(
      STEP_IDS.map((id) => [
        id,
        { ...(START.steps[id] as object), ...(steps as Record<string, object>)[id] },
      ]),
    ),
  })

it('passes numbers evenly, hues by the shorter way, light in mired, and leaves choices until the end', () => {
  const from = develop({
    exposure: { ev: -1 },
    edgeColour: { hue: 350 },
    cameraColour: { source: 'kelvin', kelvin: 2500 },
    curve: { all: [[0, 0], [0.4, 0.2], [1, 1]] }, // prettier-ignore
    monochrome: { on: false },
  })
  const to = develop(
    {
      exposure: { ev: 1 },
      edgeColour: { hue: 30 },
      cameraColour: { source: 'as-shot', kelvin: 10_000 },
      curve: { all: [[0, 0.1], [0.6, 0.6], [1, 1]] }, // prettier-ignore
      monochrome: { on: true },
    },
    { strength: { relief: 0.5 }, off: ['haze'] },
  )
  const half = developmentBetween(from, to, 0.5)
  expect(half.steps.exposure.ev).toBeCloseTo(0, 12)
  expect(half.steps.edgeColour.hue).toBeCloseTo(10, 9)
  expect(developmentBetween(from, to, 0.1).steps.edgeColour.hue).toBeCloseTo(354, 9)
  // 400 and 100 mired
  expect(half.steps.cameraColour.kelvin).toBeCloseTo(4000, 6)
  expect(half.steps.cameraColour.source).toBe('kelvin')
  expect(half.steps.curve.all.map(([, y]) => y)).toEqual([0.05, expect.closeTo(0.4, 12), 1])
  expect(half.steps.monochrome.on).toBe(false)
  expect(half.strength).toEqual({ relief: 0.75 })
  expect(half.off).toEqual([])
  expect(developmentBetween(from, to, 1)).toBe(to)
  expect(developmentBetween(from, to, 0)).toBe(from)
})

it('goes through settings that every step accepts, whatever the two ends', () => {
  const ends = (pick: 'min' | 'max') =>
    develop(
      Object.fromEntries(
        STEP_IDS.map((id) => [
          id,
          Object.fromEntries(
            fieldsOf(id)
              .filter((f) => f.kind === 'number' && f.path.length === 1)
              .map((f) => [f.path[0], f[pick]]),
          ),
        ]),
      ),
    )
  const [low, high] = [ends('min'), ends('max')]
  for (const t of [0.1, 0.5, 0.9])
    expect(readDevelopment(developmentBetween(low, high, t))).toEqual(developmentBetween(low, high, t))
  expect(developmentBetween(low, low, 0.3)).toEqual(low)
})
