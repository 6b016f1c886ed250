import { PatchSchema, type Development, type Patch } from '@dunkelkammer/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { random } from '../../core/test/bench'
import { demoBytes, settings, testEngine, whole, withoutAlpha } from '../test/engines'
import {
  lawn,
  light,
  LONG,
  mending,
  psnr,
  sceneFile,
  SIZE,
  sky,
  withPicture,
  type Scene,
} from '../test/mending'
import type { Engine, Picture } from './node'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

/** A spot whose source is found by the engine. */
async function spot(picture: Picture, x: number, y: number, radius: number, more: Partial<Patch> = {}) {
  const at = { x: x / LONG, y: y / LONG, radius: radius / LONG }
  const [best] = await picture.ask('sources', settings(), at)
  return PatchSchema.parse({ id: `${x} ${y}`, ...at, source: best.source, ...more })
}

const compare = (a: Uint16Array, b: Uint16Array) =>
  Buffer.compare(new Uint8Array(a.buffer), new Uint8Array(b.buffer))

const BLEMISHES = [
  [70, 60, 8],
  [180, 90, 12],
  [300, 50, 6],
  [410, 110, 15],
  [90, 190, 10],
  [220, 210, 18],
  [340, 180, 9],
  [430, 250, 12],
  [60, 280, 7],
  [250, 290, 9],
].map(([x, y, radius]) => ({ x, y, radius }))

const onBlemish = (x: number, y: number) => BLEMISHES.some((d) => Math.hypot(x - d.x, y - d.y) <= d.radius)
const dark = (x: number, y: number) => BLEMISHES.some((d) => Math.hypot(x - d.x, y - d.y) < d.radius - 2)

const shot = (scene: Scene, blemished: boolean) => sceneFile(scene, { dark: blemished ? dark : undefined })

const opened = <T>(file: Uint8Array, how: (p: Picture) => Promise<T>) => withPicture(engine, file, how)

describe('healing', () => {
  it.each([
    ['a lawn', lawn(), 4],
    ['a sky', sky, 15],
  ] as const)('brings %s back where something lay on it', async (_, scene, gain) => {
    const truth = await opened(shot(scene, false), (p) => light(p))
    await opened(shot(scene, true), async (picture) => {
      const patches: Patch[] = []
      for (const { x, y, radius } of BLEMISHES) patches.push(await spot(picture, x, y, radius))
      const before = psnr(await light(picture), truth, onBlemish)
      const after = psnr(await light(picture, patches), truth, onBlemish)
      expect(after).toBeGreaterThan(before + gain)
    })
  })
})

describe('the border of a healed spot', () => {
  it.each([-3, 0, 3])('shows no seam at %i EV', async (ev) => {
    const places = BLEMISHES.map((d) => ({ ...d, radius: d.radius + 4 }))
    for (const scene of [sky, lawn()])
      await opened(shot(scene, false), async (picture) => {
        const patches: Patch[] = []
        for (const { x, y, radius } of places) patches.push(await spot(picture, x, y, radius))
        const more = { exposure: { ev } }
        const [plain, mended] = [await light(picture, [], more), await light(picture, patches, more)]
        /** How much lighter it is just outside of a circle than just within, by the light around. */
        const step = (of: Uint16Array, { x, y, radius }: { x: number; y: number; radius: number }) => {
          const sums = [0, 0]
          const counts = [0, 0]
          for (let j = Math.floor(y - radius - 4); j <= y + radius + 4; j++)
            for (let i = Math.floor(x - radius - 4); i <= x + radius + 4; i++) {
              const d = Math.hypot(i + 0.5 - x, j + 0.5 - y) - radius
              if (Math.abs(d) > 4 || i < 0 || j < 0 || i >= SIZE.width || j >= SIZE.height) continue
              const side = d > 0 ? 1 : 0
              sums[side] += of[(j * SIZE.width + i) * 3 + 1]
              counts[side]++
            }
          const [within, outside] = sums.map((sum, k) => sum / counts[k])
          return (outside - within) / (outside + within)
        }
        const steps = places.map((p) => step(plain, p))
        // what such steps are where nothing was done, at these places and beside them
        const beside = places.flatMap((p) => [-9, 9].map((by) => step(plain, { ...p, x: p.x + by })))
        const usual = Math.sqrt(
          [...steps, ...beside].reduce((s, v) => s + v * v, 0) / (steps.length + beside.length),
        )
        places.forEach((p, i) => expect(Math.abs(step(mended, p)), `${i}`).toBeLessThan(3 * usual + 0.0015))
      })
  })
})

