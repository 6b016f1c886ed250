import { expect, it } from 'vitest'
import { readNumber } from './readNumber'

it('takes comma and point as decimal sign, and any minus', () => {
  const said: [string, number][] = [
    ['1,5', 1.5],
    ['1.5', 1.5],
    ['+0.35', 0.35],
    ['\u22121.2', -1.2],
    ['\u20131', -1],
    ['-.5', -0.5],
    [' 5 500 ', 5500],
    ['7.', 7],
  ]
  for (const [text, number] of said) expect(readNumber(text), text).toBe(number)
})

it('takes nothing else for a number', () => {
  for (const text of ['abc', '', ' ', '1/2', '1,2,3', '+', '\u2013', '.', '5 EV', '1e3', '--1', '0x10'])
    expect(readNumber(text), text).toBeUndefined()
})

it('does not guess what a separator means where only whole numbers are', () => {
  expect(readNumber('5,500', true)).toBeUndefined()
  expect(readNumber('5.000', true)).toBeUndefined()
  expect(readNumber('5.5', true)).toBeUndefined()
  expect(readNumber('5500', true)).toBe(5500)
  expect(readNumber('5.0', true)).toBe(5)
})
