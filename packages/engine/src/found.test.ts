import type { ShapeSchema } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { z } from 'zod'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settings, testEngine } from '../test/engines'
import { H, truthOf, W } from '../test/truthMask'
import { projectRoot } from './paths'
import type { Engine, Picture } from './node'

/** What the picture finds by itself, in demo frames, against what the renderer knows. */

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

async function opened<T>(name: string, how: (picture: Picture) => Promise<T>): Promise<T> {
  const bytes = readFileSync(join(projectRoot(), 'packages/demo/frames', `${name}.dng`))
  const picture = await engine.open(new Uint8Array(bytes))
  try {
    return await how(picture)
  } finally {
    engine.close(picture)
  }
}

function overlap(grey: Uint8Array, truth: Float32Array): number {
  let [both, any] = [0, 0]
  for (let i = 0; i < truth.length; i++) {
    const [is, should] = [grey[i] > 127, truth[i] > 0.5]
    if (is && should) both++
    if (is || should) any++
  }
  return both / any
}

const plain = settings({})
const withShapes = (shapes: readonly z.input<typeof ShapeSchema>[], steps: object = {}) =>
  settings({ steps: { areas: { areas: [{ id: 'a', mask: { shapes }, steps }] } } })
const maskOf = (picture: Picture, ...shapes: z.input<typeof ShapeSchema>[]) =>
  picture.ask('mask', withShapes(shapes), 0, W)
const sky = { id: 's', kind: 'found', what: 'sky' } as const

