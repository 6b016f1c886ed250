import { describe, expect, it } from 'vitest'
import { random } from '../../../test/bench'
import { AlikeSchema } from '../schema'
import { alikeShare } from './alike'
import { find, distances } from './index'
import { outlinesOf } from './outline'
import { cut, regionsOf } from './regions'
import type { Seen } from './small'

const [width, height] = [480, 320]

type Colour = readonly [L: number, a: number, b: number]
const SKY: Colour = [0.85, -0.01, -0.05]
const GRASS: Colour = [0.42, -0.06, 0.05]
const BAR: Colour = [0.3, 0.01, 0.02]

/** A picture with a little noise. */
function pictureOf(at: (x: number, y: number) => Colour, noise = 0.006): Seen {
  const next = random(3)
  const [L, a, b] = [0, 1, 2].map(() => new Float32Array(width * height))
  for (let i = 0; i < L.length; i++) {
    const colour = at(i % width, Math.floor(i / width))
    L[i] = colour[0] + noise * (next() - 0.5)
    a[i] = colour[1] + (noise / 2) * (next() - 0.5)
    b[i] = colour[2] + (noise / 2) * (next() - 0.5)
  }
  return { width, height, L, a, b }
}

/** Intersection over union with where something is. */
function overlap(share: Float32Array, is: (x: number, y: number) => boolean): number {
  let [both, any] = [0, 0]
  share.forEach((v, i) => {
    const should = is(i % width, Math.floor(i / width))
    if (v > 0.5 && should) both++
    if (v > 0.5 || should) any++
  })
  return both / any
}

const HORIZON = 190
/** A lattice before the sky, its bars 3 pixels wide. */
const onBar = (x: number, y: number) =>
  x > 300 && x < 400 && y > 60 && y < HORIZON && (x % 14 < 3 || y % 14 < 3)
const isSky = (x: number, y: number) => y < HORIZON && !onBar(x, y)
const cloudy = ([L, a, b]: Colour, x: number, y: number): Colour => {
  const cloud = Math.max(Math.sin(x / 60) * Math.sin(y / 34 + x / 90), 0)
  return [L + 0.1 * cloud, a * (1 - cloud), b * (1 - cloud)]
}
const land = (x: number, y: number): Colour => {
  const blade = 0.05 * Math.sin(x * 1.7) * Math.sin(y * 2.3)
  return [GRASS[0] + blade, GRASS[1], GRASS[2]]
}
const lattice = pictureOf((x, y) => (isSky(x, y) ? cloudy(SKY, x, y) : onBar(x, y) ? BAR : land(x, y)))

describe('the sky', () => {
  it('is found with its clouds, and between the bars of a lattice', () => {
    const { share, confidence } = find('sky', lattice)
    expect(confidence).toBeGreaterThan(0.9)
    expect(overlap(share, isSky)).toBeGreaterThan(0.97)
    let [holes, bars, n, m] = [0, 0, 0, 0]
    for (let y = 66; y < 180; y++)
      for (let x = 304; x < 396; x++) {
        if (onBar(x, y)) [bars, m] = [bars + share[y * width + x], m + 1]
        else [holes, n] = [holes + share[y * width + x], n + 1]
      }
    expect(holes / n).toBeGreaterThan(0.9)
    expect(bars / m).toBeLessThan(0.2)
  })

  it('is a share of what it fills in part, in light', () => {
    // half of each place of a line is sky, mixed as light is
    const mixed: Colour = [
      Math.cbrt((SKY[0] ** 3 + BAR[0] ** 3) / 2),
      (SKY[1] + BAR[1]) / 2,
      (SKY[2] + BAR[2]) / 2,
    ]
    const { share } = find(
      'sky',
      pictureOf((_, y) => (y < HORIZON ? SKY : y === HORIZON ? mixed : BAR)),
    )
    const line = share.subarray(HORIZON * width, (HORIZON + 1) * width)
    const mean = line.reduce((s, v) => s + v, 0) / width
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.12)
  })

  it('holds a cloud in its midst whole, and not what is dark there', () => {
    const inCloud = (x: number, y: number) => ((x - 150) / 40) ** 2 + ((y - 80) / 6) ** 2 < 1
    const inKite = (x: number, y: number) => Math.abs(x - 360) < 12 && Math.abs(y - 80) < 12
    const { share } = find(
      'sky',
      pictureOf((x, y) =>
        y >= HORIZON ? land(x, y) : inCloud(x, y) ? [0.97, 0, 0] : inKite(x, y) ? BAR : SKY,
      ),
    )
    const mean = (is: (x: number, y: number) => boolean) => {
      let [sum, n] = [0, 0]
      share.forEach((v, i) => {
        if (!is(i % width, Math.floor(i / width))) return
        sum += v
        n++
      })
      return sum / n
    }
    expect(mean(inCloud)).toBeGreaterThan(0.97)
    expect(mean(inKite)).toBeLessThan(0.1)
  })

  it('is found at night, darker than what lamps light', () => {
    const wall: Colour = [0.36, 0.03, 0.06]
    const dark: Colour = [0.16, 0.01, 0.02]
    const night = pictureOf(
      (x, y) => (y < 120 ? [0.22, -0.002, -0.04] : (x + y) % 9 < 4 ? wall : dark),
      0.012,
    )
    expect(overlap(find('sky', night).share, (_, y) => y < 120)).toBeGreaterThan(0.9)
  })

  it('is not found where there is none', () => {
    const wall = (x: number, y: number): Colour => [
      0.5 + 0.1 * Math.sin(x * 0.9) * Math.sin(y * 1.1),
      0.03,
      0.04,
    ]
    for (const picture of [
      pictureOf(wall),
      pictureOf(land),
      // a pale wall that reaches all the way down
      pictureOf((x, y) => (x < 300 ? [0.8, 0, 0.01] : wall(x, y))),
      pictureOf(() => [0.7, 0, 0]),
    ]) {
      const { share, confidence } = find('sky', picture)
      expect(confidence).toBe(0)
      expect(share.every((v) => v === 0)).toBe(true)
    }
  })
})

