import { cameraFile, mosaicOf, noiseOf, veldrom, type CameraModel } from '@dunkelkammer/demo'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { collage } from '../../core/test/collage'
import { psnr8, settings, testEngine, whole, withoutAlpha } from '../test/engines'
import type { Engine } from './node'
import type { Picture } from './host/picture'
import type { View } from './host/view'

const CAMERA: CameraModel = { ...veldrom, greenLeak: 0, dust: 0, hot: 0, dead: 0 }
const SIZE = { width: 320, height: 256 }

/** A file of what lies on the sensor, with the noise of a sensitivity or without any. */
function shot(
  light: Float32Array,
  iso: number,
  noise = true,
  told = true,
  size = SIZE,
  orientation = 1,
): Uint8Array {
  const crop = { x: 0, y: 0, ...size }
  const mosaic = mosaicOf(CAMERA, { iso, exposure: 0.5, seed: 900 + iso, noise }, light, crop)
  return cameraFile(CAMERA, crop, mosaic, [1, 1, 1], {
    noise: told ? noiseOf(CAMERA, { iso }) : undefined,
    ...{ iso, orientation },
  })
}

/** What a lens lays on a sensor of a picture: a little wider than a pixel. */
function laid({ width, height, rgb }: { width: number; height: number; rgb: Float32Array }): Float32Array {
  const out = new Float32Array(rgb.length)
  const taps = [0.06, 0.24, 0.4, 0.24, 0.06]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let j = -2; j <= 2; j++)
        for (let i = -2; i <= 2; i++) {
          const [u, v] = [Math.min(Math.max(x + i, 0), width - 1), Math.min(Math.max(y + j, 0), height - 1)]
          for (let k = 0; k < 3; k++)
            out[(y * width + x) * 3 + k] += taps[i + 2] * taps[j + 2] * rgb[(v * width + u) * 3 + k]
        }
  return out
}

let engine: Engine
beforeAll(() => (engine = testEngine()))
afterAll(() => engine.stop())

const opened = async <T>(file: Uint8Array, how: (p: Picture) => Promise<T>): Promise<T> => {
  const picture = await engine.open(file)
  try {
    return await how(picture)
  } finally {
    engine.close(picture)
  }
}
const delivered = (p: Picture, steps: object): Promise<Uint8Array> =>
  p
    .square(settings({ steps }))
    .then(({ finished }) =>
      p.deliver({ development: settings({ steps }), space: 'srgb', ...finished, bits: 8 }),
    )
const developed = (file: Uint8Array, steps: object = {}) => opened(file, (p) => delivered(p, steps))

describe('noise reduction in an area', () => {
  const light = laid(collage(SIZE.width, SIZE.height, 77, 4, 60, 200))
  const off = { mode: 'none' }
  const on = { mode: 'automatic', fine: false }
  /** A hard oval, and how deep a place of the upright picture lies in it, pixels; its surroundings less than 0. */
  const OVAL = { x: 0.4, y: 0.35, across: 0.2, down: 0.2, softness: 0 }
  const depth = (x: number, y: number) =>
    (OVAL.across - Math.hypot((x + 0.5) / SIZE.width - OVAL.x, (y + 0.5) / SIZE.width - OVAL.y)) * SIZE.width
  const withArea = (noise: object, own: object, more: object = {}) => ({
    noise,
    areas: {
      areas: [
        { id: 'a', mask: { shapes: [{ id: 'o', kind: 'oval', ...OVAL }] }, steps: { noise: own }, ...more },
      ],
    },
  })

  it.each([
    ['less', on, off, 1],
    ['more', off, on, 1],
    ['less, upright', on, off, 6],
    ['more, upright', off, on, 8],
  ])('takes away %s than for the rest, and ends where it ends', async (_, rest, own, orientation) => {
    await opened(shot(light, 6400, true, true, SIZE, orientation), async (p) => {
      const steps = withArea(rest, own)
      const [mixed, inside, outside] = [
        await delivered(p, steps),
        await delivered(p, { noise: own }),
        await delivered(p, { noise: rest }),
      ]
      const { width, height } = (await p.square(settings({ steps }))).finished
      let [differ, far] = [0, 0]
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const d = depth(x, y)
          if (Math.abs(d) < 8) continue
          for (let i = (y * width + x) * 3; i < (y * width + x) * 3 + 3; i++) {
            far = Math.max(far, Math.abs(mixed[i] - (d > 0 ? inside : outside)[i]))
            if (d > 0 && inside[i] !== outside[i]) differ++
          }
        }
      expect(far).toBeLessThanOrEqual(1)
      expect(differ).toBeGreaterThan(2000)
      const view = await p.view({ development: settings({ steps }), ...whole({ width, height }) })
      expect(Buffer.compare(withoutAlpha(view.rgba), mixed)).toBe(0)
    })
  })

  it('is the same as none where it is off, let in by nothing, or as for the rest', async () => {
    await opened(shot(light, 3200), async (p) => {
      const plain = await delivered(p, { noise: on })
      for (const [own, more] of [
        [off, { on: false }],
        [off, { strength: 0 }],
        [on, {}],
      ] as const)
        expect(Buffer.compare(await delivered(p, withArea(on, own, more)), plain)).toBe(0)
      // and half of it is between
      const [none, half, all] = [
        await delivered(p, { noise: off }),
        await delivered(p, withArea(on, off, { strength: 0.5 })),
        await delivered(p, withArea(on, off)),
      ]
      const at = (112 * SIZE.width + 128) * 3
      const apart = (a: Uint8Array, b: Uint8Array) => {
        let sum = 0
        for (let i = at - 60; i < at + 60; i++) sum += Math.abs(a[i] - b[i])
        return sum
      }
      expect(apart(none, all)).toBeLessThan(30)
      expect(apart(half, plain) / apart(all, plain)).toBeGreaterThan(0.35)
      expect(apart(half, plain) / apart(all, plain)).toBeLessThan(0.65)
    })
  })
})

