import { writeDng } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { contents } from '../../core/test/files'
import { settings, testEngine, whole, withoutAlpha } from '../test/engines'
import type { Engine } from './index'

let engine: Engine
beforeAll(() => void (engine = testEngine({ workers: 2 })))
afterAll(() => engine.stop())

const [WIDTH, HEIGHT] = [400, 272]
/** A scene that no turn or mirror maps onto itself: light falls to the right and down, a bright corner marks the start. */
const light = (x: number, y: number) =>
  x < 60 && y < 40 ? 0.9 : 0.06 + 0.5 * (1 - x / WIDTH) ** 2 + 0.2 * (1 - y / HEIGHT)
const file = (orientation: number) =>
  writeDng(
    contents({
      ...{ width: WIDTH, height: HEIGHT, orientation, black: 0, white: 15800, asShotNeutral: [1, 1, 1] },
      mosaic: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
        Math.round(15800 * light(i % WIDTH, Math.floor(i / WIDTH))),
      ),
    }),
  )

/** Where a place of the upright picture lies on the sensor (Exif 2.3, 4.6.4). */
const PLACE: Record<number, (x: number, y: number) => [number, number]> = {
  1: (x, y) => [x, y],
  2: (x, y) => [WIDTH - 1 - x, y],
  3: (x, y) => [WIDTH - 1 - x, HEIGHT - 1 - y],
  4: (x, y) => [x, HEIGHT - 1 - y],
  5: (x, y) => [y, x],
  6: (x, y) => [y, HEIGHT - 1 - x],
  7: (x, y) => [WIDTH - 1 - y, HEIGHT - 1 - x],
  8: (x, y) => [WIDTH - 1 - y, x],
}

describe.each([1, 2, 3, 4, 5, 6, 7, 8])('a frame of orientation %i', (orientation) => {
  it('shows the scene upright, in parts at 100 % as in its delivery', async () => {
    const picture = await engine.open(file(orientation))
    const turned = orientation > 4
    const { width, height } = picture
    expect([width, height]).toEqual(turned ? [HEIGHT, WIDTH] : [WIDTH, HEIGHT])
    const development = settings({})
    // parts before the whole, so that each is developed on its own
    const regions = [
      { x: 0, y: 0, width: 90, height: 70 },
      { x: width - 101, y: 3, width: 101, height: 80 },
      { x: 130, y: height - 77, width: 70, height: 77 },
      { x: 97, y: 101, width: 131, height: 99 },
    ]
    const views: Uint8Array[] = []
    for (const region of regions) {
      const { rgba, exact } = await picture.view({ development, width, height, region })
      expect(exact).toBe(true)
      views.push(withoutAlpha(rgba))
    }
    const file8 = await picture.deliver({ development, space: 'srgb', bits: 8, ...whole(picture) })
    regions.forEach((region, k) => {
      for (let y = 0; y < region.height; y++) {
        const from = ((region.y + y) * width + region.x) * 3
        const line = views[k].subarray(y * region.width * 3, (y + 1) * region.width * 3)
        expect(Buffer.compare(file8.subarray(from, from + region.width * 3), line)).toBe(0)
      }
    })
    // against the scene: the same order of brightness at places far apart
    const at = (x: number, y: number) => file8[(y * width + x) * 3 + 1]
    const places: [number, number][] = []
    for (let y = 12; y < height; y += 31) for (let x = 12; x < width; x += 37) places.push([x, y])
    const pairs = places.flatMap((p) => places.map((q) => [p, q] as const))
    const wrong = pairs.filter(([p, q]) => {
      const [lp, lq] = [light(...PLACE[orientation](...p)), light(...PLACE[orientation](...q))]
      return lp > lq * 1.15 && at(...p) <= at(...q)
    })
    expect(wrong).toEqual([])
    engine.close(picture)
  })
})