describe('water', () => {
  const shore = 170
  const hills = (x: number, up: number): Colour => {
    const top = 60 + 34 * Math.sin(x / 37) + 18 * Math.sin(x / 11 + 2)
    return up < top ? [0.35 + 0.06 * Math.sin(x / 7), -0.03, 0.03] : SKY
  }
  it('is found by what it mirrors', () => {
    const lake = pictureOf((x, y) => {
      if (y < shore) return hills(x, shore - y)
      const [L, a, b] = hills(x + 2 * Math.sin(y), (y - shore) * 1.05)
      return [0.85 * L, a, b]
    })
    const { share, confidence } = find('water', lake)
    expect(confidence).toBeGreaterThan(0.6)
    expect(overlap(share, (_, y) => y >= shore)).toBeGreaterThan(0.85)
  })

  it('is not found on grass below the same hills', () => {
    const meadow = pictureOf((x, y) => (y < shore ? hills(x, shore - y) : land(x, y)))
    expect(find('water', meadow).confidence).toBe(0)
  })
})

describe('a subject', () => {
  const isBall = (x: number, y: number) => Math.hypot(x - 260, y - 170) < 46
  it('is what differs from all around it', () => {
    const { share, confidence } = find(
      'subject',
      pictureOf((x, y) => (isBall(x, y) ? [0.55, 0.14, 0.05] : land(x, y))),
    )
    expect(confidence).toBeGreaterThan(0.5)
    expect(overlap(share, isBall)).toBeGreaterThan(0.92)
  })

  describe('corrected by strokes', () => {
    const near = (x: number, y: number, u: number, v: number) => Math.hypot(x - u, y - v) < 44
    const isRed = (x: number, y: number) => near(x, y, 150, 170)
    const isBlue = (x: number, y: number) => near(x, y, 330, 170)
    const two = pictureOf((x, y) =>
      isRed(x, y) ? [0.55, 0.14, 0.05] : isBlue(x, y) ? [0.45, 0, -0.14] : land(x, y),
    )
    const stroke = (belongs: boolean, ...at: [number, number][]) => ({
      belongs,
      at: at.map(([x, y]): [number, number] => [x / width, y / width]),
    })
    const over = (x: number, belongs: boolean) => stroke(belongs, [x - 15, 165], [x + 15, 175])

    it('is what belongs, without what does not', () => {
      const red = find('subject', two, [over(150, true), over(330, false)])
      expect(overlap(red.share, isRed)).toBeGreaterThan(0.92)
      expect(red.confidence).toBe(1)
      const blue = find('subject', two, [over(150, false), over(330, true)])
      expect(overlap(blue.share, isBlue)).toBeGreaterThan(0.92)
    })

    it('is all of what is added, and keeps what was found', () => {
      const both = find('subject', two, [over(150, true), over(330, true)])
      expect(overlap(both.share, (x, y) => isRed(x, y) || isBlue(x, y))).toBeGreaterThan(0.92)
      const lone = pictureOf((x, y) => (isRed(x, y) ? [0.55, 0.14, 0.05] : land(x, y)))
      const added = find('subject', lone, [stroke(false, [440, 20], [440, 60])])
      expect(overlap(added.share, isRed)).toBeGreaterThan(0.92)
    })

    it('is one of two that are alike, and others that are alike where nothing is said of them', () => {
      const isSecond = (x: number, y: number) => near(x, y, 330, 170)
      const red: Colour = [0.55, 0.14, 0.05]
      const twins = pictureOf((x, y) => (isRed(x, y) || isSecond(x, y) ? red : land(x, y)))
      const one = find('subject', twins, [over(150, true), over(330, false)])
      expect(overlap(one.share, isRed)).toBeGreaterThan(0.92)

      const isFar = (x: number, y: number) => near(x, y, 175, 265)
      const three = pictureOf((x, y) =>
        isRed(x, y) || isFar(x, y) ? red : isBlue(x, y) ? [0.45, 0, -0.14] : land(x, y),
      )
      const like = find('subject', three, [over(150, true), over(330, false)])
      expect(overlap(like.share, (x, y) => isRed(x, y) || isFar(x, y))).toBeGreaterThan(0.92)
    })

    it('is nothing where all of it is refused, and something where nothing was found', () => {
      const lone = pictureOf((x, y) => (isRed(x, y) ? [0.55, 0.14, 0.05] : land(x, y)))
      expect(find('subject', lone, [over(150, false)]).confidence).toBe(0)
      expect(find('sky', lone).confidence).toBe(0)
      expect(overlap(find('sky', lone, [over(150, true)]).share, isRed)).toBeGreaterThan(0.92)
    })
  })

  it('is not what differs no more than the rest does', () => {
    const chequered = pictureOf((x, y) =>
      (Math.floor(x / 40) + Math.floor(y / 40)) % 2 ? [0.55, 0.14, 0.05] : [0.45, 0, -0.14],
    )
    expect(find('subject', chequered).confidence).toBeLessThan(0.3)
  })
})

