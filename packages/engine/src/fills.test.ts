import {
  aroundMiddle,
  bulkName,
  decodeFill,
  encodePath,
  PatchSchema,
  type FillMap,
  type Patch,
} from '@dunkelkammer/core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { testEngine } from '../test/engines'
import { lawn, light, LONG, mending, psnr, sceneFile, SIZE, withPicture, type Scene } from '../test/mending'
import { delivered } from '../test/delivered'
import type { Engine, Picture } from './node'

const bulk = new Map<string, Uint8Array>()
let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
})
afterAll(() => engine.stop())

type Point = readonly [number, number]

function kept(places: readonly Point[], long = LONG) {
  const { path, ...middle } = aroundMiddle(places.map(([x, y]) => ({ x: x / long, y: y / long })))
  const bytes = encodePath(path)
  bulk.set(bulkName(bytes), bytes)
  return { ...middle, path: bulkName(bytes) }
}

/** A fill along places in pixels of a picture. */
const filling = (shape: Patch['shape'], places: readonly Point[], more: object = {}, long = LONG): Patch =>
  PatchSchema.parse({
    id: `${places[0]}`,
    kind: 'fill',
    shape,
    softness: 0.05,
    ...kept(places, long),
    ...more,
  })

/** The same, filled from a picture with other patches. */
async function filled(picture: Picture, patch: Patch, others: readonly Patch[] = []): Promise<Patch> {
  const bytes = (await picture.ask('fill', mending(others), patch))!
  bulk.set(bulkName(bytes), bytes)
  return { ...patch, filled: bulkName(bytes) }
}

const mapOf = ({ filled }: Patch): FillMap => decodeFill(bulk.get(filled!)!)

/** All pairs of a pixel that is filled and the one it is taken from. */
function* pairsOf({ by, boxes }: FillMap) {
  for (const { x, y, width, right, down } of boxes)
    for (let i = 0; i < right.length; i++) {
      if (right[i] === 0 && down[i] === 0) continue
      const [u, v] = [(x + (i % width)) * by, (y + Math.floor(i / width)) * by]
      yield { x: u, y: v, fromX: u + right[i] * by, fromY: v + down[i] * by }
    }
}

const box = (x: number, y: number, width: number, height: number): Point[] => [
  [x, y],
  [x + width, y],
  [x + width, y + height],
  [x, y + height],
]
const inBox = (x: number, y: number, width: number, height: number) => (u: number, v: number) =>
  u >= x && v >= y && u < x + width && v < y + height

const GAP = box(200, 120, 70, 60)
const inGap = inBox(200, 120, 70, 60)
const THING = inBox(206, 126, 58, 48)

/** Green of a picture by place. */
const greenOf =
  (of: Uint16Array, width = SIZE.width) =>
  (x: number, y: number) =>
    of[(y * width + x) * 3 + 1]

/** Mean square of the differences of neighbours. */
function roughness(of: Uint16Array, within: (x: number, y: number) => boolean): number {
  const green = greenOf(of)
  let [sum, n] = [0, 0]
  for (let y = 1; y < SIZE.height; y++)
    for (let x = 1; x < SIZE.width; x++) {
      if (!within(x, y) || !within(x - 1, y) || !within(x, y - 1)) continue
      sum += (green(x, y) - green(x - 1, y)) ** 2 + (green(x, y) - green(x, y - 1)) ** 2
      n++
    }
  return sum / n
}

