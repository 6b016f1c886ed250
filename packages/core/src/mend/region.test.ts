import { describe, expect, it } from 'vitest'
import { random } from '../../test/bench'
import { decodePath, encodePath, simplified } from './pathData'
import type { Place } from './place'
import { boxAround, distancesIn, regionMadeSmall, regionOf, type Region } from './region'
import { piecesOf, rectsOf, type Spot } from './spot'
import { withPathsNamed } from './writtenPaths'

const RECT = { x: -5, y: 3, width: 60, height: 50 }

describe('a path as bulk data', () => {
  it('comes back to a hundred-thousandth of the long edge, in few bytes', () => {
    const next = random(3)
    let at = { x: 0.1, y: -0.2 }
    const places = Array.from(
      { length: 5000 },
      () => (at = { x: at.x + (next() - 0.5) / 500, y: at.y + (next() - 0.5) / 500 }),
    )
    const bytes = encodePath(places)
    expect(bytes.length).toBeLessThan(places.length * 5)
    const back = decodePath(bytes)
    expect(back).toHaveLength(places.length)
    back.forEach((p, i) => {
      expect(Math.abs(p.x - places[i].x)).toBeLessThan(1e-5)
      expect(Math.abs(p.y - places[i].y)).toBeLessThan(1e-5)
    })
    // exact from then on
    expect(encodePath(back)).toEqual(bytes)
  })

  it.each([
    ['nothing', []],
    ['another version', [3, 0, 0]],
    ['a place without the pressure that goes along', [2, 0, 0]],
    ['pressed more than can be', [2, 0, 0, 2]],
    ['no place', [1]],
    ['half a place', [1, 5]],
    ['a number cut off', [1, 5, 128]],
    ['a number without end', [1, ...Array<number>(12).fill(255), 0, 0]],
    ['a place far outside', [1, 254, 255, 255, 255, 15, 0]],
  ])('is refused where it is %s', (_, bytes) => {
    expect(() => decodePath(Uint8Array.from(bytes))).toThrow(RangeError)
  })

  it('comes back with the pressure of a pen', () => {
    const drawn = [0.2, 0.9, 1, 0].map((pressure, i) => ({ x: i / 10, y: -i / 20, pressure }))
    const bytes = encodePath(drawn)
    decodePath(bytes).forEach((place, i) => {
      expect(place.x).toBeCloseTo(drawn[i].x, 5)
      expect(place.pressure).toBeCloseTo(drawn[i].pressure, 2)
    })
    expect(encodePath(drawn.map((p) => ({ ...p, pressure: 1 })))[0]).toBe(1)
  })

  it('keeps places at which the pressure changes', () => {
    const pressures = Array.from({ length: 41 }, (_, i) => 1 - Math.abs(i - 20) / 20)
    const straight = pressures.map((pressure, i) => ({ x: i, y: 0, pressure }))
    expect(simplified(straight, 0.1).map(({ x }) => x)).toEqual([0, 20, 40])
  })

  it('keeps what bends, and leaves out what does not', () => {
    const straight = Array.from({ length: 50 }, (_, i) => ({ x: i, y: 2 * i }))
    expect(simplified(straight, 0.1)).toEqual([straight[0], straight[49]])
    const arc = Array.from({ length: 400 }, (_, i) => ({
      x: 100 * Math.cos(i / 100),
      y: 100 * Math.sin(i / 100),
    }))
    const few = simplified(arc, 0.2)
    expect(few.length).toBeLessThan(60)
    const region = (places: readonly Place[]): Region => ({ shape: 'stroke', x: 0, y: 0, radius: 5, places })
    const rect = { x: 40, y: 40, width: 50, height: 50 }
    const [all, some] = [arc, few].map((places) => distancesIn(region(places), rect, 20))
    all.forEach((d, i) => {
      if (d < 20) expect(Math.abs(some[i] - d)).toBeLessThan(0.21)
    })
  })
})

describe('distances from a border', () => {
  const each = (region: Region, most: number, check: (x: number, y: number, d: number) => void) =>
    distancesIn(region, RECT, most).forEach((d, i) =>
      check(RECT.x + (i % RECT.width), RECT.y + Math.floor(i / RECT.width), d),
    )
  const square: Place[] = [
    { x: 10, y: 10 },
    { x: 40, y: 10 },
    { x: 40, y: 40 },
    { x: 10, y: 40 },
  ]

  it('of a stroke are those from its way less its radius', () => {
    each({ shape: 'stroke', x: 0, y: 0, radius: 4, places: square.slice(0, 2) }, 12, (x, y, d) => {
      const way = Math.hypot(Math.max(10 - x, 0, x - 40), y - 10)
      if (way - 4 < 12) expect(d).toBeCloseTo(way - 4, 4)
      else expect(d).toBeGreaterThanOrEqual(12)
    })
  })

  it('of an outline are less than none within, whichever way around it was drawn', () => {
    for (const places of [square, [...square].reverse()])
      each({ shape: 'outline', x: 0, y: 0, radius: 15, places }, 9, (x, y, d) => {
        const [u, v] = [Math.max(10 - x, x - 40), Math.max(10 - y, y - 40)]
        const truth = Math.max(u, v) <= 0 ? Math.max(u, v) : Math.hypot(Math.max(u, 0), Math.max(v, 0))
        if (Math.abs(truth) < 9) expect(Math.abs(d)).toBeCloseTo(Math.abs(truth), 4)
        if (Math.abs(truth) > 0.001) expect(Math.sign(d)).toBe(Math.sign(truth))
      })
  })

  it('are the same in a picture made small, by as much', () => {
    const region: Region = { shape: 'outline', x: 25, y: 25, radius: 15, places: square }
    // a small pixel is the middle of four by four
    const small = distancesIn(regionMadeSmall(region, 4), { x: 0, y: 0, width: 14, height: 14 }, 3)
    small.forEach((d, i) => {
      const [x, y] = [(i % 14) * 4 + 1.5, Math.floor(i / 14) * 4 + 1.5]
      const truth = Math.max(10 - x, x - 40, 10 - y, y - 40)
      if (Math.abs(truth) < 8 && truth < 0) expect(d * 4).toBeCloseTo(truth, 3)
    })
  })
})

