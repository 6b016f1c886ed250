import { bulkName, decode, encodePath, srgb, toOklab, type Development } from '@dunkelkammer/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { z } from 'zod'
import type { AreaSchema, MaskLook, ShapeSchema } from '@dunkelkammer/core'
import { settings, testEngine, whole, withoutAlpha } from '../test/engines'
import { lawn, LONG, sceneFile, SIZE, withPicture } from '../test/mending'
import type { Engine, Picture } from './node'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

type Written = Omit<z.input<typeof AreaSchema>, 'id'>
type WrittenShape = z.input<typeof ShapeSchema>
const areas = (list: readonly Written[], more: object = {}): Development =>
  settings({ steps: { ...more, areas: { areas: list.map((a, i) => ({ id: `${i}`, ...a })) } } })

const opened = <T>(file: Uint8Array, how: (p: Picture) => Promise<T>) => withPicture(engine, file, how)
const at = (x: number, y: number) => ({ x: x / LONG, y: y / LONG })

const RAMP = {
  id: 'r',
  kind: 'ramp' as const,
  from: [0.2, 0.1] as [number, number],
  to: [0.6, 0.4] as [number, number],
}
const OVAL = {
  ...{ id: 'o', kind: 'oval' as const, ...at(200, 150), across: 0.15, down: 0.1, turn: 20 },
  way: 'take' as const,
}
const TONES: WrittenShape = {
  ...{ id: 't', kind: 'tones', way: 'common' },
  range: { from: -2, to: 0, below: 2, above: 1 },
}

/** Linear light of a delivery. */
async function light(picture: Picture, development: Development): Promise<Uint16Array> {
  const { finished } = await picture.square(development)
  const { width, height } = finished
  const bytes = await picture.deliver({ development, space: 'linear-rec2020', width, height, bits: 16 })
  return new Uint16Array(bytes.buffer)
}

const delivered = async (picture: Picture, development: Development) => {
  const { width, height } = (await picture.square(development)).finished
  return picture.deliver({ development, space: 'srgb', width, height, bits: 8 })
}

