import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { renderGrey, renderingCurve } from '../steps'
import { matchTones, toneShares } from './matchTones'

const encode = (v: number) => Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055))

/** A grey picture of a range of light, rendered. */
function rendered(ev: number, grade: number): Uint8Array {
  const next = random(9)
  const curve = renderingCurve(grade)
  const out = new Uint8Array(20000 * 3)
  for (let i = 0; i < out.length; i += 3) {
    const scene = 0.18 * 2 ** (next() * 7 - 5)
    out.fill(encode(renderGrey(curve, scene * 2 ** ev)), i, i + 3)
  }
  return out
}

describe('matching another rendering', () => {
  it.each([
    [0.6, 3.2],
    [-1, 1.5],
    [0, 2],
    [1.2, 2.6],
  ])('finds exposure %f and grade %f again', (ev, grade) => {
    const found = matchTones(toneShares(rendered(0, 2), 3), toneShares(rendered(ev, grade), 3), 2)
    expect(Math.abs(found.ev - ev)).toBeLessThanOrEqual(0.11)
    expect(Math.abs(found.grade - grade)).toBeLessThanOrEqual(0.31)
  })

  it('reads luminance off encoded pixels', () => {
    const half = Uint8Array.from({ length: 400 }, (_, i) => (i % 4 === 3 ? 255 : i < 200 ? 0 : 255))
    const shares = toneShares(half, 4)
    expect(shares[0]).toBeLessThan(0.001)
    expect(shares.at(-1)).toBeGreaterThan(0.99)
  })
})