describe('a region', () => {
  const patch = { shape: 'stroke' as const, x: 0.5, y: 0.25, radius: 0.01 }

  it('lies by the long edge, with the middles of samples at whole numbers', () => {
    expect(regionOf({ ...patch, shape: 'spot' }, 1000)).toEqual({
      shape: 'spot',
      x: 499.5,
      y: 249.5,
      radius: 10,
    })
    const way = [
      { x: -0.1, y: 0 },
      { x: 0.1, y: 0.05 },
    ]
    expect(regionOf(patch, 1000, way)).toMatchObject({
      ...{ shape: 'stroke', radius: 10 },
      places: [
        { x: 399.5, y: 249.5 },
        { x: 599.5, y: 299.5 },
      ],
    })
    expect(boxAround(regionOf(patch, 1000, way), 0)).toEqual({ x: 389, y: 239, width: 222, height: 72 })
    // what was painted is missing: as much as is known
    expect(regionOf(patch, 1000).shape).toBe('spot')
  })

  it('that is long is carried out in pieces that cover it once, each seeing the light around it', () => {
    const long = 6000
    const way = [
      { x: -0.4, y: -0.2 },
      { x: 0.4, y: 0.2 },
    ]
    const region = regionOf({ ...patch, radius: 0.002 }, long, way)
    const spot: Spot = {
      kind: 'heal',
      region,
      source: [0, 100],
      softness: 0.3,
      opacity: 1,
      turn: 0,
      mirror: false,
    }
    const pieces = piecesOf(spot)
    expect(pieces.length).toBeGreaterThan(10)
    // a band across the picture is not all of its box
    expect(pieces.length).toBeLessThan(30)
    for (let t = 0; t <= 1; t += 0.001)
      for (const side of [-11, 0, 11]) {
        const x = Math.round(region.places![0].x + t * 4800 - side * 0.447)
        const y = Math.round(region.places![0].y + t * 2400 + side * 0.894)
        const holding = pieces.filter(
          ({ piece: p }) => x >= p!.x && x < p!.x + p!.width && y >= p!.y && y < p!.y + p!.height,
        )
        expect(holding, `${x} ${y}`).toHaveLength(1)
      }
    const { target, seen, taken } = rectsOf(pieces[3])
    expect(seen.x).toBeLessThan(target.x - 48)
    expect(seen.width).toBeGreaterThan(target.width + 96)
    expect(taken).toEqual([{ ...seen, y: seen.y + 100 }])
    expect(
      piecesOf({ ...spot, region: regionOf({ ...patch, shape: 'spot', radius: 0.1 }, long) }),
    ).toHaveLength(1)
  })
})

describe('paths written by hand', () => {
  const written = (path: unknown) => ({
    steps: {
      patches: {
        patches: [
          { id: 'a', path },
          { id: 'b', x: 1 },
        ],
      },
    },
  })
  type Named = { steps: { patches: { patches: { x: number; y: number; path: string }[] } } }

  it('are named, and their middle is found', () => {
    const kept = new Map<string, Uint8Array>()
    const named = withPathsNamed(
      written([
        [0.2, 0.3],
        [0.4, 0.5],
      ]),
      (name, bytes) => kept.set(name, bytes),
    ) as Named
    const [{ x, y, path }, other] = named.steps.patches.patches
    expect([x, y]).toEqual([0.3, 0.4])
    expect(other).toEqual({ id: 'b', x: 1 })
    const [from, to] = decodePath(kept.get(path)!)
    expect(from.x).toBeCloseTo(-0.1, 5)
    expect(to.y).toBeCloseTo(0.1, 5)
  })

  it('are named in the shapes of areas too', () => {
    const path = [
      [0.2, 0.3],
      [0.4, 0.5],
    ]
    const area = { id: 'a', mask: { shapes: [{ id: 's', kind: 'stroke', path }, { kind: 'ramp' }] } }
    const kept = new Map<string, Uint8Array>()
    const named = withPathsNamed({ steps: { areas: { areas: [{ id: 'b' }, area] } } }, (name, bytes) =>
      kept.set(name, bytes),
    )
    const name = [...kept.keys()][0]
    expect(named).toEqual({
      steps: {
        areas: {
          areas: [
            { id: 'b' },
            {
              id: 'a',
              mask: { shapes: [{ id: 's', kind: 'stroke', path: name, x: 0.3, y: 0.4 }, { kind: 'ramp' }] },
            },
          ],
        },
      },
    })
    const wrong = { steps: { areas: { areas: [{ mask: { shapes: [{ path: [[9, 0]] }] } }] } } }
    expect(() => withPathsNamed(wrong, () => undefined)).toThrow(/"shapes"/)
  })

  it('are refused where they are none, with the place', () => {
    const keep = () => undefined
    for (const path of [[], [[1]], [['a', 2]], [[9, 0]]])
      expect(() => withPathsNamed(written(path), keep)).toThrow(/"path"/)
    // what else is there is for the schema to say
    for (const other of [null, 4, {}, { steps: 3 }, { steps: { patches: { patches: 'x' } } }])
      expect(withPathsNamed(other, keep)).toBe(other)
  })
})