describe('cloning', () => {
  const scene = lawn()

  it('takes the source as it is, to the pixel, and leaves all else alone', async () => {
    await opened(shot(scene, false), async (picture) => {
      const before = await light(picture)
      const patch = { kind: 'clone', x: 200 / LONG, y: 100 / LONG, radius: 20 / LONG, softness: 0 } as const
      const after = await light(picture, [{ ...patch, id: 'a', source: [60 / LONG, -30 / LONG] }])
      const at = (of: Uint16Array, x: number, y: number) => [
        ...of.subarray((y * SIZE.width + x) * 3).subarray(0, 3),
      ]
      for (const [x, y] of [
        [200, 100],
        [190, 110],
        [212, 92],
      ])
        expect(at(after, x, y)).toEqual(at(before, x + 60, y - 30))
      for (let y = 0; y < SIZE.height; y++)
        for (let x = 0; x < SIZE.width; x++)
          if (Math.hypot(x + 0.5 - 200, y + 0.5 - 100) > 22) expect(at(after, x, y)).toEqual(at(before, x, y))
    })
  })

  it('turns and mirrors the source about its middle', async () => {
    await opened(shot(scene, false), async (picture) => {
      const before = await light(picture)
      const patch = { id: 'a', kind: 'clone', radius: 20 / LONG, softness: 0 } as const
      const centred = { x: 200.5 / LONG, y: 100.5 / LONG, source: [80 / LONG, 0] as [number, number] }
      const red = (of: Uint16Array, x: number, y: number) => of[(y * SIZE.width + x) * 3]
      const turned = await light(picture, [{ ...patch, ...centred, turn: 90 }])
      const mirrored = await light(picture, [{ ...patch, ...centred, mirror: true }])
      for (const [u, v] of [
        [7, 0],
        [3, 9],
        [-10, 4],
      ]) {
        // what lay above comes to the right
        expect(red(turned, 200 - v, 100 + u) / red(before, 280 + u, 100 + v)).toBeCloseTo(1, 2)
        expect(red(mirrored, 200 - u, 100 + v) / red(before, 280 + u, 100 + v)).toBeCloseTo(1, 2)
      }
    })
  })
})