describe('noise reduction', () => {
  const light = laid(collage(SIZE.width, SIZE.height, 77, 4, 60, 200))

  it.each([800, 3200, 12800])(
    'comes closer to the truth in draft, and closer still in fine, at ISO %s; automatic is the best strength',
    async (iso) => {
      const truth = await developed(shot(light, iso, false))
      const scored = await opened(shot(light, iso), async (p) => {
        const of = async (noise: object) => psnr8(await delivered(p, { noise }), truth)
        const strengths = []
        for (const s of [0.7, 0.85, 1.15, 1.3])
          strengths.push(await of({ mode: 'hand', luminance: s, colour: s, blotches: s }))
        return {
          none: await of({ mode: 'none' }),
          draft: await of({ mode: 'automatic', fine: false }),
          fine: await of({ mode: 'automatic' }),
          best: Math.max(...strengths),
        }
      })
      expect(scored.draft).toBeGreaterThan(scored.none + 2)
      expect(scored.fine).toBeGreaterThan(scored.draft + 0.3)
      expect(scored.fine).toBeGreaterThan(scored.best - 0.3)
    },
    60_000,
  )

  it('measures in the picture what the camera put in, where the file does not say', async () => {
    const { a, b } = noiseOf(CAMERA, { iso: 3200 })
    await opened(shot(light, 3200, true, false), async (p) => {
      const found = p.ask('noise', settings())
      expect(found.source).toBe('picture')
      const [model] = found.noise
      for (const s of [0.03, 0.2, 0.5]) {
        const ratio = Math.sqrt((model.a * s + model.b) / (a * s + b))
        expect(ratio).toBeGreaterThan(0.8)
        expect(ratio).toBeLessThan(1.3)
      }
      return Promise.resolve()
    })
  })

  it('takes the file at its word first, and the picture where that is asked', async () => {
    await opened(shot(light, 1600), (p) => {
      expect(p.ask('noise', settings()).source).toBe('file')
      expect(p.ask('noise', settings()).known).toEqual(['file', 'picture'])
      expect(p.ask('noise', settings({ steps: { noise: { source: 'picture' } } })).source).toBe('picture')
      return Promise.resolve()
    })
  })

  it('keeps points of light at night, every one', async () => {
    const night = new Float32Array(SIZE.width * SIZE.height * 3).fill(0.012)
    const points: [number, number][] = []
    for (let y = 24; y < SIZE.height - 24; y += 26)
      for (let x = 24; x < SIZE.width - 24; x += 26) {
        points.push([x, y])
        for (const k of [0, 1, 2]) night[(y * SIZE.width + x) * 3 + k] = 4 + ((x * 7 + y * 3) % 5)
      }
    const file = shot(laid({ ...SIZE, rgb: night }), 3200)
    const [before, after] = await opened(file, async (p) => [
      await delivered(p, {}),
      await delivered(p, { noise: { mode: 'automatic' } }),
    ])
    const peak = (rgb: Uint8Array, [x, y]: [number, number]) => {
      let most = 0
      for (let j = -1; j <= 1; j++)
        for (let i = -1; i <= 1; i++) most = Math.max(most, rgb[((y + j) * SIZE.width + x + i) * 3 + 1])
      return most
    }
    for (const at of points) expect(peak(after, at)).toBeGreaterThan(0.8 * peak(before, at))
  })

  it('leaves no blotches in an even sky', async () => {
    const sky = new Float32Array(SIZE.width * SIZE.height * 3)
    for (let i = 0; i < sky.length; i += 3) sky.set([0.08, 0.12, 0.22], i)
    const after = await developed(shot(sky, 6400), { noise: { mode: 'automatic' } })
    const mean = [0, 1, 2].map((c) => {
      let [sum, n] = [0, 0]
      for (let y = 32; y < SIZE.height - 32; y++)
        for (let x = 32; x < SIZE.width - 32; x++) {
          sum += after[(y * SIZE.width + x) * 3 + c]
          n++
        }
      return sum / n
    })
    // squares of sixteen pixels, the size that is seen as a blotch
    for (let y = 32; y + 16 < SIZE.height - 32; y += 16)
      for (let x = 32; x + 16 < SIZE.width - 32; x += 16)
        for (let c = 0; c < 3; c++) {
          let sum = 0
          for (let j = 0; j < 16; j++)
            for (let i = 0; i < 16; i++) sum += after[((y + j) * SIZE.width + x + i) * 3 + c]
          expect(Math.abs(sum / 256 - mean[c])).toBeLessThan(2.5)
        }
  })

  it('gives back what it is told to leave: drawing, lights or shadows', async () => {
    await opened(shot(light, 6400), async (p) => {
      const of = (part: object) => delivered(p, { noise: { mode: 'hand', ...part } })
      const [none, all, kept, lights] = [
        await delivered(p, {}),
        await of({}),
        await of({ keepDetail: 1 }),
        await of({ tone: 1 }),
      ]
      // closer to the noisy picture than without
      expect(psnr8(kept, none)).toBeGreaterThan(psnr8(all, none) + 0.3)
      expect(psnr8(lights, none)).toBeGreaterThan(psnr8(all, none) + 0.3)
      const bright = (rgb: Uint8Array, from: number, to: number) => {
        let [sum, n] = [0, 0]
        none.forEach((v, i) => {
          if (all[i] < from || all[i] >= to) return
          sum += (rgb[i] - v) ** 2
          n++
        })
        return sum / n
      }
      const left = (from: number, to: number) => bright(lights, from, to) / bright(all, from, to)
      expect(left(150, 250)).toBeLessThan(left(10, 60))
    })
  })
})

