import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoBytes, psnr8, settings, testEngine, whole, withoutAlpha } from '../test/engines'
import { fitLongEdge, Superseded, type Engine, type Picture } from './index'

const BUSY = settings({
  steps: {
    exposure: { ev: 0.8 },
    baseRendering: { grade: 2.6 },
    cameraColour: { source: 'kelvin', kelvin: 4800, tint: 8 },
  },
  strength: { exposure: 0.7 },
})

let engine: Engine
let picture: Picture
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(demoBytes())
})
afterAll(() => engine.stop())

const deliver = (p: Picture, part: object = {}) =>
  p.deliver({ development: BUSY, space: 'srgb', width: p.width, height: p.height, bits: 8, ...part })

describe('one engine for all', () => {
  it('shows at 100 % the very pixels that it delivers, wherever the window is', async () => {
    const file = await deliver(picture)
    for (const region of [
      { x: 0, y: 0, width: 400, height: 300 },
      { x: 1001, y: 777, width: 333, height: 211 },
      { x: picture.width - 257, y: picture.height - 101, width: 257, height: 101 },
    ]) {
      const view = await picture.view({
        development: BUSY,
        width: picture.width,
        height: picture.height,
        region,
      })
      const shown = withoutAlpha(view.rgba)
      for (let y = 0; y < region.height; y++) {
        const from = ((region.y + y) * picture.width + region.x) * 3
        const line = file.subarray(from, from + region.width * 3)
        expect(Buffer.compare(line, shown.subarray(y * region.width * 3, (y + 1) * region.width * 3))).toBe(0)
      }
    }
  })

  it('gives the same bits from one worker, from two, and without shared memory', async () => {
    const truth = await deliver(picture, { bits: 16 })
    for (const options of [{ workers: 1 }, { shared: false }]) {
      const other = testEngine(options)
      const p = await other.open(demoBytes())
      expect(Buffer.compare(await deliver(p, { bits: 16 }), truth)).toBe(0)
      other.stop()
    }
  })

  it('shows the fitted picture as the export made small would be', async () => {
    const size = fitLongEdge(picture.width, picture.height, 788)
    const view = await picture.view({ development: BUSY, ...size, region: { x: 0, y: 0, ...size } })
    const file = await deliver(picture, size)
    expect(psnr8(withoutAlpha(view.rgba), file)).toBeGreaterThan(40)
  })
})

describe('a picture', () => {
  it('counts every pixel in its histograms and at its ends', async () => {
    const development = settings({ steps: { exposure: { ev: 3 } } })
    const view = await picture.view({ development, ...whole(picture), layers: true })
    // what is shown is dithered; a channel is clipped where the nearest level is the last
    const { width, height } = picture
    const bytes = await picture.deliver({ development, width, height, space: 'srgb', bits: 16 })
    const exact = new Uint16Array(bytes.buffer)
    const level = (i: number, c: number) => Math.round(exact[(i / 4) * 3 + c] / 257)
    const pixels = picture.width * picture.height
    for (const channel of view.histogram) {
      const n = channel.reduce((s, v) => s + v, 0)
      expect(Math.abs(n / pixels - 1)).toBeLessThan(1e-3)
    }
    let red = 0
    let wrong = 0
    for (let i = 0; i < view.rgba.length; i += 4) {
      if (level(i, 0) === 255) red++
      if (Math.abs(view.rgba[i] - level(i, 0)) > 1) wrong++
      // the layer is opaque exactly where a channel is clipped, in that channel's colour; dark where all are
      const clipped = [0, 1, 2].map((c) => level(i, c) === 255)
      const all = clipped.every(Boolean)
      for (let c = 0; c < 3; c++) if (view.highs![i + c] !== (all ? 32 : clipped[c] ? 255 : 0)) wrong++
      if ((view.highs![i + 3] === 255) !== clipped.some(Boolean)) wrong++
    }
    // levels come of a table: at the very border it may err by a hundredth
    expect(wrong).toBeLessThan(pixels / 5000)
    expect(Math.abs(view.clipped[0] - red)).toBeLessThan(pixels / 5000)
    expect(red).toBeGreaterThan(1000)
  })

  it('makes a picked grey neutral, at that place, under any light', async () => {
    const d = settings()
    const [x, y] = [0.385, 0.62]
    const sample = await picture.ask('sample', d, x, y, 6)
    const top = Math.max(...sample)
    const picked = settings({
      steps: { cameraColour: { source: 'sample', neutral: sample.map((v) => v / top) } },
    })
    const side = 13
    const region = {
      x: Math.round(x * picture.width) - 6,
      y: Math.round(y * picture.height) - 6,
      width: side,
      height: side,
    }
    const linear = await picture.deliver({
      development: picked,
      space: 'linear-rec2020',
      ...whole(picture),
      bits: 16,
    })
    const values = new Uint16Array(linear.buffer)
    const mean = [0, 0, 0]
    for (let j = 0; j < side; j++)
      for (let i = 0; i < side; i++)
        for (let c = 0; c < 3; c++) mean[c] += values[((region.y + j) * picture.width + region.x + i) * 3 + c]
    expect(Math.max(...mean) / Math.min(...mean)).toBeLessThan(1.01)
  })

  it('drops what a newer request makes useless, and stays usable', async () => {
    const stop = new AbortController()
    const first = picture.view({ development: BUSY, ...whole(picture) }, stop.signal)
    stop.abort()
    await expect(first).rejects.toBeInstanceOf(Superseded)
    const changed = settings({ steps: { defects: { threshold: 8 } } })
    const superseded = picture.view({ development: changed, ...whole(picture) })
    const kept = picture.view({ development: BUSY, ...whole(picture) })
    await expect(superseded).rejects.toBeInstanceOf(Superseded)
    expect((await kept).width).toBe(picture.width)
  })

  it('says in a sentence why a file does not open, and goes on', async () => {
    const bytes = demoBytes()
    await expect(engine.open(bytes.slice(0, 100000))).rejects.toThrow(/damaged|outside/)
    await expect(engine.open(new TextEncoder().encode('no picture at all'))).rejects.toThrow('not a raw file')
    const middle = bytes.slice()
    middle.fill(0, 1500000, 1500400)
    await expect(engine.open(middle)).rejects.toThrow(/damaged/)
    expect((await deliver(picture, { width: 100, height: 67 })).length).toBe(100 * 67 * 3)
  })

  it('gives its memory back', async () => {
    const before = engine.usage.used
    const second = await engine.open(demoBytes())
    await second.view({ development: BUSY, ...whole(second) })
    engine.close(second)
    await picture.view({ development: BUSY, ...whole(picture) })
    await new Promise((r) => setTimeout(r, 50))
    expect(engine.usage.used).toBe(before)
  })
})
