import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { fitToGuide } from './guided'

const [width, height, R] = [300, 170, 4]
const next = random(5)
const values = (at: (x: number, y: number) => number) =>
  Float32Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width)))
const guide = { L: values(() => next()), a: values(() => next() - 0.5), b: values(() => next() - 0.5) }

/** The fit at a place, as the factors say. */
const fitAt = (fit: readonly Float32Array[], { L, a, b }: typeof guide, i: number) =>
  fit[0][i] * L[i] + fit[1][i] * a[i] + fit[2][i] * b[i] + fit[3][i]

describe('a mask fitted to a picture', () => {
  it('is what it was where it is a linear function of the picture', () => {
    const mask = guide.L.map((v, i) => 0.2 + 0.5 * v + 0.3 * guide.a[i] - 0.1 * guide.b[i])
    const fit = fitToGuide({ width, height, values: mask }, guide, R)
    for (let i = 0; i < mask.length; i += 7) expect(fitAt(fit, guide, i)).toBeCloseTo(mask[i], 2)
  })

  it('is even where the mask is', () => {
    const fit = fitToGuide({ width, height, values: values((x) => (x < 20 ? 0.25 : 1)) }, guide, R)
    for (const [x, is] of [
      [3, 0.25],
      [150, 1],
      [299, 1],
    ])
      for (const y of [0, 90, 169]) {
        const i = y * width + x
        expect([fit[0][i], fit[1][i], fit[2][i], fit[3][i]]).toEqual(
          [0, 0, 0, is].map((v) => expect.closeTo(v, 4)),
        )
      }
  })

  it('knows of no pieces: a part of the picture has the same fit', () => {
    const mask = values((x, y) => ((Math.floor(x / 9) + Math.floor(y / 13)) % 2 ? 1 : 0))
    const whole = fitToGuide({ width, height, values: mask }, guide, R)
    const [left, top] = [50, 30]
    const part = { width: width - left, height: height - top }
    const cut = (plane: Float32Array) =>
      Float32Array.from(
        { length: part.width * part.height },
        (_, i) => plane[(Math.floor(i / part.width) + top) * width + (i % part.width) + left],
      )
    const own = fitToGuide(
      { ...part, values: cut(mask) },
      { L: cut(guide.L), a: cut(guide.a), b: cut(guide.b) },
      R,
    )
    // away from the new ends
    for (let y = 2 * R; y < part.height; y += 3)
      for (let x = 2 * R; x < part.width; x++) {
        const [i, j] = [y * part.width + x, (y + top) * width + x + left]
        for (let p = 0; p < 4; p++) expect(Math.abs(own[p][i] - whole[p][j])).toBeLessThan(1e-4)
      }
  })
})
