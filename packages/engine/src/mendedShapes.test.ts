import { aroundMiddle, bulkName, encodePath, PatchSchema, type Patch } from '@dunkelkammer/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testEngine } from '../test/engines'
import { lawn, light, LONG, mending, psnr, sceneFile, SIZE, sky, withPicture } from '../test/mending'
import type { Engine, Picture } from './node'

const bulk = new Map<string, Uint8Array>()
let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
  engine.bulkSource = (name) => {
    const bytes = bulk.get(name)
    return bytes ? Promise.resolve(bytes) : Promise.reject(new Error('nobody has it.'))
  }
})
afterAll(() => engine.stop())

const opened = <T>(file: Uint8Array, how: (p: Picture) => Promise<T>) => withPicture(engine, file, how)

type Point = readonly [number, number]

/** A patch along places in pixels of a picture. */
function shaped(shape: Patch['shape'], places: readonly Point[], more: object = {}, long = LONG): Patch {
  const { path, ...middle } = aroundMiddle(places.map(([x, y]) => ({ x: x / long, y: y / long })))
  const bytes = encodePath(path)
  const name = bulkName(bytes)
  bulk.set(name, bytes)
  return PatchSchema.parse({ id: `${places[0]}`, shape, ...middle, path: name, source: [0.1, 0], ...more })
}

/** The same with a source that the engine finds. */
async function sourced(picture: Picture, patch: Patch): Promise<Patch> {
  const [best] = await picture.ask('sources', mending([]), patch)
  return { ...patch, source: [...best.source] as [number, number] }
}

/** Distance of a place from a way. */
const farFrom = (places: readonly Point[], x: number, y: number) =>
  Math.min(
    ...places.slice(1).map(([bx, by], i) => {
      const [ax, ay] = places[i]
      const [dx, dy] = [bx - ax, by - ay]
      const t = Math.min(Math.max(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy), 0), 1)
      return Math.hypot(x - ax - t * dx, y - ay - t * dy)
    }),
  )

const WAY: readonly Point[] = Array.from(
  { length: 50 },
  (_, i) => [60 + 7 * i, 150 + 60 * Math.sin(i / 7)] as const,
)
const CORNERS: readonly Point[] = [
  [200, 120],
  [270, 110],
  [290, 170],
  [230, 200],
  [190, 170],
]
/** By the middles of pixels: the sign of the side of each edge, as for any convex outline. */
const inCorners = (x: number, y: number, room = 0) =>
  CORNERS.every(([ax, ay], i) => {
    const [bx, by] = CORNERS[(i + 1) % CORNERS.length]
    return ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / Math.hypot(bx - ax, by - ay) >= -room
  })

describe('healing', () => {
  it.each([
    ['a stroke over a lawn', lawn(), 4],
    ['a stroke over a sky', sky, 15],
  ] as const)('brings back what lay under %s', async (_, scene, gain) => {
    const on = (room: number) => (x: number, y: number) => farFrom(WAY, x, y) < 5 + room
    const truth = await opened(sceneFile(scene), (p) => light(p))
    await opened(sceneFile(scene, { dark: on(0) }), async (picture) => {
      const patch = await sourced(picture, shaped('stroke', WAY, { radius: 9 / LONG }))
      const before = psnr(await light(picture), truth, on(1))
      const after = psnr(await light(picture, [patch]), truth, on(1))
      expect(after).toBeGreaterThan(before + gain)
    })
  })

  it.each([
    ['a lawn', lawn(), 4],
    ['a sky', sky, 15],
  ] as const)('brings back what lay in an outline on %s', async (_, scene, gain) => {
    const truth = await opened(sceneFile(scene), (p) => light(p))
    await opened(sceneFile(scene, { dark: (x, y) => inCorners(x, y, -9) }), async (picture) => {
      const patch = await sourced(picture, shaped('outline', CORNERS, { softness: 0.1 }))
      const before = psnr(await light(picture), truth, inCorners)
      const after = psnr(await light(picture, [patch]), truth, inCorners)
      expect(after).toBeGreaterThan(before + gain)
    })
  })

  it('leaves no seam where a long stroke is carried out in pieces', async () => {
    const size = { width: 1320, height: 240 }
    // steeper than a sky is, and with another light where it takes from
    const slope = (x: number, y: number) => 0.15 + 0.3 * (x / size.width) + 0.1 * (y / size.height)
    const way: readonly Point[] = [
      [40, 60],
      [1280, 100],
    ]
    await opened(sceneFile(slope, { size }), async (picture) => {
      const truth = await light(picture)
      const patch = shaped('stroke', way, { radius: 10 / 1320, source: [0, 70 / 1320] }, 1320)
      const mended = await light(picture, [patch])
      expect(Buffer.compare(new Uint8Array(mended.buffer), new Uint8Array(truth.buffer))).not.toBe(0)
      // green along the middle of the stroke, in means of columns: noise is less than a seam would be
      const along = (of: Uint16Array, x: number) => {
        const y = Math.round(60 + ((x - 40) / 1240) * 40)
        let sum = 0
        for (let j = -6; j <= 6; j++) sum += of[((y + j) * size.width + x) * 3 + 1]
        return sum / 13
      }
      // the source is a tenth brighter; pieces meet at 478 and at 926
      for (let x = 70; x < 1230; x += 24) {
        const off = Array.from({ length: 24 }, (_, i) => along(mended, x + i) / along(truth, x + i) - 1)
        expect(Math.abs(off.reduce((sum, v) => sum + v) / off.length), `at ${x}`).toBeLessThan(0.009)
      }
    })
  })
})

