import { describe, expect, it } from 'vitest'
import { DeliverySchema, describeDelivery } from './delivery'
import { cuttingLines, inCell, pageOf, SheetSchema, type PaperRect } from './sheet'

const LYING = { width: 6000, height: 4000 }
const UPRIGHT = { width: 4000, height: 6000 }
const MM = 72 / 25.4

describe('a page', () => {
  it('has the size of its paper, to the point', () => {
    const sheet = SheetSchema.parse({ paper: 'A3' })
    const { width, height } = pageOf(sheet, LYING)
    expect([width / MM, height / MM].map((v) => v.toFixed(3))).toEqual(['420.000', '297.000'])
    expect(pageOf(sheet, UPRIGHT).height / MM).toBeCloseTo(420)
    const own = SheetSchema.parse({ paper: 'own', width: 300, height: 100, turn: 'upright' })
    expect(pageOf(own, LYING).height / MM).toBeCloseTo(300)
  })

  it('holds its cells within the margins, apart by the gap, in the order of reading', () => {
    const sheet = SheetSchema.parse({
      turn: 'upright',
      columns: 3,
      rows: 4,
      margin: 10,
      gap: 6,
      caption: '{name}',
    })
    const { width, height, cells, caption } = pageOf(sheet, LYING)
    expect(cells).toHaveLength(12)
    expect(cells[0].x).toBeCloseTo(10 * MM)
    expect(cells[0].y + cells[0].height).toBeCloseTo(height - 10 * MM)
    expect(cells[1].x - cells[0].x - cells[0].width).toBeCloseTo(6 * MM)
    expect(cells[2].x + cells[2].width).toBeCloseTo(width - 10 * MM)
    // the caption lies between a picture and the gap below it
    expect(cells[0].y - cells[3].y - cells[3].height).toBeCloseTo(6 * MM + caption)
    expect(cells[11].y - caption).toBeCloseTo(10 * MM)
  })

  it('lies where that gives pictures more room', () => {
    const turned = (part: object, first = LYING) => {
      const { width, height } = pageOf(SheetSchema.parse(part), first)
      return width > height
    }
    expect(turned({ columns: 1, rows: 1 })).toBe(true)
    expect(turned({ columns: 1, rows: 2 })).toBe(false)
    expect(turned({ columns: 2, rows: 1 }, UPRIGHT)).toBe(true)
  })
})

describe('a picture in its cell', () => {
  const cell: PaperRect = { x: 50, y: 60, width: 288, height: 144 }
  it('is as large as fits, in the middle, in its own shape', () => {
    for (const picture of [LYING, UPRIGHT]) {
      const { at } = inCell(cell, picture, 300)
      expect(at.width / at.height).toBeCloseTo(picture.width / picture.height)
      expect(at.height).toBeCloseTo(144)
      expect(at.x + at.width / 2).toBeCloseTo(50 + 144)
      expect(at.y).toBeCloseTo(60)
    }
  })

  it('has the pixels that the paper takes, and no more than it had', () => {
    // two inches high
    expect(inCell(cell, LYING, 300)).toMatchObject({ pixels: { width: 900, height: 600 }, ppi: 300 })
    expect(inCell(cell, { width: 300, height: 200 }, 300)).toMatchObject({
      pixels: { width: 300, height: 200 },
      ppi: 100,
    })
  })
})

it('cutting marks lie outside of the picture, in line with its edges', () => {
  const at = { x: 100, y: 200, width: 50, height: 30 }
  const lines = cuttingLines(at)
  expect(lines).toHaveLength(8)
  for (const [x1, y1, x2, y2] of lines) {
    const lying = y1 === y2
    if (lying) expect([200, 230]).toContain(y1)
    else expect([100, 150]).toContain(x1)
    for (const v of lying ? [x1, x2] : [y1, y2]) {
      const [from, to] = lying ? [100, 150] : [200, 230]
      expect(v < from - 2 || v > to + 2).toBe(true)
    }
  }
})

describe('a delivery of pages', () => {
  it('says what it makes', () => {
    const made = (format: object) =>
      describeDelivery(DeliverySchema.parse({ format: { kind: 'pdf', ...format } }))
    expect(made({})).toBe('PDF for print, A4')
    expect(made({ paper: 'own', width: 100, height: 150, columns: 2, rows: 3 })).toBe(
      'PDF for print, 100 × 150 mm, 2 × 3 on a page',
    )
  })

  it.each([
    [{ margin: 120 }, /leave no room/],
    [{ caption: '{nmae}' }, /stands for nothing/],
  ])('is refused with a sentence: %o', (format, why) => {
    const read = DeliverySchema.safeParse({ format: { kind: 'pdf', ...format } })
    expect(read.error?.issues[0].message).toMatch(why)
  })
})
