import { expect, it } from 'vitest'
import { Pace } from './pace'

const PIXELS = 400_000
/** Moves a picture on a machine that takes so many milliseconds for all of it; the shares it was made in. */
function moved(pace: Pace, ms: number, times: number): number[] {
  return Array.from({ length: times }, () => {
    const share = pace.shareFor(PIXELS)
    pace.took(ms * share ** 2, PIXELS * share ** 2)
    return share
  })
}

it('stays at full size where the machine can', () => {
  expect(new Set(moved(new Pace(), 20, 20))).toEqual(new Set([1]))
})

it('gets coarser where it cannot, and stays so', () => {
  const shares = moved(new Pace(), 50, 20)
  expect(shares[0]).toBe(1)
  expect(new Set(shares.slice(1))).toEqual(new Set([0.6]))
})

it('comes back only once there is room to spare', () => {
  const pace = new Pace()
  moved(pace, 60, 10)
  expect(new Set(moved(pace, 24, 30))).toEqual(new Set([0.6]))
  expect(moved(pace, 12, 30).at(-1)).toBe(1)
})