describe('what is found in a picture', () => {
  it('is its sky, between the bars of the sails too, in the mask and in a file', async () => {
    await opened('HM0527', async (picture) => {
      const shares: number[] = []
      const wish = { kind: 'found', what: 'sky' } as const
      expect(await picture.ask('found', plain, wish, (s) => shares.push(s))).toBeGreaterThan(0.9)
      // how far it is is told on the way
      expect(shares.length).toBeGreaterThan(2)
      expect(shares).toEqual([...shares].sort((a, b) => a - b))
      const { grey, width, height } = await maskOf(picture, sky)
      expect([width, height]).toEqual([W, H])
      const truth = truthOf('HM0527', 'sky')
      expect(overlap(grey, truth)).toBeGreaterThan(0.9)

      const size = { space: 'srgb', width: W, height: H, bits: 8 } as const
      const before = await picture.deliver({ development: plain, ...size })
      const after = await picture.deliver({
        development: withShapes([sky], { exposure: { ev: -2 } }),
        ...size,
      })
      let [inside, outside, n, m] = [0, 0, 0, 0]
      const tower = truthOf('HM0527', 'tower', 'meadow')
      for (let i = 0; i < truth.length; i++) {
        const change = before[3 * i + 1] - after[3 * i + 1]
        if (truth[i] > 0.999 && i % W > W / 2) [inside, n] = [inside + change, n + 1]
        if (tower[i] > 0.999) [outside, m] = [outside + Math.abs(change), m + 1]
      }
      expect(inside / n).toBeGreaterThan(50)
      expect(outside / m).toBeLessThan(1)
    })
  })

  it('stands upright where the picture does', async () => {
    await opened('HM0488', async (picture) => {
      const { grey, width, height } = await maskOf(picture, sky)
      expect(width).toBeLessThan(height)
      const mean = (y: number) => grey.subarray(y * width, (y + 1) * width).reduce((s, v) => s + v, 0) / width
      expect(mean(10)).toBeGreaterThan(250)
      expect(mean(height - 10)).toBe(0)
    })
  })

  it('is nothing where there is none, and holds nothing then', async () => {
    await opened('HM0431', async (picture) => {
      expect(await picture.ask('found', plain, { kind: 'found', what: 'sky' })).toBe(0)
      expect((await maskOf(picture, sky)).grey.every((v) => v === 0)).toBe(true)
    })
  })

  it('is what resembles samples more than others, alone or within another shape', async () => {
    await opened('HM0527', async (picture) => {
      const at = (x: number, y: number, like = true) => ({ x: x / W, y: y / W, like, reach: 1 })
      // bricks left and right, and not the trees
      const like = { samples: [at(225, 260), at(252, 300), at(120, 250, false)] }
      const truth = truthOf('HM0527', 'tower')
      const alone = await maskOf(picture, { id: 'a', kind: 'alike', like })
      const oval = {
        id: 'o',
        kind: 'oval',
        x: 230 / W,
        y: 255 / W,
        across: 0.15,
        down: 0.2,
        softness: 0,
      } as const
      const whole = await maskOf(picture, oval)
      const limited = await maskOf(picture, { ...oval, alike: like })
      const box = (grey: Uint8Array) => overlap(grey, truth)
      expect(box(alone.grey)).toBeGreaterThan(0.6)
      expect(box(limited.grey)).toBeGreaterThan(box(whole.grey) + 0.1)
      for (let i = 0; i < W * H; i++) expect(limited.grey[i]).toBeLessThanOrEqual(whole.grey[i] + 1)
    })
  })

  it('divides into regions, whose border is known before they are taken', async () => {
    await opened('HM0521', async (picture) => {
      const [u, v] = [420 / W, 275 / W]
      const ways = await picture.ask('regionAt', plain, u, v, 40)
      const [us, vs] = [0, 1].map((k) => ways.flat().map((p) => p[k]))
      expect(Math.min(...us)).toBeLessThan(u)
      expect(Math.max(...us)).toBeGreaterThan(u)
      expect([Math.min(...vs) < v, Math.max(...vs) > v]).toEqual([true, true])
      const { grey } = await maskOf(picture, { id: 'r', kind: 'regions', at: [[u, v]], count: 40 })
      const truth = truthOf('HM0521', 'red boat')
      const taken = Float32Array.from(grey, (g) => g / 255)
      const inside = taken.reduce((s, g, i) => s + g * truth[i], 0)
      expect(inside / taken.reduce((s, g) => s + g, 0)).toBeGreaterThan(0.85)
      // coarser regions hold finer ones
      const fine = await picture.ask('regionAt', plain, u, v, 400)
      const area = (all: typeof ways) =>
        all
          .flat()
          .reduce(
            (box, [x, y]) => [
              Math.min(box[0], x),
              Math.min(box[1], y),
              Math.max(box[2], x),
              Math.max(box[3], y),
            ],
            [9, 9, -9, -9],
          )
      const [b, c] = [area(fine), area(ways)]
      expect([b[0] >= c[0], b[1] >= c[1], b[2] <= c[2], b[3] <= c[3]]).toEqual([true, true, true, true])
    })
  })

  it('is the subject that strokes say it is', async () => {
    await opened('HM0521', async (picture) => {
      const stroke = (belongs: boolean, ...at: [number, number][]) => ({
        belongs,
        at: at.map(([u, v]): [number, number] => [u, (v * H) / W]),
      })
      const corrections = [
        stroke(true, [0.45, 0.86], [0.7, 0.88]),
        stroke(false, [0.6, 0.7], [0.85, 0.7], [0.9, 0.88], [0.92, 0.78]),
      ]
      const subject = { id: 's', kind: 'found', what: 'subject' } as const
      const [boat, wood] = [truthOf('HM0521', 'blue boat'), truthOf('HM0521', 'wood')]
      const rest = truthOf('HM0521', 'red boat', 'wall', 'roof', 'room', 'sky')
      const partOf = ({ grey }: { grey: Uint8Array }, truth: Float32Array) => {
        const taken = truth.reduce((sum, v, i) => sum + v * grey[i], 0) / 255
        return taken / truth.reduce((sum, v) => sum + v, 0)
      }
      const before = await maskOf(picture, subject)
      expect(partOf(before, wood)).toBeGreaterThan(0.5)
      const after = await maskOf(picture, { ...subject, corrections })
      expect(partOf(after, boat)).toBeGreaterThan(0.9)
      expect(partOf(after, wood)).toBeLessThan(0.01)
      expect(partOf(after, rest)).toBeLessThan(0.02)
    })
  })

  it('is nearer at the foot of the picture than at its horizon', async () => {
    await opened('HM0417', async (picture) => {
      const near = await maskOf(picture, { id: 'n', kind: 'distance', from: 0, to: 0.3 })
      const far = await maskOf(picture, { id: 'f', kind: 'distance', from: 0.7, to: 1 })
      const at = ({ grey, width, height }: typeof near, x: number, y: number) =>
        grey[Math.round(y * height) * width + Math.round(x * width)]
      expect([at(near, 0.3, 0.95), at(far, 0.3, 0.95)]).toEqual([255, 0])
      expect([at(near, 0.5, 0.1), at(far, 0.5, 0.1)]).toEqual([0, 255])
    })
  })
})