describe('a picture with patches', () => {
  const near = (id: string, x: number, y: number, radius: number, more: Partial<Patch> = {}): Patch =>
    PatchSchema.parse({
      ...{ id, x: x / LONG, y: y / LONG, radius: radius / LONG, source: [3 * (radius / LONG), 0] },
      ...more,
    })

  it('is the same whichever way its patches came to be', async () => {
    const bytes = shot(lawn(), true)
    const next = random(11)
    await opened(bytes, async (picture) => {
      let patches: Patch[] = []
      for (let step = 0; step < 14; step++) {
        const what = next()
        const any = Math.floor(next() * patches.length)
        // many of them overlap, or take from each other
        const fresh = near(`${step}`, 150 + 130 * next(), 90 + 90 * next(), 6 + 18 * next(), {
          source: [0.12 * next() - 0.06, 0.12 * next() - 0.06],
          kind: next() < 0.3 ? 'clone' : 'heal',
        })
        if (what < 0.55 || patches.length < 3) patches = [...patches, fresh]
        else if (what < 0.7) patches = patches.filter((_, i) => i !== any)
        else if (what < 0.85)
          patches = patches.map((p, i) => (i === any ? { ...p, radius: p.radius * 1.3 } : p))
        else patches = [...patches.slice(any), ...patches.slice(0, any)]
        const development = mending(patches)
        const shown = withoutAlpha((await picture.view({ development, ...whole(picture) })).rgba)
        const part = { x: 100, y: 60, width: 150, height: 90 }
        const alone = await opened(bytes, async (other) => {
          // a part of it first, so that it comes to be in pieces
          await other.view({ development, width: other.width, height: other.height, region: part })
          return withoutAlpha((await other.view({ development, ...whole(other) })).rgba)
        })
        expect(Buffer.compare(shown, alone)).toBe(0)
        // made small too, of which lines alone are made anew
        const small = { width: 160, height: 107, region: { x: 0, y: 0, width: 160, height: 107 } }
        const little = withoutAlpha((await picture.view({ development, ...small })).rgba)
        const littleAlone = await opened(bytes, async (other) =>
          withoutAlpha((await other.view({ development, ...small })).rgba),
        )
        expect(Buffer.compare(little, littleAlone)).toBe(0)
      }
    })
  })

  /** Shows developments one after the other; each as a picture shows it that has never shown another. */
  async function inTurn(bytes: Uint8Array, developments: readonly Development[], by = 1): Promise<void> {
    const view = async (p: Picture, development: Development) => {
      const { finished } = await p.square(development)
      const size = { width: Math.round(finished.width * by), height: Math.round(finished.height * by) }
      return withoutAlpha((await p.view({ development, ...size, region: { x: 0, y: 0, ...size } })).rgba)
    }
    await opened(bytes, async (picture) => {
      let before: Uint8Array | undefined
      for (const [i, development] of developments.entries()) {
        const shown = await view(picture, development)
        const alone = await opened(bytes, (other) => view(other, development))
        expect(Buffer.compare(shown, alone), `view ${i}`).toBe(0)
        if (before) expect(Buffer.compare(shown, before), `view ${i} against the one before`).not.toBe(0)
        before = shown
      }
    })
  }

  it('makes again what took from a patch that is gone, far away', async () => {
    const r = near('r', 380, 260, 25, { kind: 'clone', source: [-0.2, -0.3] })
    const p = near('p', 80, 60, 20, { kind: 'clone', source: [300 / LONG, 200 / LONG] })
    await inTurn(shot(lawn(), true), [mending([r, p]), mending([p]), mending([r, p]), mending([p, r])])
  })

  it('does not carry out a patch twice that lies in a cell with another', async () => {
    // over the border of two cells, and in one of them
    const half = near('q', 64, 30, 10, { kind: 'clone', opacity: 0.5, source: [0.4, 0.2] })
    const small = near('s', 14, 56, 4, { source: [0.3, 0.3] })
    await inTurn(shot(lawn(), true), [mending([half]), mending([half, small]), mending([half])])
  })

  it('is the same where patches were added while another part of it was looked at', async () => {
    const bytes = shot(lawn(), true)
    const region = { x: 20, y: 20, width: 60, height: 50 }
    const a = near('a', 50, 45, 12, { source: [0.1, 0.05] })
    const far = near('b', 300, 200, 20, { kind: 'clone', source: [-0.1, 0] })
    // takes from both, and lies partly in what is looked at
    const over = near('c', 82, 60, 14, { kind: 'clone', source: [215 / LONG, 140 / LONG] })
    await opened(bytes, async (picture) => {
      const look = (patches: Patch[]) =>
        picture.view({ development: mending(patches), width: picture.width, height: picture.height, region })
      await look([a])
      await look([a, far])
      await look([a, far, over])
      const all = mending([a, far, over])
      const shown = (await picture.view({ development: all, ...whole(picture) })).rgba
      const alone = await opened(bytes, async (p) => (await p.view({ development: all, ...whole(p) })).rgba)
      expect(Buffer.compare(withoutAlpha(shown), withoutAlpha(alone))).toBe(0)
    })
  })

  it('is made of what was developed by its own settings', async () => {
    const patches = [near('a', 200, 100, 20), near('b', 100, 250, 15)]
    const plain = mending(patches)
    const other = mending(patches, { demosaic: { falseColour: 1 }, defects: { mend: false } })
    await inTurn(demoBytes().slice(), [plain, other, plain], 0.25)
  })

  it('is another wherever it is squared up, sharpened or toned', async () => {
    const more = { level: { angle: 3 }, sharpen: { amount: 1 }, exposure: { ev: 0.5 } }
    const one = [near('a', 200, 100, 20)]
    const two = [...one, near('b', 300, 200, 18, { kind: 'clone', source: [-0.3, -0.2] })]
    const toned = (patches: Patch[], grade: number) => mending(patches, { ...more, baseRendering: { grade } })
    await inTurn(shot(lawn(), true), [
      toned(one, 2),
      toned(one, 3),
      toned(one, 2.5),
      toned(two, 2.5),
      toned(two, 3.5),
      toned(one, 3.5),
    ])
  })

  it.each([0.2, 0.31, 0.45])('has the lines anew that a patch touches, made small to %f', async (by) => {
    const stripes: Scene = (x, y) => (x < 240 ? 0.04 : 0.7 + 0.001 * y)
    // hard edges at all heights within a line of the small picture
    const developments = [0, 1, 2, 3, 4, 5].map((k) =>
      mending([
        near('a', 120, 100.3 + 7.31 * k, 14 + 1.7 * k, { kind: 'clone', softness: 0, source: [0.5, 0] }),
      ]),
    )
    await inTurn(shot(stripes, false), developments, by)
  })

  it('shows at 100 % what is delivered', async () => {
    await opened(demoBytes(), async (picture) => {
      const { width, height } = picture
      const at = (id: string, x: number, y: number) =>
        PatchSchema.parse({ id, x, y, radius: 0.01, source: [0.04, 0.01] })
      const development = mending([at('a', 0.3, 0.2), at('b', 0.31, 0.21), at('c', 0.7, 0.5)], {
        crop: { rect: { centre: [0.45, 0.33], width: 0.7, height: 0.5 } },
        exposure: { ev: 0.4 },
      })
      const { finished } = await picture.square(development)
      const region = { x: 0, y: 0, ...finished }
      const shown = withoutAlpha((await picture.view({ development, ...finished, region })).rgba)
      const file = await picture.deliver({ development, space: 'srgb', ...finished, bits: 8 })
      expect(Buffer.compare(shown, file)).toBe(0)
      expect([width, height].every((n) => n > 0)).toBe(true)
    })
  })

  it('develops and mends no more than a patch touches', async () => {
    await opened(demoBytes(), async (picture) => {
      const { width, height } = picture
      const at = (id: string, x: number, y: number) =>
        PatchSchema.parse({ id, x, y, radius: 0.005, source: [0.03, 0] })
      const one = [at('a', 0.2, 0.2)]
      const two = [...one, at('b', 0.6, 0.4)]
      const size = { width: 640, height: Math.round((640 * height) / width) }
      const show = (patches: readonly Patch[]) =>
        picture.view({ development: mending(patches), ...size, region: { x: 0, y: 0, ...size } })
      await show(one)
      const before = picture.work
      await show(two)
      expect(picture.work).toEqual({ tiles: before.tiles, patches: before.patches + 1 })
      // on top of another, which stays as it is
      await show([...two, at('c', 0.601, 0.401)])
      expect(picture.work).toEqual({ tiles: before.tiles, patches: before.patches + 2 })
      await show(one)
      // what was under it is copied from what was developed
      expect(picture.work.tiles).toBe(before.tiles)
      // from nothing a place at 100 % needs its own surroundings alone
      picture.shed()
      const region = { x: 100, y: 100, width: 200, height: 150 }
      const { tiles } = picture.work
      await picture.view({ development: mending(two), width, height, region })
      expect(picture.work.tiles - tiles).toBeLessThan(6)
    })
  })

  it('is as it was where patches are off, or let in by nothing', async () => {
    await opened(shot(lawn(), true), async (picture) => {
      const plain = await light(picture)
      const patch = near('a', 200, 100, 20)
      for (const none of [
        { ...patch, on: false },
        { ...patch, opacity: 0 },
      ])
        expect(compare(await light(picture, [none]), plain)).toBe(0)
      const off = settings({ steps: { patches: { patches: [patch] } }, off: ['patches'] })
      const bytes = await picture.deliver({ development: off, space: 'linear-rec2020', ...SIZE, bits: 16 })
      expect(Buffer.compare(bytes, Buffer.from(plain.buffer))).toBe(0)
      expect(compare(await light(picture, [patch]), plain)).not.toBe(0)
    })
  })

  it('is defined where a patch lies at the border, outside, over clipped light, within another, or takes from outside', async () => {
    const bright: Scene = (x, y) => (Math.hypot(x - 240, y - 160) < 60 ? 9 : 0.3)
    await opened(shot(bright, false), async (picture) => {
      const plain = await light(picture)
      const cases: Record<string, Partial<Patch>[]> = {
        border: [near('a', 0, 0, 20)],
        outside: [near('a', -100, 50, 20)],
        'source outside': [near('a', 200, 60, 20, { source: [-1.5, 1.2] })],
        clipped: [near('a', 240, 160, 20, { source: [0.01, 0] })],
        within: [near('a', 100, 250, 30), near('b', 100, 250, 8)],
        tiny: [near('a', 100, 60, 0.24)],
        huge: [near('a', 240, 160, 48, { source: [0.3, 0.2], turn: 33 })],
      }
      for (const [what, patches] of Object.entries(cases)) {
        const found = await light(picture, patches)
        expect(found.length, what).toBe(plain.length)
        if (what === 'outside') expect(compare(found, plain), what).toBe(0)
        // far from it nothing has changed
        expect([...found.slice(-300)], what).toEqual([...plain.slice(-300)])
      }
    })
  })
})