describe('a picture with areas', () => {
  const several = [
    { mask: { shapes: [RAMP, OVAL, TONES] }, steps: { exposure: { ev: 1 }, relief: { broad: 0.4 } } },
    {
      strength: 1.7,
      mask: { shapes: [{ ...OVAL, way: 'add' }] },
      steps: { sharpen: { amount: 1 }, light: { warmth: 60 } },
    },
    {
      mask: { start: 'everything', shapes: [OVAL] },
      steps: { colourfulness: { all: -0.6 }, tones: { shadows: { lift: 0.5 } } },
    },
  ] satisfies Written[]

  it('shows at 100 % what is delivered, also in parts, after other settings, and cropped and turned', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      for (const more of [
        {},
        { level: { angle: 4 }, crop: { rect: { centre: [0.5, 0.3], width: 0.7, height: 0.5 } } },
      ]) {
        const development = areas(several, { ...more, exposure: { ev: 0.3 }, relief: { fine: 0.2 } })
        const file = await delivered(picture, development)
        const { finished } = await picture.square(development)
        const plain = settings({ steps: { ...more, exposure: { ev: 0.3 } } })
        await picture.view({ development: plain, ...whole(finished) })
        const view = await picture.view({ development, ...whole(finished) })
        expect(Buffer.compare(withoutAlpha(view.rgba), file)).toBe(0)
        const region = { x: 83, y: 61, width: 120, height: 77 }
        const part = withoutAlpha((await picture.view({ development, ...whole(finished), region })).rgba)
        for (let y = 0; y < region.height; y++) {
          const line = ((region.y + y) * finished.width + region.x) * 3
          const own = part.subarray(y * region.width * 3, (y + 1) * region.width * 3)
          expect(Buffer.compare(own, file.subarray(line, line + region.width * 3))).toBe(0)
        }
        expect(Buffer.compare(file, await delivered(picture, plain))).not.toBe(0)
      }
    })
  })

  it('shows at 100 % what is delivered when masks alone change, and what they read', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const [first, ...others] = several
      const moved: WrittenShape = { ...RAMP, kind: 'ramp', from: [0.3, 0.1], to: [0.6, 0.5] }
      const turned = { ...first, mask: { shapes: [moved, OVAL, TONES] } }
      let middle = 0.6
      for (const [list, more] of [
        [several, {}],
        [[turned, ...others], {}],
        [[{ ...first, mask: { shapes: [moved] } }, ...others], {}],
        [[turned, ...others], { highlights: { rebuild: 0 }, noise: { mode: 'automatic' } }],
        [several, { patches: { patches: [{ id: 'p', x: 0.3, y: 0.3, radius: 0.1, source: [0.3, 0] }] } }],
      ] satisfies [Written[], object][]) {
        // another curve: what comes before it need not be made again, but for what masks changed
        middle += 0.03
        const development = areas(list, { ...more, curve: { luminance: [[0, 0], [0.5, middle], [1, 1]] } }) // prettier-ignore
        const view = await picture.view({ development, ...whole(picture) })
        expect(Buffer.compare(withoutAlpha(view.rgba), await delivered(picture, development))).toBe(0)
      }
    })
  })

  it('shows and counts the same whatever was shown before', async () => {
    const small: WrittenShape = { id: 'o', kind: 'oval', ...at(250, 120), across: 0.05, down: 0.04 }
    const other: WrittenShape = { ...small, ...at(90, 210), across: 0.04 }
    const area = (shape: WrittenShape, steps: Written['steps']): Written => ({ mask: { shapes: [shape] }, steps }) // prettier-ignore
    const bright = { exposure: { ev: 2.5 }, relief: { fine: 0.5 } }
    const lists: Written[][] = [
      [area(small, bright), area(other, { sharpen: { amount: 1 } })],
      [area(small, { ...bright, exposure: { ev: -2 } }), area(other, { sharpen: { amount: 1 } })],
      [area({ ...small, ...at(300, 60) }, bright), area(other, { sharpen: { amount: 1 } })],
      [area(other, { sharpen: { amount: 1 } })],
      [area(other, { sharpen: { amount: 1 } }), area(small, bright)],
      [area(small, bright), area(other, { sharpen: { amount: 1 } })],
      [],
      [area({ ...small, ...at(0, 0), across: 0.2 }, { exposure: { ev: 3 } })],
    ]
    const shown = (picture: Picture, list: Written[], part: object = {}) =>
      picture.view({
        development: areas(list, { exposure: { ev: 0.8 }, edgeColour: { amount: 1, radius: 4 } }),
        ...whole(picture),
        ...{ layers: true, waveform: true, ...part },
      })
    const region = { x: 60, y: 30, width: 300, height: 200 }
    await opened(sceneFile(lawn()), async (picture) => {
      for (const list of lists)
        for (const part of [{}, { region }])
          await opened(sceneFile(lawn()), async (fresh) => {
            const [now, truth] = [await shown(picture, list, part), await shown(fresh, list, part)]
            for (const layer of ['rgba', 'highs', 'lows'] as const)
              expect(Buffer.compare(Buffer.from(now[layer] ?? []), Buffer.from(truth[layer] ?? []))).toBe(0)
            expect(now.histogram).toEqual(truth.histogram)
            expect(now.clipped).toEqual(truth.clipped)
            expect(now.waveform).toEqual(truth.waveform)
            expect(now.clipped.some((n) => n > 0)).toBe(true)
          })
    })
  })

  it('shows what is delivered where there are very many', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const many = Array.from({ length: 200 }, (_, i): Written => {
        const [x, y] = [0.1 + 0.8 * ((i * 0.37) % 1), 0.1 + 0.45 * ((i * 0.61) % 1)]
        const oval: WrittenShape = { id: 'o', kind: 'oval', x, y, across: 0.06, down: 0.04 }
        const shapes = i % 2 ? [oval, TONES] : [oval]
        return {
          mask: { shapes },
          steps: { exposure: { ev: i % 3 ? 0.2 : -0.2 }, colourfulness: { all: 0.3 } },
        }
      })
      for (const middle of [0.55, 0.6]) {
        const development = areas(many, { curve: { luminance: [[0, 0], [0.5, middle], [1, 1]] } }) // prettier-ignore
        const view = await picture.view({ development, ...whole(picture) })
        expect(Buffer.compare(withoutAlpha(view.rgba), await delivered(picture, development))).toBe(0)
      }
    })
  })

  it('is the same as without them where all are off, let in by nothing, or have no steps', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const without = await delivered(picture, settings())
      const [first] = several
      for (const list of [
        [{ ...first, on: false }],
        [{ ...first, strength: 0 }],
        [{ ...first, steps: {} }],
        [{ ...first, steps: { exposure: { ev: 0 } } }],
        [{ ...first, mask: { shapes: [OVAL] } }],
        [{ ...first, mask: {} }],
        [{ ...first, mask: { shapes: [{ ...RAMP, on: false }] } }],
        // far outside
        [{ ...first, mask: { shapes: [{ ...OVAL, way: 'add', x: 3, y: 3 }] } }],
      ] satisfies Written[][])
        expect(Buffer.compare(await delivered(picture, areas(list)), without)).toBe(0)
      const off = { ...areas(several), off: ['areas' as const] }
      expect(Buffer.compare(await delivered(picture, off), without)).toBe(0)
      expect(
        Buffer.compare(await delivered(picture, { ...areas(several), strength: { areas: 0 } }), without),
      ).toBe(0)
    })
  })

  it.each([
    ['sharpen', { amount: 1 }],
    ['unsharp', { strength: 2 }],
    ['relief', { broad: 0.8, medium: 0.8 }],
    ['tones', { shadows: { lift: 1 } }],
    ['haze', { strength: 0.8 }],
  ])('has within an area what %s does to the whole picture, and outside nothing of it', async (id, own) => {
    const grain = lawn()
    const scene = (x: number, y: number) => grain(x, y) * (x > 250 ? 1.6 : 0.3) * (y > 150 ? 1 : 0.5)
    const [x0, y0, radius] = [300, 140, 70]
    const mask = {
      shapes: [
        {
          ...{ id: 'o', kind: 'oval' as const, x: (x0 + 0.5) / LONG, y: (y0 + 0.5) / LONG },
          ...{ across: radius / LONG, down: radius / LONG, softness: 0 },
        },
      ],
    }
    await opened(sceneFile(scene), async (picture) => {
      const without = await light(picture, settings())
      const all = await light(picture, settings({ steps: { [id]: own } }))
      const within = await light(picture, areas([{ mask, steps: { [id]: own } as Written['steps'] }]))
      let changed = 0
      for (let y = 0; y < SIZE.height; y++)
        for (let x = 0; x < SIZE.width; x++) {
          const far = Math.hypot(x - x0, y - y0)
          if (Math.abs(far - radius) < 1) continue
          const i = 3 * (y * SIZE.width + x) + 1
          const wanted = far < radius ? all : without
          changed = Math.max(changed, Math.abs(all[i] - without[i]))
          expect(Math.abs(within[i] - wanted[i]), `${x} ${y}`).toBeLessThan(2)
        }
      expect(changed).toBeGreaterThan(300)
    })
  })

  it('is lit by as many stops as an area says, where its mask is, and in between where that runs out', async () => {
    await opened(
      sceneFile((x) => 0.1 + x / 9600),
      async (picture) => {
        const before = await light(picture, settings())
        const mask = { shapes: [{ ...RAMP, from: [0.25, 0], to: [0.75, 0] } as WrittenShape] }
        for (const strength of [0.5, 1, 2]) {
          const after = await light(picture, areas([{ strength, mask, steps: { exposure: { ev: 1 } } }]))
          for (const x of [20, 119, 200, 240, 300, 400]) {
            const t = Math.min(Math.max(((x + 0.5) / LONG - 0.25) / 0.5, 0), 1)
            const share = 1 - (3 * t * t - 2 * t * t * t)
            const i = (100 * SIZE.width + x) * 3 + 1
            expect(after[i] / before[i]).toBeCloseTo(1 + strength * share, 2)
          }
        }
      },
    )
  })

  it('is dodged and burned without another hue or colourfulness', async () => {
    // a colour that has room to become lighter and darker
    const start = { mask: { start: 'everything' } as const }
    await opened(
      sceneFile((x, y) => 0.05 + ((x >> 5) + (y >> 5)) / 120),
      async (picture) => {
        const oklab = async (development: Development) => {
          const bytes = await picture.deliver({ development, space: 'srgb', ...SIZE, bits: 16 })
          const samples = new Uint16Array(bytes.buffer)
          const at = (x: number, y: number) => {
            const i = (y * SIZE.width + x) * 3
            const [r, g, b] = [...samples.subarray(i, i + 3)].map((v) => decode(srgb.curve, v / 65535))
            return toOklab(srgb, [r, g, b])
          }
          return [at(80, 80), at(240, 176), at(400, 272)].map(([L, a, b]) => ({
            ...{ L, chroma: Math.hypot(a, b), hue: (Math.atan2(b, a) * 180) / Math.PI },
          }))
        }
        const tint = { cameraColour: { source: 'kelvin', kelvin: 4600 } }
        const before = await oklab(areas([], tint))
        for (const ev of [1, -1]) {
          const after = await oklab(areas([{ ...start, steps: { dodge: { ev } } }], tint))
          after.forEach(({ L, chroma, hue }, i) => {
            expect(3 * Math.log2(L / before[i].L)).toBeCloseTo(ev, 1)
            expect(before[i].chroma).toBeGreaterThan(0.01)
            expect(Math.abs(chroma / before[i].chroma - 1)).toBeLessThan(0.02)
            expect(Math.abs(hue - before[i].hue)).toBeLessThan(0.5)
          })
        }
      },
    )
  })

  it('has its steps in the order of the steps, each area after the whole picture', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const mask = { start: 'everything' } as const
      const twice = areas(
        [
          { mask, steps: { exposure: { ev: 0.5 } } },
          { mask, steps: { exposure: { ev: -0.25 } } },
        ],
        { exposure: { ev: 0.5 } },
      )
      const [a, b] = [
        await light(picture, twice),
        await light(picture, settings({ steps: { exposure: { ev: 0.75 } } })),
      ]
      expect(a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0)).toBeLessThan(4)
    })
  })
})