describe('what is covered', () => {
  /** Where cloning something else changes a picture. */
  const changed = async (patch: Patch) =>
    opened(sceneFile(sky), async (picture) => {
      const before = await light(picture)
      const after = await light(picture, [{ ...patch, kind: 'clone', softness: 0, source: [0, 60 / LONG] }])
      return (x: number, y: number) => {
        const i = (Math.floor(y) * SIZE.width + Math.floor(x)) * 3
        return [0, 1, 2].some((c) => before[i + c] !== after[i + c])
      }
    })
  const middles = function* () {
    for (let y = 0; y < 250; y++) for (let x = 0; x < SIZE.width; x++) yield [x + 0.5, y + 0.5] as const
  }

  it('by a stroke is what lies within its width of the way', async () => {
    const has = await changed(shaped('stroke', WAY, { radius: 9 / LONG }))
    for (const [x, y] of middles()) {
      const d = farFrom(WAY, x, y)
      if (d < 7.5) expect(has(x, y), `${x} ${y}`).toBe(true)
      if (d > 10.5) expect(has(x, y), `${x} ${y}`).toBe(false)
    }
  })

  it('by an outline is what it goes around, also where it crosses itself', async () => {
    const has = await changed(shaped('outline', CORNERS))
    for (const [x, y] of middles()) {
      if (inCorners(x, y, -1.5)) expect(has(x, y), `${x} ${y}`).toBe(true)
      if (!inCorners(x, y, 1.5)) expect(has(x, y), `${x} ${y}`).toBe(false)
    }
    // a star drawn in one go: its middle is gone around twice
    const star = [0, 2, 4, 1, 3].map((i): Point => {
      const a = (i / 5) * 2 * Math.PI
      return [200 + 60 * Math.sin(a), 130 - 60 * Math.cos(a)]
    })
    const of = await changed(shaped('outline', star))
    for (const [x, y] of [
      [200.5, 130.5],
      [200.5, 85.5],
      [162.5, 118.5],
    ])
      expect(of(x, y), `${x} ${y}`).toBe(true)
    expect(of(160.5, 85.5)).toBe(false)
  })

  it('by a stroke of one place is a spot', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const stroke = shaped('stroke', [[200, 100]], { radius: 12 / LONG })
      const spot = PatchSchema.parse({ ...stroke, shape: 'spot', path: undefined })
      const [a, b] = [await light(picture, [stroke]), await light(picture, [spot])]
      let most = 0
      for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]))
      // where light is expected along a way is found otherwise than around a spot
      expect(most).toBeLessThan(600)
    })
  })

  it('is nothing by an outline of two corners, or one that is too large', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const before = await light(picture)
      const large: readonly Point[] = [
        [20, 20],
        [400, 30],
        [200, 300],
      ]
      for (const corners of [large, large.slice(0, 2)]) {
        const after = await light(picture, [shaped('outline', corners)])
        expect(Buffer.compare(new Uint8Array(before.buffer), new Uint8Array(after.buffer))).toBe(0)
      }
    })
  })
})

describe('a path', () => {
  it('that cannot be had, or is damaged, is said in a sentence', async () => {
    await opened(sceneFile(sky), async (picture) => {
      const patch = shaped('stroke', WAY)
      const missing = { ...patch, path: `sha256-${'0'.repeat(64)}` }
      await expect(light(picture, [missing])).rejects.toThrow(
        'What was painted for a patch cannot be had: nobody has it.',
      )
      const rubbish = Uint8Array.from([1, 255, 255])
      bulk.set(bulkName(rubbish), rubbish)
      await expect(light(picture, [{ ...patch, path: bulkName(rubbish) }])).rejects.toThrow(/is damaged/)
      // and is asked for again
      await expect(light(picture, [patch])).resolves.toBeDefined()
    })
  })
})

describe('sources of a stroke', () => {
  it('are not where it lies itself, nor under another', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const line: readonly Point[] = [
        [120, 160],
        [360, 160],
      ]
      const patch = shaped('stroke', line, { radius: 10 / LONG })
      const above = shaped(
        'stroke',
        line.map(([x, y]): Point => [x, y - 45]),
        { radius: 24 / LONG },
      )
      const found = await picture.ask('sources', mending([above, patch]), patch)
      expect(found.length).toBeGreaterThan(1)
      for (const { source } of found) {
        const [dx, dy] = source.map((v) => v * LONG)
        expect(Math.abs(dy) > 20 || Math.abs(dx) > 260, `${dx} ${dy}`).toBe(true)
        // the other one lies from 21 to 69 above
        expect(dy < -78 || dy > -12, `${dx} ${dy}`).toBe(true)
      }
    })
  })
})
