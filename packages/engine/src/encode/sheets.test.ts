import { DeliverySchema, type DeliveryInput } from '@dunkelkammer/core'
import { paperProfile } from '@dunkelkammer/demo'
import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CHART_HEIGHT, CHART_WIDTH, chartFile } from '../../test/chart'
import { settings, testEngine } from '../../test/engines'
import type { Engine, Picture } from '../index'
import { Sheets } from './sheets'

let engine: Engine
let picture: Picture
let folder: string
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(chartFile('daylight65', 0.5))
  folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
})
afterAll(() => {
  engine.stop()
  rmSync(folder, { recursive: true })
})

const facts = { name: 'HM0417', shoot: 'Mills', version: '', delivery: 'Sheet', stars: 3, number: 1, of: 1 }
const pdf = (delivery: Partial<DeliveryInput>, icc?: Uint8Array) => {
  const parsed = DeliverySchema.parse(delivery)
  if (parsed.format.kind !== 'pdf') throw new Error('no pages')
  const path = join(folder, `${Math.random()}.pdf`)
  return { path, sheets: new Sheets(parsed, parsed.format, path, 'Contact sheet', icc) }
}
const made = async (delivery: Partial<DeliveryInput>, count: number, icc?: Uint8Array) => {
  const { path, sheets } = pdf(delivery, icc)
  for (let i = 0; i < count; i++)
    await sheets.add({ picture, development: settings({}), facts: { ...facts, number: i + 1 } })
  await sheets.close()
  return path
}
/** What other people's reader says. */
const ask = (program: string, ...args: string[]) => execFileSync(program, args, { encoding: 'utf8' })
const images = (path: string) =>
  ask('pdfimages', '-list', path)
    .trim()
    .split('\n')
    .slice(2)
    .map((line) => line.trim().split(/\s+/))
    .map(([page, , , width, height, colour, , bits, encoding, , , , x, y]) => ({
      ...{
        page: Number(page),
        width: Number(width),
        height: Number(height),
        colour,
        bits: Number(bits),
        encoding,
      },
      ppi: [Number(x), Number(y)],
    }))
/** The page as it prints. */
const printed = async (path: string, ppi: number) => {
  const to = join(folder, 'page')
  ask('pdftoppm', '-r', String(ppi), '-png', '-singlefile', path, to)
  const { data, info } = await sharp(`${to}.png`).removeAlpha().raw().toBuffer({ resolveWithObject: true })
  return {
    at: (x: number, y: number) => [...data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3)],
    ...info,
  }
}

describe('pages', () => {
  it('are of the paper, with pictures of the resolution that is said, in their profile', async () => {
    const path = await made(
      { format: { kind: 'pdf', paper: 'A3', ppi: 100, margin: 200 / 2, turn: 'lying' }, space: 'oprgb' },
      1,
    )
    const said = ask('pdfinfo', path)
    expect(said).toMatch(/Title: +Contact sheet/)
    expect(said).toMatch(/Pages: +1\b/)
    expect(said).toMatch(/Page size: +1190\.55 x 841\.89 pts \(A3\)/)
    const [image] = images(path)
    expect(image).toMatchObject({
      colour: 'icc',
      bits: 8,
      encoding: 'jpeg',
      width: CHART_WIDTH,
      height: CHART_HEIGHT,
    })
    // 97 mm of room in height for 128 px
    for (const ppi of image.ppi) expect(Math.abs(ppi - (CHART_HEIGHT / 97) * 25.4)).toBeLessThan(1)
  })

  it('hold upright pictures beside lying ones, each of the resolution that is asked for', async () => {
    const { path, sheets } = pdf({
      format: {
        kind: 'pdf',
        paper: 'own',
        width: 200,
        height: 100,
        turn: 'lying',
        margin: 5,
        columns: 2,
        ppi: 30,
      },
    })
    const turned = settings({ steps: { level: { turns: 1 } } })
    for (const development of [settings({}), turned]) await sheets.add({ picture, development, facts })
    await sheets.close()
    const [lying, upright] = images(path)
    expect(lying.width).toBeGreaterThan(lying.height)
    expect(upright.height).toBeGreaterThan(upright.width)
    for (const { ppi } of [lying, upright]) expect(Math.abs(ppi[0] - 30)).toBeLessThanOrEqual(1)
  })

  it('are as many as the pictures need, in order', async () => {
    const path = await made(
      { format: { kind: 'pdf', columns: 2, rows: 2, ppi: 30, caption: '{number} {name}' } },
      5,
    )
    expect(images(path).map(({ page }) => page)).toEqual([1, 1, 1, 1, 2])
    for (const { ppi, width } of images(path)) {
      expect(Math.abs(ppi[0] - 30)).toBeLessThanOrEqual(1)
      expect(width).toBeLessThan(CHART_WIDTH)
    }
  })

  it('print the picture upright, where it belongs, with its caption and cutting marks', async () => {
    const format = { kind: 'pdf', paper: 'own', width: 100, height: 80, turn: 'lying', margin: 20 } as const
    const path = await made(
      { format: { ...format, caption: 'Halm', captionSize: 20, cuttingMarks: true } },
      1,
    )
    // ten pixels to the millimetre
    const { at, width, height } = await printed(path, 254)
    expect([width, height].map((v) => Math.floor(v / 10))).toEqual([100, 80])
    const room = 40 - (20 * 1.6 * 25.4) / 72
    const [w, h] = [room * 1.5, room]
    const left = 50 - w / 2
    const patch = (column: number, row: number) =>
      at(Math.round(10 * (left + ((column + 0.5) / 6) * w)), Math.round(10 * (20 + ((row + 0.5) / 4) * h)))
    // white and black of the chart lie at the ends of its last row
    expect(Math.min(...patch(0, 3))).toBeGreaterThan(180)
    expect(Math.max(...patch(5, 3))).toBeLessThan(70)
    const dark = (x0: number, y0: number, x1: number, y1: number) => {
      let n = 0
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) if (Math.max(...at(x, y)) < 128) n++
      return n
    }
    // letters below the picture, marks beside its corner, nothing in the margin
    expect(dark(300, Math.round(10 * (20 + room)) + 5, 700, 600)).toBeGreaterThan(500)
    expect(dark(Math.round(10 * left) - 56, 195, Math.round(10 * left) - 14, 206)).toBeGreaterThan(20)
    expect(dark(0, 0, 1000, 130)).toBe(0)
    expect(dark(0, 640, 1000, 800)).toBe(0)
  })

  it('hold a loaded profile as it came', async () => {
    const icc = paperProfile()
    const space = { profile: 'paper', intent: 'relative', blackPoint: true } as const
    const path = await made({ format: { kind: 'pdf', ppi: 60 }, space }, 1, icc)
    ask('pdfimages', '-j', path, join(folder, 'out'))
    const [jpeg] = readdirSync(folder).filter((name) => /^out.*jpg$/.test(name))
    expect(new Uint8Array((await sharp(readFileSync(join(folder, jpeg))).metadata()).icc!)).toEqual(icc)
    expect(images(path)[0].colour).toBe('icc')
  })

  it('leave nothing where they are given up', async () => {
    const { path, sheets } = pdf({ format: { kind: 'pdf', ppi: 40 } })
    await sheets.add({ picture, development: settings({}), facts })
    await sheets.abort()
    expect(existsSync(path)).toBe(false)
    expect(existsSync(`${path}.jpg`)).toBe(false)
  })
})
