import { expect, it } from 'vitest'
import { likeness } from './folder'

it.each([
  ['HM1.tif', 'HM1.tif', true],
  ['HM1.jpg', 'HM1.tif', true],
  ['hm1-Edit.TIF', 'HM1.tif', true],
  ['HM1 (2).tif', 'HM1.tif', true],
  ['HM12.tif', 'HM1.tif', false],
  ['HM1é.tif', 'HM1.tif', false],
  ['copy of HM1.tif', 'HM1.tif', false],
])('%s is taken to be made of %s: %s', (name, given, is) => {
  expect(likeness(name, given) > 0).toBe(is)
})