describe('a mask', () => {
  const [x0, y0, radius] = [200, 150, 60]
  const disc: WrittenShape = {
    ...{ id: 'd', kind: 'oval', x: (x0 + 0.5) / LONG, y: (y0 + 0.5) / LONG },
    ...{ across: radius / LONG, down: radius / LONG, softness: 0 },
  }
  const scene = (x: number, y: number) => (Math.hypot(x - x0, y - y0) <= radius ? 0.6 : 0.02)
  const on = (shapes: WrittenShape[], more: object = {}) =>
    areas([{ mask: { shapes }, steps: { exposure: { ev: 0 } } }], more)

  it.each([
    ['as the picture lies', {}],
    ['cropped', { crop: { rect: { centre: [0.45, 0.35], width: 0.6, height: 0.5 } } }],
    ['turned', { level: { angle: 7 } }],
    ['in perspective', { perspective: { tilt: 25, swing: -10 } }],
    ['bent', { lens: { choice: 'hand', bend: 0.08 } }],
    ['all of it', { level: { angle: -3 }, perspective: { tilt: 15 }, lens: { choice: 'hand', bend: -0.05 } }],
  ])('stays on its object %s', async (_, more) => {
    await opened(sceneFile(scene), async (picture) => {
      const development = on([disc], more)
      const file = await light(picture, development)
      if (Object.keys(more).length > 0)
        expect(
          Buffer.compare(Buffer.from(file.buffer), Buffer.from((await light(picture, settings())).buffer)),
        ).not.toBe(0)
      const { width, height, grey } = await picture.ask('mask', development, 0)
      const { finished } = await picture.square(development)
      expect([width, height]).toEqual([finished.width, finished.height])
      const green = file.filter((_, i) => i % 3 === 1)
      const mean = (level: number) => {
        const some = green.filter((_, i) => grey[i] === level)
        return some.reduce((sum, v) => sum + v, 0) / some.length
      }
      const half = (mean(255) + mean(0)) / 2
      const bright = (i: number) => green[i] > half
      let [both, either] = [0, 0]
      grey.forEach((v, i) => {
        both += v > 127 && bright(i) ? 1 : 0
        either += v > 127 || bright(i) ? 1 : 0
      })
      expect(either).toBeGreaterThan(5000)
      // less than half a pixel all around
      expect(both / either).toBeGreaterThan(0.985)
    })
  })

  it('is the same in a small picture as in the whole', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const development = on([{ ...disc, softness: 0.4 }, TONES], { level: { angle: 5 } })
      const full = await picture.ask('mask', development, 0)
      const small = await picture.ask('mask', development, 0, 240)
      const by = full.width / small.width
      let [sum, n] = [0, 0]
      for (let y = 0; y < small.height; y++)
        for (let x = 0; x < small.width; x++) {
          const i = Math.min(Math.round((y + 0.5) * by - 0.5), full.height - 1) * full.width
          sum += Math.abs(small.grey[y * small.width + x] - full.grey[i + Math.round((x + 0.5) * by - 0.5)])
          n++
        }
      expect(sum / n / 255).toBeLessThan(0.01)
    })
  })

  it('has its painted ways where they were painted, in the mask and in the picture', async () => {
    // from the middle of a stroke at 240, 160
    const bytes = encodePath([
      { x: -100 / LONG, y: -40 / LONG },
      { x: 60 / LONG, y: 80 / LONG },
    ])
    engine.bulkSource = () => Promise.resolve(bytes)
    const stroke: WrittenShape = {
      ...{
        id: 's',
        kind: 'stroke',
        ...at(240.5, 160.5),
        radius: 12 / LONG,
        softness: 0,
        path: bulkName(bytes),
      },
    }
    await opened(sceneFile(lawn()), async (picture) => {
      const development = areas([{ mask: { shapes: [stroke] }, steps: { exposure: { ev: 1 } } }])
      const { grey, width } = await picture.ask('mask', development, 0)
      const [before, after] = [await light(picture, settings()), await light(picture, development)]
      for (const [x, y, share] of [
        [140, 120, 1],
        [220, 180, 1],
        [300, 240, 1],
        [300, 80, 0],
        [130, 112, 0],
        [400, 300, 0],
      ]) {
        expect([x, y, grey[y * width + x] / 255]).toEqual([x, y, share])
        const i = 3 * (y * width + x) + 1
        expect(after[i] / before[i]).toBeCloseTo(1 + share, 2)
      }
    })
  })

  it('holds a stroke of a hundred thousand places as one of those that matter', async () => {
    const long = Array.from({ length: 100_000 }, (_, i) => ({ x: (-120 + (240 * i) / 99_999) / LONG, y: 0 }))
    const files = new Map(
      [long, [long[0], long[99_999]]].map((p) => [bulkName(encodePath(p)), encodePath(p)]),
    )
    engine.bulkSource = (name) => Promise.resolve(files.get(name)!)
    await opened(sceneFile(lawn()), async (picture) => {
      const [many, few] = await Promise.all(
        [...files.keys()].map((path) => {
          const stroke = { id: 's', kind: 'stroke' as const, ...at(240, 160), radius: 20 / LONG, path }
          return picture.ask('mask', areas([{ mask: { shapes: [stroke] } }]), 0)
        }),
      )
      expect(many.grey[160 * many.width + 130]).toBe(255)
      const off = many.grey.reduce((most, v, i) => Math.max(most, Math.abs(v - few.grey[i])), 0)
      expect(off).toBeLessThanOrEqual(1)
    })
  })

  it('of an area that is not there is refused', async () => {
    await opened(sceneFile(scene), async (picture) => {
      await expect(picture.ask('mask', on([disc]), 1)).rejects.toThrow('There is no such area.')
      await expect(picture.ask('mask', on([disc]), -1)).rejects.toThrow('There is no such area.')
    })
  })
})

