import { beforeAll, describe, expect, it } from 'vitest'
import { testBench } from '../../../test/bench'
import type { Kernels } from '../../kernels/kernels'
import type { Scratch } from '../../memory'
import type { Rect } from '../../raw/rect'
import { mendSpot, rectsOf, type Spot } from '../spot'
import type { Window } from '../window'
import { cellsOf, filledAt } from './filled'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench()))

const LEVELS = [9, 9, 9] as const
/** A picture of some light by channel and place, as far as a rectangle says. */
const windowOf = (
  { x, y, width, height }: Rect,
  light: (c: number, x: number, y: number) => number,
): Window => ({
  ...{ x, y, width, height },
  planes: [0, 1, 2].map((c) =>
    Float32Array.from({ length: width * height }, (_, i) =>
      light(c, x + (i % width), y + Math.floor(i / width)),
    ),
  ) as unknown as Window['planes'],
})
const SEEN = { x: 90, y: 140, width: 40, height: 30 }
const patterned = (c: number, x: number, y: number) => 0.3 + c / 10 + ((x * 31 + y * 17) % 23) / 100

/** A fill that is taken from two distances, to the left and to the right of a line. */
const box = (left: readonly [number, number], right: readonly [number, number], border: number) => {
  const by = (k: 0 | 1) =>
    Int32Array.from({ length: SEEN.width * SEEN.height }, (_, i) =>
      SEEN.x + (i % SEEN.width) < border ? left[k] : right[k],
    )
  return { ...SEEN, right: by(0), down: by(1) }
}

describe('what a fill lays over a picture', () => {
  it('is the picture at its distances, and fades from one to the other in between', () => {
    const fill = box([200, 30], [-61, 15], 110)
    const taken = cellsOf(fill).map((cell) => windowOf(cell, patterned))
    const found = filledAt(
      fill,
      windowOf(SEEN, () => -1),
      taken,
      () => true,
    )
    for (let y = SEEN.y + 2; y < SEEN.y + SEEN.height - 2; y++)
      for (let x = SEEN.x + 2; x < SEEN.x + SEEN.width - 2; x++)
        for (let c = 0; c < 3; c++) {
          const at = (y - SEEN.y) * SEEN.width + x - SEEN.x
          const left = patterned(c, x + 200, y + 30)
          const right = patterned(c, x - 61, y + 15)
          // places two pixels away count a quarter to each side
          const share = x < 108 ? 0 : x < 110 ? 0.25 : x < 112 ? 0.75 : 1
          expect(found[c][at]).toBeCloseTo(left + share * (right - left), 5)
        }
  })

  it('is the picture itself where it is taken from nowhere', () => {
    const fill = box([0, 0], [0, 0], 110)
    expect(cellsOf(fill)).toEqual([])
    const seen = windowOf(SEEN, patterned)
    expect(filledAt(fill, seen, [], () => true)).toEqual(seen.planes)
  })
})

describe('a fill in its place', () => {
  const region = { shape: 'spot', x: 110, y: 155, radius: 9 } as const
  const spot = (fill: Spot['fill']): Spot => ({
    ...{ kind: 'fill', region, source: [0, 0], softness: 0, opacity: 1, turn: 0, mirror: false, fill },
  })
  const fill = box([200, 30], [200, 30], 0)
  const { seen, taken, target } = rectsOf(spot(fill))
  /** Green in the gap at a place, where it is taken from light that is so many times that around it. */
  function greenWith(factor: number, around: (x: number) => number = () => 1, x = 110) {
    const [, green] = mendSpot(
      kernels,
      scratch,
      spot(fill),
      windowOf(seen, (c, x) => around(x) * (0.2 + 0.1 * c)),
      taken.map((cell) => windowOf(cell, (c) => factor * (0.2 + 0.1 * c))),
      LEVELS,
    )
    return green[(155 - target.y) * target.width + x - target.x]
  }

  it('has the light that is around it', () => {
    expect(greenWith(1.04)).toBeCloseTo(0.3, 3)
    expect(greenWith(0.97)).toBeCloseTo(0.3, 3)
  })

  it('takes no light from another thing that touches it', () => {
    const touched = (x: number) => (x > 115 ? 3 : 1)
    expect(greenWith(1.03, touched)).toBeCloseTo(0.3, 2)
    expect(greenWith(1.03, touched, 106)).toBeCloseTo(0.3, 2)
  })
})