describe('sources', () => {
  it('are never clipped for ground that is not, nor covered by another patch, nor beyond the picture', async () => {
    const bright: Scene = (x) => (x > 260 ? 9 : 0.3)
    await opened(shot(bright, false), async (picture) => {
      const at = { x: 150 / LONG, y: 160 / LONG, radius: 12 / LONG }
      const covering = [covers('l', 70, 160), covers('u', 150, 85), covers('d', 150, 235)]
      const found = await picture.ask('sources', mending(covering), at)
      expect(found.length).toBeGreaterThan(2)
      for (const { source } of found) {
        const [x, y] = [150 + source[0] * LONG, 160 + source[1] * LONG]
        expect(x + 12).toBeLessThan(262)
        for (const c of covering) expect(Math.hypot(x - c.x * LONG, y - c.y * LONG)).toBeGreaterThan(56)
        expect(Math.min(x, y)).toBeGreaterThan(12)
      }
      expect(found.map((f) => f.score)).toEqual(found.map((f) => f.score).sort((a, b) => a - b))
    })
  })

  it('lie along an edge that the target lies on', async () => {
    // a slanting edge: what continues it lies along it
    const edge: Scene = (x, y) => (y > 120 + 0.3 * x ? 0.5 : 0.15)
    await opened(shot(edge, false), async (picture) => {
      const at = { x: 200 / LONG, y: 180 / LONG, radius: 10 / LONG }
      const [{ source }] = await picture.ask('sources', settings(), at)
      expect(Math.abs(source[1] - 0.3 * source[0]) * LONG).toBeLessThan(1.5)
    })
  })
})

const covers = (id: string, x: number, y: number): Patch =>
  PatchSchema.parse({ id, x: x / LONG, y: y / LONG, radius: 45 / LONG, source: [0.3, 0] })