describe('filling', () => {
  it('puts texture of the same kind and light in place of a thing', async () => {
    const truth = await withPicture(engine, sceneFile(lawn()), (p) => light(p))
    await withPicture(engine, sceneFile(lawn(), { dark: THING }), async (picture) => {
      const patch = await filled(picture, filling('outline', GAP))
      const [before, after] = [await light(picture), await light(picture, [patch])]
      expect(psnr(after, truth, inGap)).toBeGreaterThan(psnr(before, truth, inGap) + 4)
      const inside = inBox(204, 124, 62, 52)
      const ratio = Math.sqrt(roughness(after, inside) / roughness(truth, inside))
      expect(ratio).toBeGreaterThan(0.85)
      expect(ratio).toBeLessThan(1.15)
    })
  })

  it('has a first look at what is large, of the same light, and none at what is soon done', async () => {
    const size = { width: 1200, height: 900 }
    const thing = inBox(400, 250, 320, 320)
    await withPicture(engine, sceneFile(lawn(), { size, dark: thing }), async (picture) => {
      const rough = (of: Patch) => picture.ask('fill', mending([]), of, undefined, true)
      const patch = (...of: Parameters<typeof box>) => filling('outline', box(...of), {}, size.width)
      expect(await rough(patch(400, 250, 200, 200))).toBeUndefined()
      const large = patch(394, 244, 332, 332)
      const [first, best] = [(await rough(large))!, await picture.ask('fill', mending([]), large)]
      expect(first.length).toBeLessThan(best!.length / 4)
      bulk.set(bulkName(first), first)
      const mean = async (patches: readonly Patch[], within: (x: number, y: number) => boolean) => {
        const green = greenOf(await light(picture, patches), size.width)
        let [sum, n] = [0, 0]
        for (let y = 0; y < size.height; y += 3)
          for (let x = 0; x < size.width; x += 3) if (within(x, y)) [sum, n] = [sum + green(x, y), n + 1]
        return sum / n
      }
      const shown = [{ ...large, filled: bulkName(first) }]
      const around = (x: number, y: number) => !inBox(370, 220, 380, 380)(x, y) && y > 230 && y < 590
      const ground = await mean(shown, around)
      expect((await mean(shown, thing)) / ground).toBeGreaterThan(0.9)
      expect((await mean(shown, thing)) / ground).toBeLessThan(1.1)
      expect((await mean([], thing)) / ground).toBeLessThan(0.5)
    })
  })

  it('continues a line that enters a gap and leaves it', async () => {
    const grass = lawn()
    // leaning: 0.25 pixels down with each to the right
    const lineAt = (x: number) => 100 + 0.25 * x
    const scene: Scene = (x, y) => grass(x, y) * (Math.abs(y - lineAt(x)) < 3 ? 2.2 : 1)
    const truth = greenOf(await withPicture(engine, sceneFile(scene), (p) => light(p)))
    await withPicture(engine, sceneFile(scene, { dark: THING }), async (picture) => {
      const patch = await filled(picture, filling('outline', GAP))
      const found = greenOf(await light(picture, [patch]))
      // of shifts down, the one at which a few columns are most like the truth
      const offAt = (x: number) => {
        let [best, off] = [Infinity, 0]
        for (let shift = -8; shift <= 8; shift++) {
          let sum = 0
          for (let i = 0; i < 8; i++)
            for (let d = -10; d <= 10; d++) {
              const y = Math.round(lineAt(x + i)) + d
              sum += (found(x + i, y + shift) - truth(x + i, y)) ** 2
            }
          if (sum < best) [best, off] = [sum, shift]
        }
        return off
      }
      for (let x = 203; x < 265; x += 8) expect(Math.abs(offAt(x)), `off at ${x}`).toBeLessThanOrEqual(1)
    })
  })

  it('takes from nothing that is excluded, filled, patched or beyond the picture', async () => {
    await withPicture(engine, sceneFile(lawn(), { dark: THING }), async (picture) => {
      const other = PatchSchema.parse({
        ...{ id: 'other', x: 300 / LONG, y: 150 / LONG, radius: 18 / LONG, source: [0.1, 0] },
      })
      const free = await filled(picture, filling('outline', GAP))
      const used = [...pairsOf(mapOf(free))]
      // the side that most is taken from
      const left = used.filter((p) => p.fromX < 198).length
      const side = left > used.length / 2 ? 0 : 272
      const excluded = inBox(side, 0, side ? 208 : 198, 320)
      const corners = box(side, 0, side ? 208 : 198, 320).map(([x, y]) => ({ x: x / LONG, y: y / LONG }))
      const avoid = encodePath(corners)
      bulk.set(bulkName(avoid), avoid)
      // what is not excluded is used: otherwise the test says nothing
      expect(used.some((p) => excluded(p.fromX, p.fromY))).toBe(true)
      const patch = await filled(picture, filling('outline', GAP, { avoid: bulkName(avoid) }), [other])
      let count = 0
      for (const { x, y, fromX, fromY } of pairsOf(mapOf(patch))) {
        if (inGap(x, y)) count++
        expect(inBox(0, 0, SIZE.width, SIZE.height)(fromX, fromY)).toBe(true)
        expect(excluded(fromX, fromY)).toBe(false)
        expect(inGap(fromX, fromY)).toBe(false)
        expect(Math.hypot(fromX - 299.5, fromY - 149.5)).toBeGreaterThan(17)
      }
      expect(count).toBe(70 * 60)
    })
  })

  it('takes nothing clipped into ground that is not', async () => {
    const grass = lawn()
    const bright = inBox(300, 40, 140, 240)
    const scene: Scene = (x, y) => (bright(x, y) ? 6 : grass(x, y))
    await withPicture(engine, sceneFile(scene, { dark: THING }), async (picture) => {
      const patch = await filled(picture, filling('outline', GAP))
      for (const { fromX, fromY } of pairsOf(mapOf(patch)))
        expect(inBox(302, 42, 136, 236)(fromX, fromY)).toBe(false)
    })
  })

  it('brings in nothing that is nowhere around, however thin it is', async () => {
    const grass = lawn()
    const hose = (x: number, y: number) => Math.abs(y - 250 - 20 * Math.sin(x / 60)) < 2.5
    const scene: Scene = (x, y) => (hose(x, y) ? 1.2 : grass(x, y))
    await withPicture(engine, sceneFile(scene, { dark: THING }), async (picture) => {
      for (let i = 0, patch = filling('outline', GAP); i < 3; i++) {
        patch = await filled(picture, patch)
        for (const { fromX, fromY } of pairsOf(mapOf(patch))) expect(hose(fromX, fromY)).toBe(false)
      }
    })
  })

  it('meets the light around the gap', async () => {
    // darker to the right and down: what is taken from elsewhere is too dark or too bright
    const scene: Scene = (x, y) => 0.4 * (1.5 - x / 500 - y / 900)
    const truth = greenOf(await withPicture(engine, sceneFile(scene), (p) => light(p)))
    await withPicture(engine, sceneFile(scene, { dark: THING }), async (picture) => {
      const patch = await filled(picture, filling('outline', GAP))
      const found = greenOf(await light(picture, [patch]))
      for (const x of [203, 264]) {
        let [is, was] = [0, 0]
        for (let y = 124; y < 176; y++)
          for (let i = 0; i < 4; i++) {
            is += found(x + i, y)
            was += truth(x + i, y)
          }
        expect(Math.abs(is / was - 1), `at ${x}`).toBeLessThan(0.01)
      }
    })
  })

  it('finds the same whatever works on it, and something else when asked again', async () => {
    const file = sceneFile(lawn(), { dark: THING })
    const patch = filling('outline', GAP)
    const one = await withPicture(engine, file, (p) => filled(p, patch))
    const single = testEngine({ workers: 1 })
    single.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
    const two = await withPicture(single, file, (p) => filled(p, patch))
    single.stop()
    expect(two.filled).toBe(one.filled)
    const again = await withPicture(engine, file, (p) => filled(p, one))
    expect(again.filled).not.toBe(one.filled)
  })

  it('follows exposure and noise settings, and is delivered as it is seen', async () => {
    await withPicture(engine, sceneFile(lawn(), { dark: THING }), async (picture) => {
      const patch = await filled(picture, filling('outline', GAP))
      const plain = greenOf(await light(picture, [patch]))
      const lifted = greenOf(await light(picture, [patch], { exposure: { ev: 1 } }))
      for (const [x, y] of [
        [230, 150],
        [210, 130],
        [262, 172],
      ])
        expect(lifted(x, y) / plain(x, y)).toBeCloseTo(2, 2)
    })
  })

  it('changes nothing before it is found; a delivery finds it first', async () => {
    await withPicture(engine, sceneFile(lawn(), { dark: THING }), async (picture) => {
      const patch = filling('outline', GAP)
      const bytes = (a: Uint16Array) => new Uint8Array(a.buffer)
      const before = await light(picture)
      expect(Buffer.compare(bytes(await light(picture, [patch])), bytes(before))).toBe(0)
      const options = {
        format: { kind: 'tiff', bits: 16, compression: 'none' },
        space: 'linear-rec2020',
      } as const
      const file = (patches: readonly Patch[]) => delivered(picture, mending(patches), options)
      const found = await file([patch])
      expect(Buffer.compare(found, await file([]))).not.toBe(0)
      expect(Buffer.compare(found, await file([await filled(picture, patch)]))).toBe(0)
    })
  })

  it('finds nothing where nothing is left to take from', async () => {
    await withPicture(engine, sceneFile(lawn()), async (picture) => {
      const corners = box(0, 0, 480, 320)
      expect(await picture.ask('fill', mending([]), filling('outline', corners))).toBeUndefined()
    })
  })

  it('fills what reaches beyond the picture, and a way of one place', async () => {
    const thing = inBox(0, 100, 40, 50)
    const truth = await withPicture(engine, sceneFile(lawn()), (p) => light(p))
    await withPicture(engine, sceneFile(lawn(), { dark: thing }), async (picture) => {
      const patch = await filled(picture, filling('outline', box(-30, 94, 78, 62)))
      const [before, after] = [await light(picture), await light(picture, [patch])]
      expect(psnr(after, truth, thing)).toBeGreaterThan(psnr(before, truth, thing) + 4)
      const dot = await filled(picture, filling('stroke', [[20, 125]], { radius: 12 / LONG }))
      const near = inBox(14, 119, 12, 12)
      expect(psnr(await light(picture, [dot]), before, near)).toBeLessThan(60)
    })
  })

  it('takes a long wire away over lines that it crosses', async () => {
    const size = { width: 1320, height: 240 }
    const ground: Scene = (x, y) =>
      (0.22 + 0.05 * Math.sin(y / 9) + 0.04 * Math.sin(x / 7 + y / 23)) * (Math.floor(x / 90) % 2 ? 1.5 : 1)
    const wireAt = (x: number) => 110 + 30 * Math.sin(x / 400)
    const wire = (x: number, y: number) => Math.abs(y - wireAt(x)) < 1.5 && x > 30 && x < 1290
    const way = Array.from({ length: 64 }, (_, i): Point => [20 + 20.3 * i, wireAt(20 + 20.3 * i)])
    const truth = greenOf(await withPicture(engine, sceneFile(ground, { size }), (p) => light(p)), 1320)
    await withPicture(engine, sceneFile(ground, { size, dark: wire }), async (picture) => {
      const patch = await filled(picture, filling('stroke', way, { radius: 4 / 1320 }, 1320))
      const [before, after] = [
        greenOf(await light(picture), 1320),
        greenOf(await light(picture, [patch]), 1320),
      ]
      // contrast of the wire by pieces of it
      for (let x = 40; x < 1280; x += 40) {
        let [was, left] = [0, 0]
        for (let i = 0; i < 40; i++) {
          const y = Math.round(wireAt(x + i + 0.5) - 0.5)
          was += before(x + i, y) - truth(x + i, y)
          left += after(x + i, y) - truth(x + i, y)
        }
        expect(Math.abs(left / was), `at ${x}`).toBeLessThan(0.2)
      }
    })
  })
})