describe('a mask that reads the picture as a whole', () => {
  /** An object before a lawn, in light of its own. */
  const grass = lawn()
  const inside = (x: number, y: number) => {
    const [u, v] = [(x - 240) / 110, (y - 160) / 80]
    return u * u + v * v < 1 + 0.15 * Math.sin(5 * Math.atan2(v, u))
  }
  const object = (x: number, y: number) => (inside(x, y) ? 0.25 * grass(y + 31, x) : grass(x, y))

  /** Intersection over union of what is more than half in a mask with the object. */
  function agreement(grey: Uint8Array): number {
    let [both, any] = [0, 0]
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) {
        const [is, should] = [grey[y * SIZE.width + x] > 127, inside(x + 0.5, y + 0.5)]
        if (is && should) both++
        if (is || should) any++
      }
    return both / any
  }

  it('has strokes at the edge of the object that they were roughly painted on', async () => {
    // around within some 10 px of the border, now over it and now short of it, and over the middle
    const rough = Array.from({ length: 90 }, (_, i) => {
      const t = (i / 89) * 2 * Math.PI
      const off = 7 * Math.sin(7 * t + 1)
      const r = Math.sqrt(1 + 0.15 * Math.sin(5 * t))
      return { x: ((110 * r + off - 30) * Math.cos(t)) / LONG, y: ((80 * r + off - 30) * Math.sin(t)) / LONG }
    })
    const middle = [
      { x: -60 / LONG, y: 0 },
      { x: 60 / LONG, y: 0 },
    ]
    const files = new Map([rough, middle].map((path) => [bulkName(encodePath(path)), encodePath(path)]))
    engine.bulkSource = (name) => Promise.resolve(files.get(name)!)
    const stroke = (path: typeof rough, more: object): WrittenShape => ({
      ...{ id: 's', kind: 'stroke', x: 240 / LONG, y: 160 / LONG, radius: 30 / LONG, softness: 0 },
      ...{ path: bulkName(encodePath(path)), ...more },
    })
    await opened(sceneFile(object), async (picture) => {
      const painted = async (follow: boolean) => {
        const shapes = [stroke(rough, { follow }), stroke(middle, { radius: 45 / LONG })]
        return agreement((await picture.ask('mask', areas([{ mask: { shapes } }]), 0)).grey)
      }
      expect(await painted(false)).toBeLessThan(0.95)
      expect(await painted(true)).toBeGreaterThan(0.97)
    })
  })

  it('has of an oval drawn around an object what lies inside its edge', async () => {
    const oval: WrittenShape = {
      ...{ id: 'o', kind: 'oval', x: 240 / LONG, y: 160 / LONG, across: 150 / LONG, down: 115 / LONG },
      softness: 0,
    }
    const calm = (x: number, y: number) => (inside(x, y) ? 0.1 : 0.3) * (0.9 + 0.3 * grass(x, y))
    await opened(sceneFile(calm), async (picture) => {
      const drawn = async (more: object) => {
        const area = { mask: { shapes: [{ ...oval, ...more }] }, steps: { exposure: { ev: 1 } } }
        const development = areas([area])
        const view = await picture.view({ development, ...whole(picture) })
        expect(Buffer.compare(withoutAlpha(view.rgba), await delivered(picture, development))).toBe(0)
        return agreement((await picture.ask('mask', development, 0)).grey)
      }
      expect(await drawn({})).toBeLessThan(0.6)
      expect(await drawn({ edge: {} })).toBeGreaterThan(0.93)
    })
  })

  it('follows the edges of the picture with what was drawn around them', async () => {
    // some 4 px outside
    const loose = Array.from({ length: 200 }, (_, i) => {
      const t = (i / 200) * 2 * Math.PI
      const r = Math.sqrt(1 + 0.15 * Math.sin(5 * t))
      return { x: ((110 * r + 4) * Math.cos(t)) / LONG, y: ((80 * r + 4) * Math.sin(t)) / LONG }
    })
    const bytes = encodePath(loose)
    engine.bulkSource = () => Promise.resolve(bytes)
    const outline: WrittenShape = {
      ...{ id: 'o', kind: 'outline', x: 240 / LONG, y: 160 / LONG, softness: 0, path: bulkName(bytes) },
    }
    await opened(sceneFile(object), async (picture) => {
      const drawn = async (edges: number) => {
        const development = areas([
          {
            mask: { shapes: [outline], refined: { edges } },
            steps: { exposure: { ev: 1 } },
          },
        ])
        return agreement((await picture.ask('mask', development, 0)).grey)
      }
      const [without, with_] = [await drawn(0), await drawn(0.02)]
      expect(without).toBeLessThan(0.93)
      expect(with_).toBeGreaterThan(0.95)
    })
  })

  it('shows at 100 % and in parts what is delivered, and off what is without', async () => {
    await opened(sceneFile(object), async (picture) => {
      const shapes = [{ ...RAMP }, { ...OVAL, way: 'add' as const }]
      for (const refined of [
        { softness: 0.02, grow: 0.01 },
        { edges: 0.02, contrast: 0.3 },
      ]) {
        const development = areas([{ mask: { shapes, refined }, steps: { exposure: { ev: 1 } } }])
        const file = await delivered(picture, development)
        const { finished } = await picture.square(development)
        const view = await picture.view({ development, ...whole(finished) })
        expect(Buffer.compare(withoutAlpha(view.rgba), file)).toBe(0)
        const region = { x: 83, y: 61, width: 120, height: 77 }
        const part = withoutAlpha((await picture.view({ development, ...whole(finished), region })).rgba)
        for (let y = 0; y < region.height; y++) {
          const at = 3 * ((region.y + y) * finished.width + region.x)
          expect(
            Buffer.compare(
              part.subarray(3 * y * region.width, 3 * (y + 1) * region.width),
              file.subarray(at, at + 3 * region.width),
            ),
          ).toBe(0)
        }
        expect(Buffer.compare(file, await delivered(picture, settings()))).not.toBe(0)
      }
    })
  })
})