const bytes = (view: View) => new Uint8Array(view.rgba.buffer)

const EVERYTHING = {
  noise: { mode: 'automatic' },
  sharpen: { amount: 1, corners: 0.4, edges: 0.3 },
  unsharp: { strength: 0.6 },
  afterNoise: { amount: 0.5 },
  relief: { fine: 0.4, medium: 0.3, broad: -0.2 },
  haze: { strength: 0.4 },
} as const

describe('all of it at work', () => {
  const size = { width: 640, height: 448 }
  const file = shot(laid(collage(size.width, size.height, 5, 5, 80, 420)), 1600, true, true, size)

  it('shows at 100 % what is delivered, bit for bit, whatever part was looked at before', async () => {
    await opened(file, async (p) => {
      const development = settings({ steps: EVERYTHING })
      const region = { x: 210, y: 130, width: 180, height: 140 }
      const part = await p.view({ development, ...size, region })
      const other = await p.view({
        development,
        ...size,
        region: { x: 300, y: 200, width: 180, height: 140 },
      })
      const all = await delivered(p, EVERYTHING)
      for (const [view, x0, y0] of [
        [part, 210, 130],
        [other, 300, 200],
      ] as const) {
        const rgb = withoutAlpha(view.rgba)
        let differ = 0
        for (let y = 0; y < 140; y++)
          for (let i = 0; i < 180 * 3; i++)
            if (rgb[y * 180 * 3 + i] !== all[((y + y0) * size.width + x0) * 3 + i]) differ++
        expect(differ).toBe(0)
      }
      const full = await p.view({ development, ...whole(p) })
      expect(Buffer.compare(withoutAlpha(full.rgba), all)).toBe(0)
    })
  }, 60_000)

  it('looks fitted as the delivery does when made small', async () => {
    await opened(file, async (p) => {
      const development = settings({ steps: EVERYTHING })
      const small = { width: 320, height: 224 }
      const fitted = await p.view({ development, ...small, region: { x: 0, y: 0, ...small } })
      const reduced = await p.deliver({ development, space: 'srgb', ...small, bits: 8 })
      expect(psnr8(withoutAlpha(fitted.rgba), reduced)).toBeGreaterThan(36)
    })
  }, 60_000)

  it('costs nothing and changes nothing where nothing is asked', async () => {
    const none = {
      noise: { mode: 'hand', luminance: 0, colour: 0 },
      sharpen: { amount: 0, radius: 3 },
      haze: { depth: 1 },
    }
    await opened(file, async (p) => {
      expect(Buffer.compare(await delivered(p, none), await delivered(p, {}))).toBe(0)
    })
  })

  it('shows a draft while something moves, and what is kept for one version stays beside another', async () => {
    await opened(file, async (p) => {
      const development = settings({ steps: { noise: { mode: 'automatic' } } })
      const region = { x: 100, y: 100, width: 120, height: 90 }
      const request = { development, ...size, region }
      const still = await p.view(request)
      const moving = await p.view({ ...request, quick: true })
      expect(still.exact).toBe(true)
      expect(moving.exact).toBe(false)
      expect(Buffer.compare(bytes(still), bytes(moving))).not.toBe(0)
      const others = await Promise.all(
        [0.5, 0.8, 1.2].map((luminance) =>
          p.view({
            ...request,
            development: settings({ steps: { noise: { mode: 'hand', luminance } } }),
            beside: true,
          }),
        ),
      )
      for (const other of others) expect(other.exact).toBe(true)
      expect(Buffer.compare(bytes(await p.view(request)), bytes(still))).toBe(0)
    })
  })

  it('shows where sharpening acts in place of the picture', async () => {
    await opened(file, async (p) => {
      const development = settings({ steps: { sharpen: { amount: 1, edges: 1 } } })
      const mask = await p.view({ development, ...whole(p), mask: 'sharpen' })
      for (let i = 0; i < mask.rgba.length; i += 4 * 101) {
        expect(Math.abs(mask.rgba[i] - mask.rgba[i + 1])).toBeLessThan(3)
        expect(Math.abs(mask.rgba[i + 2] - mask.rgba[i + 1])).toBeLessThan(3)
      }
      const bright = mask.rgba.filter((v, i) => i % 4 === 1 && v > 200).length / (size.width * size.height)
      expect(bright).toBeGreaterThan(0.03)
      expect(bright).toBeLessThan(0.7)
    })
  })
})

