import {
  apply,
  findDirections,
  findLines,
  levelAngle,
  lean,
  traceEdge,
  turnByGuides,
  turnedCamera,
  turnFor,
  type DrawnLine,
  type StraightLine,
  type Triple,
} from '@dunkelkammer/core'
import { thicket, town, type TownPicture } from '@dunkelkammer/demo'
import { beforeAll, describe, expect, it } from 'vitest'

const DEGREES = 180 / Math.PI
const between = (a: readonly number[], b: readonly number[]) =>
  Math.acos(Math.min(Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]), 1)) * DEGREES

const linesOf = ({ grey, width, height }: Omit<TownPicture, 'down' | 'level' | 'focal'>): StraightLine[] => {
  const half = Math.hypot(width, height) / 2
  const at = (x: number, y: number) => [(x - width / 2) / half, (y - height / 2) / half] as const
  return findLines(grey, width, height, 0.02 * width).map((s) => ({
    from: at(s.x0, s.y0),
    to: at(s.x1, s.y1),
  }))
}

describe('lines of a picture', () => {
  const seeds = Array.from({ length: 20 }, (_, i) => 7001 + 13 * i)
  let streets: { picture: TownPicture; found: ReturnType<typeof findDirections> }[]
  beforeAll(() => {
    streets = seeds.map((seed) => {
      const picture = town(seed, 720, 480)
      return { picture, found: findDirections(linesOf(picture), picture.focal) }
    })
  })

  it('level at least 18 of 20 streets within 0.1 degrees', () => {
    const good = streets.filter(({ picture, found }) => {
      const angle = levelAngle(found)
      return (
        angle !== undefined && Math.abs(angle - Math.atan2(picture.down[0], picture.down[1]) * DEGREES) < 0.1
      )
    })
    expect(good.length).toBeGreaterThanOrEqual(18)
  })

  it('set up the camera within 0.3 degrees in at least 18 of 20 streets, uprights and level lines', () => {
    const good = streets.filter(({ picture, found }) => {
      const turn = turnFor(found, { uprights: true, levels: true, horizon: true }, 1)
      if (!turn) return false
      const m = turnedCamera(turn)
      return (
        between(apply(m, picture.down), [0, 1, 0]) < 0.3 && between(apply(m, picture.level), [1, 0, 0]) < 0.3
      )
    })
    expect(good.length).toBeGreaterThanOrEqual(18)
  })

  it('are not made up where there are none: thickets, clouds and pebbles are declined', () => {
    for (const seed of [8001, 8002, 8003, 8010, 8020]) {
      const found = findDirections(linesOf(thicket(seed, 720, 480)), 1.4)
      expect(levelAngle(found)).toBeUndefined()
      expect(turnFor(found, { uprights: true, levels: true, horizon: true }, 1)).toBeUndefined()
    }
  })

  it('make only what is ticked straight', () => {
    const { picture, found } = streets[0]
    const seen = (wanted: Parameters<typeof turnFor>[1], way: Triple) =>
      apply(turnedCamera(turnFor(found, wanted, 1)!), way)
    // parallel: the direction lies in the picture plane; leaning or not
    const free = seen({ uprights: true, levels: false, horizon: false }, picture.down)
    expect(Math.abs(free[2])).toBeLessThan(0.005)
    const upright = seen({ uprights: true, levels: false, horizon: true }, picture.down)
    expect(Math.hypot(upright[0], upright[2])).toBeLessThan(0.005)
    const level = seen({ uprights: false, levels: true, horizon: true }, picture.level)
    expect(Math.hypot(level[1], level[2])).toBeLessThan(0.005)
    const rolled = turnFor(found, { uprights: false, levels: false, horizon: true }, 1)!
    expect([rolled.tilt, rolled.swing]).toEqual([0, 0])
    expect(Math.abs(apply(turnedCamera(rolled), picture.down)[0])).toBeLessThan(0.005)
    // half of the turn at half strength
    const half = turnFor(found, { uprights: true, levels: true, horizon: true }, 0.5)!
    const full = turnFor(found, { uprights: true, levels: true, horizon: true }, 1)!
    expect(half.tilt).toBeCloseTo(full.tilt / 2, 9)
  })
})

