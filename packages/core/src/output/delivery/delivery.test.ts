import { describe, expect, it } from 'vitest'
import {
  deliveredSize,
  DeliverySchema,
  describeDelivery,
  FILE_FORMATS,
  FORMAT_KINDS,
  MAX_NAME_BYTES,
  nameFrom,
  namePatternProblem,
  safeName,
  SHIPPED_DELIVERIES,
  type DeliverySize,
  type NameFacts,
} from './index'

const LANDSCAPE = { width: 6000, height: 4000 }
const UPRIGHT = { width: 4000, height: 6000 }
const sized = (size: object, picture = LANDSCAPE) => {
  const { width, height } = deliveredSize(DeliverySchema.parse({ size }).size, picture)
  return [width, height]
}

describe('the size of a delivery', () => {
  it.each([
    [{ by: 'full' }, [6000, 4000], [4000, 6000]],
    [{ by: 'long edge', pixels: 3000 }, [3000, 2000], [2000, 3000]],
    [{ by: 'short edge', pixels: 1000 }, [1500, 1000], [1000, 1500]],
    // a box does not turn with the picture, a sheet of paper does
    [{ by: 'fit', width: 1500, height: 1500 }, [1500, 1000], [1000, 1500]],
    [{ by: 'fit', width: 3000, height: 600 }, [900, 600], [400, 600]],
    [{ by: 'fill', width: 1200, height: 1200 }, [1200, 1200], [1200, 1200]],
    [{ by: 'fill', width: 1600, height: 900 }, [1600, 900], [1600, 900]],
    [{ by: 'megapixels', megapixels: 6 }, [3000, 2000], [2000, 3000]],
    [{ by: 'percent', percent: 25 }, [1500, 1000], [1000, 1500]],
    [{ by: 'print', widthCm: 25.4, heightCm: 25.4, ppi: 300 }, [3000, 2000], [2000, 3000]],
    [{ by: 'print', widthCm: 20, heightCm: 30, ppi: 254 }, [3000, 2000], [2000, 3000]],
  ])('%o', (size, landscape, upright) => {
    expect(sized(size)).toEqual(landscape)
    expect(sized(size, UPRIGHT)).toEqual(upright)
  })

  it('is no larger than the picture unless that is asked for', () => {
    const large = { by: 'long edge', pixels: 12000 }
    expect(sized(large)).toEqual([6000, 4000])
    expect(sized({ ...large, enlarge: true })).toEqual([12000, 8000])
    expect(sized({ by: 'percent', percent: 200 })).toEqual([6000, 4000])
    // a box that is too large keeps its shape
    const small = { width: 600, height: 400 }
    expect(sized({ by: 'fill', width: 1000, height: 1000 }, small)).toEqual([400, 400])
    expect(sized({ by: 'fill', width: 1000, height: 1000, enlarge: true }, small)).toEqual([1000, 1000])
  })

  it('keeps the place of what fills a box, and always covers it', () => {
    const at = (x: number, y: number) => {
      const size = {
        by: 'fill',
        width: 900,
        height: 900,
        x,
        y,
        kernel: 'cubic',
        ppi: 300,
        enlarge: false,
      } as const
      return deliveredSize(size satisfies DeliverySize, LANDSCAPE)
    }
    expect(at(0, 0)).toEqual({ width: 900, height: 900, whole: { width: 1350, height: 900 }, x: 0, y: 0 })
    expect(at(1, 1)).toMatchObject({ x: 450, y: 0 })
    expect(at(0.5, 0.5)).toMatchObject({ x: 225, y: 0 })
    for (let i = 0; i < 200; i++) {
      const box = { width: 16 + ((i * 97) % 700), height: 16 + ((i * 61) % 500) }
      const picture = { width: 50 + ((i * 37) % 900), height: 50 + ((i * 53) % 900) }
      const size = DeliverySchema.parse({
        size: { by: 'fill', ...box, x: (i % 11) / 10, y: (i % 7) / 6 },
      }).size
      const { width, height, whole, x, y } = deliveredSize(size, picture)
      expect([x >= 0, y >= 0, x + width <= whole.width, y + height <= whole.height]).toEqual(
        new Array(4).fill(true),
      )
    }
  })

  it('has a pixel at least', () => {
    expect(sized({ by: 'long edge', pixels: 16 }, { width: 5000, height: 3 })).toEqual([16, 1])
  })
})

const facts: NameFacts = {
  ...{ name: 'HM0417', shoot: 'Mills: calendar', version: 'Evening', delivery: 'Web' },
  ...{ taken: '2026-05-14T06:52:11+02:00', camera: 'Veldrom 3', lens: 'Veldrom 28 mm f/2.8' },
  ...{ stars: 4, number: 7, of: 120, width: 2400, height: 1600 },
}