describe('near and far', () => {
  it('orders things by where they meet the ground, and by haze', () => {
    // posts that stand lower in the picture the nearer they are, the far ones pale
    const posts = [
      { x: 80, foot: 300, pale: 0 },
      { x: 200, foot: 250, pale: 0.3 },
      { x: 320, foot: 210, pale: 0.6 },
    ]
    const post = (x: number, y: number) =>
      posts.find((p) => Math.abs(x - p.x) < 14 && y < p.foot && y > p.foot - 90)
    const { far, confidence } = distances(
      pictureOf((x, y) => {
        const p = post(x, y)
        if (p) return [BAR[0] + p.pale * (SKY[0] - BAR[0]), p.pale * SKY[1], p.pale * SKY[2]]
        return y < HORIZON ? SKY : land(x, y)
      }),
    )
    const at = posts.map(({ x, foot }) => far[(foot - 45) * width + x])
    expect(at[0]).toBeLessThan(at[1] - 0.05)
    expect(at[1]).toBeLessThan(at[2] - 0.05)
    expect(far[20 * width + 200]).toBeGreaterThan(0.95)
    expect(confidence).toBeGreaterThan(0.3)
  })
})

describe('near and far without haze', () => {
  it('still goes by where things meet the ground', () => {
    const feet = [300, 250, 210]
    const { far } = distances(
      pictureOf((x, y) => {
        const k = feet.findIndex((foot, i) => Math.abs(x - 80 - 120 * i) < 14 && y < foot && y > foot - 90)
        return k >= 0 ? BAR : y < HORIZON ? SKY : land(x, y)
      }),
    )
    const at = feet.map((foot, i) => far[(foot - 45) * width + 80 + 120 * i])
    expect(at[0]).toBeLessThan(at[1] - 0.05)
    expect(at[1]).toBeLessThan(at[2] - 0.05)
  })
})

