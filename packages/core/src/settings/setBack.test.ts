import { expect, it } from 'vitest'
import { STEP_IDS } from '../steps'
import { startDevelopment, type Development } from './development'
import { atStart, setBack } from './setBack'

const start = startDevelopment()
const worked: Development = {
  ...start,
  steps: {
    ...start.steps,
    exposure: { ...start.steps.exposure, ev: 1 },
    defects: { ...start.steps.defects, mend: false },
  },
  strength: { exposure: 0.5, tones: 1.2 },
  off: ['exposure', 'grain'],
}

it('sets steps back with their strength and switch, and leaves the others', () => {
  const back = setBack(worked, ['exposure', 'defects'])
  expect(back.steps.exposure).toEqual(start.steps.exposure)
  // what begins at work comes back to work
  expect(back.steps.defects.mend).toBe(true)
  expect(back.strength).toEqual({ tones: 1.2 })
  expect(back.off).toEqual(['grain'])
})

it('comes to the start where all is set back', () => {
  expect(setBack(worked, STEP_IDS)).toEqual(start)
  expect(atStart(start, STEP_IDS)).toBe(true)
})

it('tells what has been worked on by settings, strength or switch', () => {
  expect(atStart(worked, ['exposure'])).toBe(false)
  expect(atStart(worked, ['defects'])).toBe(false)
  expect(atStart(worked, ['tones'])).toBe(false)
  expect(atStart(worked, ['grain'])).toBe(false)
  expect(atStart(worked, ['points', 'haze'])).toBe(true)
})