describe('a mask that several areas use', () => {
  const disc: WrittenShape = { id: 'd', kind: 'oval', ...at(200, 150), across: 0.2, down: 0.2, softness: 0 }
  const steps = { exposure: { ev: 1 } }

  it('is that of the area it is linked to, also over another one, as if it were its own', async () => {
    const masks = [{ mask: { shapes: [disc] } }, { maskOf: '0' }, { maskOf: '1', steps }]
    await opened(sceneFile(lawn()), async (picture) => {
      const linked = await delivered(picture, areas(masks))
      const own = await delivered(picture, areas([{ mask: { shapes: [disc] }, steps }]))
      expect(Buffer.compare(linked, own)).toBe(0)
      expect(Buffer.compare(linked, await delivered(picture, settings()))).not.toBe(0)
      const { grey, width } = await picture.ask('mask', areas(masks), 2)
      expect([grey[150 * width + 200], grey[20 * width + 20]]).toEqual([255, 0])
    })
  })

  it('is its own where the other is gone, or where they go around in a ring', async () => {
    const all = [
      { maskOf: '1', mask: { shapes: [disc] }, steps },
      { maskOf: '0' },
      { maskOf: 'gone', mask: { start: 'everything' as const } },
    ]
    await opened(sceneFile(lawn()), async (picture) => {
      const masks = await Promise.all([0, 1, 2].map((i) => picture.ask('mask', areas(all), i)))
      expect(masks.map(({ grey, width }) => grey[150 * width + 200])).toEqual([0, 255, 255])
    })
  })
})