describe('what is alike', () => {
  const red: Colour = [0.5, 0.12, 0.05]
  const isLeft = (x: number) => x < 200
  const picture = pictureOf((x) => (isLeft(x) ? red : x < 340 ? [0.5, 0.09, 0.06] : GRASS))
  const place = (x: number, y: number) => ({ x: x / width, y: y / width })
  const alike = (...samples: object[]) => alikeShare(picture, AlikeSchema.parse({ samples }), width)

  it('is what resembles a sample, within its reach', () => {
    const share = alike({ ...place(100, 100), reach: 0.15 })
    for (let i = 0; i < share.length; i++) {
      const [x, y] = [i % width, Math.floor(i / width)]
      const off = Math.hypot(x - 100, y - 100) / width
      if (off > 0.152) expect(share[i]).toBe(0)
      if (off < 0.1) expect(share[i]).toBeGreaterThan(0.95)
    }
  })

  it('is not what resembles another sample more', () => {
    const all = alike({ ...place(100, 100), reach: 4 })
    const less = alike({ ...place(100, 100), reach: 4 }, { ...place(270, 100), reach: 4, like: false })
    const at = (share: Float32Array, x: number) => share[150 * width + x]
    expect(at(all, 270)).toBeGreaterThan(0.5)
    expect(at(less, 270)).toBeLessThan(0.05)
    expect(at(less, 100)).toBeGreaterThan(0.95)
    expect(at(all, 420)).toBe(0)
  })

  it('ends at edges: thin bars are told from what lies between them, and a sample beside an edge is of its side', () => {
    const bars = pictureOf((x, y) => (onBar(x, y) ? BAR : y < HORIZON ? SKY : GRASS))
    // on a bar that is three pixels wide
    const like = (x: number, y: number) =>
      alikeShare(bars, AlikeSchema.parse({ samples: [{ ...place(x, y), reach: 4 }] }), width)
    // on a bar that is three pixels wide
    expect(onBar(309, 120)).toBe(true)
    expect(overlap(like(309.5, 120.5), onBar)).toBeGreaterThan(0.95)
    const isLine = (x: number, y: number) => x > 300 && x < 400 && y > 60 && y < HORIZON && x % 14 < 2
    const lines = pictureOf((x, y) => (isLine(x, y) ? BAR : y < HORIZON ? SKY : GRASS))
    const thin = alikeShare(
      lines,
      AlikeSchema.parse({ samples: [{ ...place(308.5, 120.5), reach: 4 }] }),
      width,
    )
    expect(overlap(thin, isLine)).toBeGreaterThan(0.95)
    // in a hole, two pixels from it
    const sky = like(312.5, 120.5)
    expect(sky[100 * width + 100]).toBeGreaterThan(0.95)
    expect(sky[120 * width + 309]).toBeLessThan(0.05)
  })

  it('is taken as far as a sample is strong, and nothing without one', () => {
    expect(alike().every((v) => v === 0)).toBe(true)
    expect(alike({ ...place(100, 100), reach: 4, strength: 0.4 })[100 * width + 100]).toBeCloseTo(0.4, 2)
  })
})

describe('regions', () => {
  const small: Seen = { ...lattice }
  const tree = regionsOf(small)

  it('are as many as are asked for, each in one piece, and nest', () => {
    for (const count of [2, 7, 40, 200]) {
      const of = cut(tree, count)
      expect(new Set(of).size).toBe(count)
    }
    const [coarse, fine] = [cut(tree, 8), cut(tree, 60)]
    const within = new Map<number, number>()
    fine.forEach((id, leaf) => {
      expect(within.get(id) ?? coarse[leaf]).toBe(coarse[leaf])
      within.set(id, coarse[leaf])
    })
    const seen = new Uint8Array(width * height)
    const of = cut(tree, 12)
    const pieces = new Map<number, number>()
    for (let s = 0; s < seen.length; s++) {
      if (seen[s]) continue
      const id = of[tree.leaf[s]]
      pieces.set(id, (pieces.get(id) ?? 0) + 1)
      const list = [s]
      seen[s] = 1
      for (const i of list)
        for (const j of [i - 1, i + 1, i - width, i + width]) {
          if (j < 0 || j >= seen.length || seen[j] || of[tree.leaf[j]] !== id) continue
          if (Math.abs((j % width) - (i % width)) > 1) continue
          seen[j] = 1
          list.push(j)
        }
    }
    for (const count of pieces.values()) expect(count).toBe(1)
  })

  it('divide the picture along its edges', () => {
    const two = pictureOf((x, y) => (Math.hypot(x - 200, y - 150) < 70 ? SKY : GRASS))
    const parts = regionsOf(two)
    const of = cut(parts, 2)
    const inner = of[parts.leaf[150 * width + 200]]
    const share = Float32Array.from(parts.leaf, (leaf) => (of[leaf] === inner ? 1 : 0))
    expect(overlap(share, (x, y) => Math.hypot(x - 200, y - 150) < 70)).toBeGreaterThan(0.95)
  })

  it('tell colours of one lightness apart', () => {
    const colours: Colour[] = [
      [0.5, 0.12, 0],
      [0.5, -0.12, 0],
      [0.5, 0, 0.12],
    ]
    const parts = regionsOf(pictureOf((x) => colours[Math.floor(x / 160)]))
    const of = cut(parts, 3)
    const at = (x: number) => of[parts.leaf[150 * width + x]]
    expect(new Set([at(80), at(240), at(400)]).size).toBe(3)
    for (const x of [20, 140]) expect(at(x)).toBe(at(80))
  })

  it('have borders that go around them and their holes', () => {
    const ring = (i: number) => {
      const [x, y] = [i % 8, Math.floor(i / 8)]
      return x >= 1 && x <= 5 && y >= 1 && y <= 5 && !(x === 3 && y === 3)
    }
    const ways = outlinesOf({ width: 8, height: 8 }, ring)
    const area = (way: readonly (readonly [number, number])[]) =>
      way.reduce((s, [x, y], i) => {
        const [u, v] = way[(i + 1) % way.length]
        return s + (x * v - u * y) / 2
      }, 0)
    expect(ways.map((way) => way.length).sort()).toEqual([4, 4])
    expect(ways.map(area).sort((a, b) => a - b)).toEqual([-1, 25])
  })
})
