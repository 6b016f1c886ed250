import { type DeliveryInput } from '@dunkelkammer/core'
import { paperProfile } from '@dunkelkammer/demo'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartFile } from '../../../test/chart'
import { delivered } from '../../../test/delivered'
import { settings, testEngine } from '../../../test/engines'
import type { Engine, Picture } from '../../index'
import { outlinesOf } from './words'

let engine: Engine
let picture: Picture
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(chartFile('daylight65', 0.5))
})
afterAll(() => engine.stop())

const PNG = { kind: 'png', bits: 8 } as const
const made = (delivery: Partial<DeliveryInput>, profile?: Uint8Array) =>
  delivered(picture, settings({}), { format: PNG, ...delivery }, { profile })

/** Pixels as sRGB, by another's reader of the format and of the profile. */
async function shown(file: Uint8Array) {
  const { data, info } = await sharp(file).raw().toBuffer({ resolveWithObject: true })
  const at = (x: number, y: number) => [
    ...data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3),
  ]
  return { data, width: info.width, height: info.height, at }
}

describe('a border', () => {
  const border = { width: 10, below: 10, colour: '#c08040', line: 2, lineColour: '#102030' }

  it('lies around the same picture', async () => {
    const plain = await shown(await made({}))
    const framed = await shown(await made({ border }))
    // a tenth of 128 px, twice that below, and a line of 3 px along the picture
    expect([framed.width, framed.height]).toEqual([CHART_WIDTH + 26, CHART_HEIGHT + 13 + 26])
    for (const [x, y] of [
      [0, 0],
      [9, 70],
      [framed.width - 1, 40],
      [50, framed.height - 1],
    ])
      expect(framed.at(x, y)).toEqual([0xc0, 0x80, 0x40])
    for (const [x, y] of [
      [12, 70],
      [10, 10],
      [CHART_WIDTH + 15, 30],
      [100, CHART_HEIGHT + 14],
    ])
      expect(framed.at(x, y)).toEqual([0x10, 0x20, 0x30])
    for (const [x, y] of [
      [0, 0],
      [CHART_WIDTH - 1, 0],
      [77, 90],
      [CHART_WIDTH - 1, CHART_HEIGHT - 1],
    ])
      expect(framed.at(x + 13, y + 13)).toEqual(plain.at(x, y))
  })

  it.each([
    ['oprgb', undefined],
    [{ profile: 'paper', intent: 'relative', blackPoint: false } as const, paperProfile()],
  ] as const)('has its colour in every space', async (space, profile) => {
    const { at } = await shown(
      await made({ border: { ...border, colour: '#b0a090', line: 0 }, space }, profile),
    )
    at(3, 3).forEach((v, c) => expect(Math.abs(v - [0xb0, 0xa0, 0x90][c])).toBeLessThan(profile ? 9 : 2))
  })
})

describe('a mark', () => {
  it('of words covers what it should, and nothing else', async () => {
    const mark = { kind: 'words', text: 'Halm & Mertens', colour: '#ff0000', size: 10, opacity: 0.5 } as const
    const plain = await shown(await made({}))
    const marked = await shown(await made({ mark: { ...mark, place: 'bottom left', inset: 5 } }))
    let reddest = 0
    const box = { left: Infinity, top: Infinity, right: 0, bottom: 0 }
    for (let y = 0; y < marked.height; y++)
      for (let x = 0; x < marked.width; x++) {
        const [was, is] = [plain.at(x, y), marked.at(x, y)]
        if (was.every((v, c) => v === is[c])) continue
        Object.assign(box, { left: Math.min(box.left, x), top: Math.min(box.top, y) })
        Object.assign(box, { right: Math.max(box.right, x), bottom: Math.max(box.bottom, y) })
        // half of red
        reddest = Math.max(reddest, (is[0] - was[0]) / (255 - was[0]))
      }
    expect(reddest).toBeGreaterThan(0.47)
    expect(reddest).toBeLessThan(0.53)
    // six pixels from the edges, a line of thirteen
    expect(box.left).toBeGreaterThanOrEqual(6)
    expect(box.left).toBeLessThan(9)
    expect(box.top).toBeGreaterThanOrEqual(CHART_HEIGHT - 6 - 13)
    expect(box.bottom).toBeLessThan(CHART_HEIGHT - 6)
    // fourteen letters of such a line
    expect(box.right).toBeGreaterThan(60)
    expect(box.right).toBeLessThan(110)
  })

  it('that is a picture keeps its colours, and lets through where it is transparent', async () => {
    const half = Buffer.from(
      Array.from({ length: 8 * 4 }, (_, i) => (i % 8 < 4 ? [0, 0xc0, 0, 255] : [0, 0, 0, 0])).flat(),
    )
    const png = await sharp(half, { raw: { width: 8, height: 4, channels: 4 } })
      .png()
      .toBuffer()
    const mark = { kind: 'picture', data: png.toString('base64'), size: 50, opacity: 1, inset: 0 } as const
    const plain = await shown(await made({ space: 'display-p3' }))
    const marked = await shown(await made({ space: 'display-p3', mark: { ...mark, place: 'top left' } }))
    marked.at(8, 12).forEach((v, c) => expect(Math.abs(v - [0, 0xc0, 0][c])).toBeLessThan(4))
    expect(marked.at(55, 12)).toEqual(plain.at(55, 12))
    expect(marked.at(8, 40)).toEqual(plain.at(8, 40))
  })

  it('says so where its picture cannot be read', async () => {
    const mark = { kind: 'picture', data: 'iVBORw0KGgoAAAA' } as const
    await expect(made({ mark })).rejects.toThrow('The picture of the mark cannot be read.')
  })
})

describe('words', () => {
  it('are drawn in every script of the typeface', () => {
    const missing = outlinesOf('\u{1F980}').path
    for (const word of ['é', 'ő', 'Ω', 'Ж', 'ß', '©']) expect(outlinesOf(word).path).not.toBe(missing)
    const widths = ['i', 'Halm', 'Halm Halm'].map((w) => outlinesOf(w).width)
    expect(widths[0]).toBeLessThan(0.4)
    expect(widths[2]).toBeGreaterThan(2 * widths[1])
  })
})