describe('lines drawn on a picture', () => {
  const focal = 1.3
  /** Where a camera that is turned sees world lines through a point. */
  const drawn = (
    is: DrawnLine['is'],
    at: Triple,
    turn: { tilt: number; swing: number; roll: number },
  ): DrawnLine => {
    const m = turnedCamera(turn)
    const see = (p: Triple) => {
      const [x, y, z] = apply(m, p)
      return [(focal * x) / z, (focal * y) / z] as const
    }
    const way: Triple = is === 'upright' ? [0, 1, 0] : [1, 0, 0]
    return { is, from: see(at), to: see([at[0] + way[0] * 2, at[1] + way[1] * 2, at[2]]) }
  }

  it('turn the camera back as it was turned', () => {
    for (const turn of [
      { tilt: 14, swing: 0, roll: 2 },
      { tilt: -9, swing: 12, roll: -3 },
    ]) {
      const lines = [
        drawn('upright', [-3, -1, 8], turn),
        drawn('upright', [3, -1, 8], turn),
        drawn('level', [-1, -2, 8], turn),
        drawn('level', [-1, 2, 8], turn),
      ]
      const found = turnByGuides(lines, focal)
      for (const l of lines) expect(Math.abs(lean(l, found, focal)) * DEGREES).toBeLessThan(0.05)
      // both turns together leave the world's axes where they are
      const both = (v: Triple) => apply(turnedCamera(found), apply(turnedCamera(turn), v))
      expect(between(both([0, 1, 0]), [0, 1, 0])).toBeLessThan(0.2)
      expect(between(both([1, 0, 0]), [1, 0, 0])).toBeLessThan(0.2)
    }
  })

  it('do no more than they say: one line rolls, two uprights leave the swing alone', () => {
    const one = turnByGuides([{ is: 'level', from: [-0.4, 0], to: [0.4, 0.04] }], focal)
    expect(one.roll).toBeCloseTo(-Math.atan(0.1 / 2) * DEGREES, 0)
    expect(Math.abs(one.tilt) + Math.abs(one.swing)).toBeLessThan(0.3)
    const turn = { tilt: 10, swing: 0, roll: 0 }
    const two = turnByGuides([drawn('upright', [-3, -1, 8], turn), drawn('upright', [3, -1, 8], turn)], focal)
    expect(two.tilt).toBeCloseTo(-10, 1)
    expect(Math.abs(two.swing)).toBeLessThan(0.05)
    expect(turnByGuides([], focal)).toEqual({ tilt: 0, swing: 0, roll: 0 })
  })
})

describe('an edge beneath a drawn line', () => {
  const [width, height] = [400, 300]
  /** A border that sags by six pixels in its middle, softened over two. */
  const sagging = (x: number) => 120 + 0.1 * x + 6 * (1 - ((x - 200) / 200) ** 2)
  const grey = Float32Array.from({ length: width * height }, (_, i) => {
    const d = Math.floor(i / width) + 0.5 - sagging((i % width) + 0.5)
    return 0.3 + 0.3 / (1 + Math.exp(-d * 1.5))
  })

  it('is followed to a fraction of a pixel, though it bends away from the line', () => {
    const traced = traceEdge(grey, width, height, [10, 121], [390, 160], 12)!
    expect(traced.length).toBeGreaterThan(40)
    for (const [x, y] of traced) expect(Math.abs(y - sagging(x))).toBeLessThan(0.35)
  })

  it('is not found where there is none', () => {
    expect(traceEdge(grey, width, height, [20, 30], [380, 40], 12)).toBeUndefined()
    expect(traceEdge(grey, width, height, [20, 30], [25, 30], 12)).toBeUndefined()
  })
})