describe('enlargement', () => {
  const size = { width: 200, height: 144 }
  const file = shot(laid(collage(size.width, size.height, 8, 5, 50, 160)), 100, false, true, size)

  it.each([1.5, 2, 3, 4])('by %s has so many more pixels, of the same picture', async (factor) => {
    await opened(file, async (p) => {
      const development = settings({ steps: { enlarge: { factor } } })
      const { finished } = await p.square(development)
      expect(finished).toEqual({ width: size.width * factor, height: size.height * factor })
      const large = await p.deliver({ development, space: 'srgb', ...finished, bits: 8 })
      expect(large.length).toBe(finished.width * finished.height * 3)
      // made small again it is what it was
      const small = await p.deliver({ development, space: 'srgb', ...size, bits: 8 })
      expect(psnr8(small, await delivered(p, {}))).toBeGreaterThan(30)
    })
  })

  it('goes together with a crop, a turn and sharpening, and its view with its delivery', async () => {
    await opened(file, async (p) => {
      const steps = {
        enlarge: { factor: 2 },
        level: { angle: 3 },
        crop: { rect: { centre: [0.5, 0.36], width: 0.5, height: 0.4 } },
        sharpen: { amount: 1, radius: 1 },
      }
      const development = settings({ steps })
      const { finished, width } = await p.square(development)
      expect(finished.width).toBe(2 * width)
      const all = await p.deliver({ development, space: 'srgb', ...finished, bits: 8 })
      const region = { x: 40, y: 30, width: 80, height: 60 }
      const part = withoutAlpha((await p.view({ development, ...finished, region })).rgba)
      let differ = 0
      for (let y = 0; y < 60; y++)
        for (let i = 0; i < 240; i++)
          if (part[y * 240 + i] !== all[((y + 30) * finished.width + 40) * 3 + i]) differ++
      expect(differ).toBe(0)
    })
  })
})

describe('softness of a picture', () => {
  it('is measured through mosaic and demosaic', async () => {
    const size = { width: 640, height: 480 }
    const sheet = collage(size.width, size.height, 21, 12, 90, 160)
    // one and a half pixels of blur
    let light = sheet.rgb
    for (let i = 0; i < 3; i++) light = laid({ ...size, rgb: light })
    await opened(shot(light, 100, true, true, size), async (p) => {
      const found = await p.ask('softness', settings())
      expect(found?.softness).toBe('lens')
      // the taps have a variance of 0.96 each
      expect(found!.radius).toBeGreaterThan(1.3)
      expect(found!.radius).toBeLessThan(2.1)
    })
  })
})