describe('a mask on the screen', () => {
  const disc: WrittenShape = { id: 'd', kind: 'oval', ...at(200, 150), across: 0.2, down: 0.2, softness: 0 }
  const [mask] = areas([{ mask: { shapes: [disc] } }]).steps.areas.areas.map((a) => a.mask)
  const place = { ...SIZE, region: { x: 40, y: 30, width: 300, height: 200 } }
  const layer = (look: MaskLook) =>
    opened(sceneFile(lawn()), async (picture) => {
      const rgba = await picture.ask('maskLayer', settings(), mask, look, place)
      const pixel = (x: number, y: number) => {
        const i = 4 * ((y - place.region.y) * place.region.width + x - place.region.x)
        return [...rgba.subarray(i, i + 4)]
      }
      return { rgba, pixel }
    })

  it('is grey as much as it lets in', async () => {
    const { pixel } = await layer('grey')
    expect([pixel(200, 150), pixel(60, 60)]).toEqual([
      [255, 255, 255, 255],
      [0, 0, 0, 255],
    ])
  })

  it('leaves free what it lets in, and covers the rest with grey', async () => {
    const { pixel } = await layer('rest')
    expect(pixel(200, 150)[3]).toBe(0)
    const [r, g, b, a] = pixel(60, 60)
    expect([r === g && g === b, a > 200 && a < 255]).toEqual([true, true])
  })

  it('is outlined where it ends, light and dark, and nowhere else', async () => {
    const { pixel, rgba } = await layer('outline')
    // the disc's right end is at 296
    const across = Array.from({ length: 12 }, (_, i) => pixel(290 + i, 150))
    expect(across.some(([r, , , a]) => r === 255 && a === 255)).toBe(true)
    expect(across.some(([r, , , a]) => r === 0 && a > 0 && a < 255)).toBe(true)
    expect([pixel(200, 150)[3], pixel(60, 60)[3], pixel(270, 150)[3]]).toEqual([0, 0, 0])
    expect(rgba.length).toBe(place.region.width * place.region.height * 4)
  })

  it('is hatched, by as much as it lets in, and stays on the picture when that is moved', async () => {
    const { pixel } = await layer('hatching')
    const lines = Array.from({ length: 60 }, (_, i) => pixel(170 + i, 150)[3])
    expect(Math.max(...lines)).toBeGreaterThan(200)
    expect(lines.filter((a) => a === 0).length).toBeGreaterThan(10)
    expect(pixel(60, 60)[3]).toBe(0)
    const moved = await opened(sceneFile(lawn()), (picture) =>
      picture.ask('maskLayer', settings(), mask, 'hatching', {
        ...place,
        region: { ...place.region, x: 47 },
      }),
    )
    expect(moved[4 * (120 * place.region.width + 153) + 3]).toBe(pixel(200, 150)[3])
  })
})

describe('the scene at a place', () => {
  it('is as the camera saw it, whatever is set, and what ranges go by', async () => {
    await opened(sceneFile(lawn()), async (picture) => {
      const plain = await picture.ask('scene', settings(), 0.4, 0.5)
      const set = settings({
        steps: {
          exposure: { ev: 2 },
          cameraColour: { source: 'kelvin', kelvin: 3200 },
          colourfulness: { all: 0.8 },
        },
      })
      const later = await picture.ask('scene', set, 0.4, 0.5)
      expect(later.tone).toBeCloseTo(plain.tone, 5)
      expect(later.colour[0]).toBeCloseTo(plain.colour[0], 5)
      const { tone } = plain
      const range = (from: number, to: number) =>
        areas([
          {
            mask: { shapes: [{ id: 't', kind: 'tones' as const, range: { from, to, below: 0, above: 0 } }] },
          },
        ])
      const held = async (development: Development) => {
        const { grey, width, height } = await picture.ask('mask', development, 0)
        return grey[Math.floor(height * 0.5) * width + Math.floor(width * 0.4)]
      }
      expect(await held(range(tone - 0.7, tone + 0.7))).toBe(255)
      expect(await held(range(tone + 0.7, 6))).toBe(0)
    })
  })
})
