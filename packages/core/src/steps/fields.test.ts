import { expect, it } from 'vitest'
import { startDevelopment } from '../settings'
import { fieldsIn, letIn, letsNumbersIn } from './fields'
import { HueNodeSchema } from './hueNodes/schema'

const { steps } = startDevelopment()

it('lets numbers in from what they are without the step, and leaves the others', () => {
  const tilted = { ...steps.perspective, tilt: -8, roll: 2, size: 0.8, soften: 0.5 }
  expect(letIn('perspective', tilted, 0.5)).toEqual({ ...tilted, tilt: -4, roll: 1 })
  // the fringes that a profile knows are all taken out at the start, and none without the step
  expect(letIn('fringes', steps.fringes, 0.25)).toEqual({ ...steps.fringes, amount: 0.25 })
  expect(letIn('fallOff', { ev: 2, shape: 5 }, 1.5)).toEqual({ ev: 3, shape: 5 })
})

it('goes from the start of a rendering, and not beyond what paper there is', () => {
  const hard = { ...steps.baseRendering, grade: 5, toe: -0.5 }
  expect(letIn('baseRendering', hard, 0)).toEqual({ ...hard, grade: 2, toe: 0 })
  expect(letIn('baseRendering', hard, 0.5)).toEqual({ ...hard, grade: 3.5, toe: -0.25 })
  expect(letIn('baseRendering', hard, 1.5)).toEqual({ ...hard, grade: 5, toe: -0.75 })
})

it('is for steps that are not mixed with the picture before them', () => {
  expect(letsNumbersIn('baseRendering')).toBe(true)
  expect(letsNumbersIn('lens')).toBe(false)
  expect(letIn('exposure', { ev: 1 }, 0.5)).toEqual({ ev: 1 })
})

it('has a start for each field, also where another of the same settings has none', () => {
  const starts = fieldsIn(HueNodeSchema).map(({ path, start }) => [path[0], start])
  expect(Object.fromEntries(starts)).toEqual({ hue: undefined, width: 60, shift: 0, colour: 0, light: 0 })
})