describe('the name of a file', () => {
  it('is made by its words in braces', () => {
    expect(nameFrom('{name}_{date}_{time}', facts)).toBe('HM0417_2026-05-14_065211')
    expect(nameFrom('{shoot} {number} {version} {delivery}', facts)).toBe('Mills- calendar 007 Evening Web')
    expect(nameFrom('{camera}, {lens}, {stars}, {width} x {height}', facts)).toBe(
      'Veldrom 3, Veldrom 28 mm f-2.8, 4, 2400 x 1600',
    )
    expect(nameFrom('{number}', { ...facts, number: 3, of: 5 })).toBe('03')
    expect(nameFrom('{date} {camera}', { ...facts, taken: undefined, camera: undefined })).toBe(
      'undated unknown camera',
    )
  })

  it('holds nothing that a disk does not take', () => {
    expect(safeName('a/b\\c:d*e?f"g<h>i|j\u0007')).toBe('a-b-c-d-e-f-g-h-i-j-')
    expect(safeName('../../etc')).toBe('-..-etc')
    expect(safeName('  . name. . ')).toBe('name')
    expect(safeName('...')).toBe('picture')
    expect(safeName('con')).toBe('con-')
    expect(safeName('COM1')).toBe('COM1-')
    expect(safeName('contact')).toBe('contact')
    // letters that are written in two ways are one
    expect(safeName('Schleuse fru\u0308h')).toBe('Schleuse fr\u00fch')
    for (const long of ['x'.repeat(400), '水'.repeat(200), 'é'.repeat(300)]) {
      const name = safeName(long)
      expect(long.startsWith(name)).toBe(true)
      const bytes = new TextEncoder().encode(name).length
      expect(bytes).toBeLessThanOrEqual(MAX_NAME_BYTES)
      expect(bytes).toBeGreaterThan(MAX_NAME_BYTES - 4)
    }
  })

  it('says what is wrong with its pattern', () => {
    expect(namePatternProblem('{name} {number}')).toBeUndefined()
    expect(namePatternProblem(' ')).toBe('A name is needed.')
    expect(namePatternProblem('{nombre}')).toBe('{nombre} stands for nothing.')
    expect(namePatternProblem('{name')).toBe('A brace is open.')
    expect(DeliverySchema.safeParse({ fileName: '{toString}' }).success).toBe(false)
  })
})

describe('a delivery', () => {
  it('is filled in where nothing is said, and refuses what makes no sense', () => {
    expect(DeliverySchema.parse({})).toMatchObject({
      format: { kind: 'jpeg', quality: 90, chroma: 'automatic' },
      size: { by: 'full' },
      ...{ space: 'srgb', metadata: 'all', fileName: '{name}', taken: 'number' },
    })
    for (const wrong of [
      { format: { kind: 'jpeg', bits: 16 } },
      { format: { kind: 'gif' } },
      { size: { by: 'long edge', pixels: 15 } },
      { size: { by: 'long edge', pixels: 60001 } },
      { size: { by: 'fit', width: 100 } },
      { space: 'linear-rec2020' },
      { colour: 1 },
      { fileName: '' },
      { place: { in: 'library', subfolder: '../elsewhere' } },
      { place: { in: 'library', subfolder: 'a/../../b' } },
      { place: { in: 'library', subfolder: '/etc' } },
      { place: { in: 'library', subfolder: 'C:\\Windows' } },
      { place: { in: 'folder' } },
    ])
      expect(DeliverySchema.safeParse(wrong).success, JSON.stringify(wrong)).toBe(false)
    expect(DeliverySchema.safeParse({ format: { kind: 'tiff' }, space: 'camera' }).success).toBe(true)
    expect(DeliverySchema.safeParse({ place: { in: 'library', subfolder: 'web/2026' } }).success).toBe(true)
  })

  it('says in a few words what it makes', () => {
    const said = (delivery: object) => describeDelivery(DeliverySchema.parse(delivery))
    expect(said({})).toBe('JPEG 90, full size')
    expect(said({ format: { kind: 'tiff' }, size: { by: 'print', widthCm: 42, heightCm: 29.7 } })).toBe(
      'TIFF 16 bit, 42 × 29.7 cm at 300 ppi',
    )
    expect(said({ size: { by: 'long edge', pixels: 2400 }, sharpening: { medium: 'screen' } })).toBe(
      'JPEG 90, long edge 2400 px, sharpened for screen',
    )
    expect(said({ format: { kind: 'original' } })).toBe('Original with its sidecar')
  })

  it('begins with some that are whole, each of another name', () => {
    for (const delivery of SHIPPED_DELIVERIES) expect(DeliverySchema.parse(delivery)).toEqual(delivery)
    expect(new Set(SHIPPED_DELIVERIES.map((d) => d.name)).size).toBe(SHIPPED_DELIVERIES.length)
  })

  it('knows an ending for each kind of file', () => {
    const endings = FORMAT_KINDS.map((kind) => FILE_FORMATS[kind].ending)
    expect(new Set(endings).size).toBe(endings.length)
  })
})
