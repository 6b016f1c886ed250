import { profileOfSpace, srgbProfile, turned, uprightSize, type RgbProfile } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { placingOf, type Transform } from './placing'
import { imageProperties, xmpOf } from './properties'

const u16 = (n: number) => [(n >> 8) & 255, n & 255]
const u32 = (n: number) => [...u16(n >>> 16), ...u16(n & 65535)]
const text = (t: string) => [...t].map((c) => c.charCodeAt(0))
const box = (type: string, ...body: number[][]): number[] => {
  const all = body.flat()
  return [...u32(all.length + 8), ...text(type), ...all]
}
const full = (type: string, ...body: number[][]) => box(type, [0, 0, 0, 0], ...body)

const size = (w: number, h: number) => full('ispe', u32(w), u32(h))
const colours = (primaries: number, transfer: number) =>
  box('colr', text('nclx'), u16(primaries), u16(transfer), u16(1), [128])
const crop = (w: number, h: number, dx: [number, number], dy: [number, number]) =>
  box('clap', ...[w, 1, h, 1, ...dx, ...dy].map(u32))
const turn = (quarters: number) => box('irot', [quarters])
const mirror = (mode: number) => box('imir', [mode])

interface Item {
  id: number
  type?: string
  media?: string
  properties?: number[][]
  data?: number[]
}

/** A file of items, by the standard's tables (ISO/IEC 14496-12, 8.11; ISO/IEC 23008-12, 9.3). */
function fileOf(primary: number, items: Item[], references: [string, number, number[]][] = []): Uint8Array {
  const properties = items.flatMap((i) => i.properties ?? [])
  let next = 1
  const associations = items.flatMap(({ id, properties: own = [] }) => [
    ...u16(id),
    own.length,
    ...own.map(() => next++),
  ])
  let held = 0
  const places = items
    .filter((i) => i.data)
    .map(({ id, data }) => {
      const at = held
      held += data!.length
      // construction method 1: in the box of data
      return [...u16(id), ...u16(1), ...u16(0), ...u16(1), ...u32(at), ...u32(data!.length)]
    })
  const meta = full(
    'meta',
    full('pitm', u16(primary)),
    full(
      'iinf',
      u16(items.length),
      ...items.map(({ id, type = 'av01', media }) =>
        box('infe', [2, 0, 0, 0], u16(id), u16(0), text(type), [0], media ? [...text(media), 0] : []),
      ),
    ),
    box('iprp', box('ipco', ...properties), full('ipma', u32(items.length), associations)),
    full(
      'iref',
      ...references.map(([type, from, to]) => box(type, u16(from), u16(to.length), ...to.map(u16))),
    ),
    box('iloc', [1, 0, 0, 0], [0x44, 0x00], u16(places.length), ...places),
    box('idat', ...items.map((i) => i.data ?? [])),
  )
  return Uint8Array.from([...box('ftyp', text('avif'), u32(0), text('avif')), ...meta])
}

describe('what a file in boxes says of its picture', () => {
  it('is said of the main one, not of the first or the largest', () => {
    const file = fileOf(3, [
      { id: 1, properties: [size(800, 600), colours(1, 13), turn(1)] },
      { id: 2, properties: [size(4000, 3000)] },
      { id: 3, properties: [size(400, 300), colours(12, 13)] },
    ])
    const found = imageProperties(file)
    expect(found).toMatchObject({ width: 400, height: 300, placing: undefined })
    expect((found.profile as RgbProfile).toXyz).toEqual(profileOfSpace('display-p3').toXyz)
  })

  it('may be left to its tiles', () => {
    const file = fileOf(
      1,
      [
        { id: 1, type: 'grid', properties: [size(512, 256)] },
        { id: 2, properties: [size(256, 256), colours(9, 1), box('av1C', [0x81, 0, 0x60, 0])] },
      ],
      [['dimg', 1, [2, 2]]],
    )
    const found = imageProperties(file)
    expect(found).toMatchObject({ width: 512, height: 256, bits: 12 })
    expect((found.profile as RgbProfile).toXyz).toEqual(profileOfSpace('rec2020').toXyz)
  })

  it('tells how deep samples are by the picture or its coder', () => {
    const bits = (...properties: number[][]) =>
      imageProperties(fileOf(1, [{ id: 1, properties: [size(64, 64), ...properties] }])).bits
    expect(bits()).toBe(8)
    expect(bits(full('pixi', [3, 10, 10, 10]))).toBe(10)
    expect(bits(box('hvcC', [...new Array<number>(17).fill(0), 0xfa]))).toBe(10)
    expect(bits(box('av1C', [0x81, 0, 0x40, 0]))).toBe(10)
  })

  it('for a display of high range is refused', () => {
    for (const transfer of [16, 18])
      expect(() =>
        imageProperties(fileOf(1, [{ id: 1, properties: [size(64, 64), colours(9, transfer)] }])),
      ).toThrow(/high range/)
  })

  it('finds notes that speak of it, not of another picture', () => {
    const exif = (mark: number) => [0, 0, 0, 2, 9, 9, ...text('II*'), 0, 8, 0, 0, 0, 0, 0, mark, 0, 0, 0]
    const packet = (mark: string) => text(`<x>${mark}</x>`)
    const file = fileOf(
      2,
      [
        { id: 1, properties: [size(64, 64)] },
        { id: 2, properties: [size(64, 64)] },
        { id: 3, type: 'Exif', data: exif(1) },
        { id: 4, type: 'Exif', data: exif(2) },
        { id: 5, type: 'mime', media: 'application/rdf+xml', data: packet('other') },
        { id: 6, type: 'mime', media: 'application/rdf+xml', data: packet('own') },
      ],
      [
        ['cdsc', 3, [1]],
        ['cdsc', 4, [2]],
        ['cdsc', 5, [1]],
        ['cdsc', 6, [2]],
      ],
    )
    expect(imageProperties(file).exif?.[10]).toBe(2)
    expect(new TextDecoder().decode(xmpOf(file))).toBe('<x>own</x>')
  })

  it('is nothing where boxes are cut off', () => {
    const file = fileOf(1, [{ id: 1, properties: [size(64, 64), turn(1)] }])
    expect(imageProperties(file).width).toBe(64)
    for (let length = 0; length < file.length; length += 3) {
      const { width } = imageProperties(file.subarray(0, length))
      expect([0, 64]).toContain(width)
    }
  })
})

/** A picture of numbered places, transformed as the standard's words have it, place by place. */
function shownPlaces(width: number, height: number, transforms: readonly Transform[]): number[][] {
  let rows = Array.from({ length: height }, (_, y) => Array.from({ length: width }, (_, x) => y * width + x))
  for (const t of transforms) {
    const [w, h] = [rows[0].length, rows.length]
    if (t.kind === 'crop') {
      const left = t.dx + (w - 1) / 2 - (t.width - 1) / 2
      const top = t.dy + (h - 1) / 2 - (t.height - 1) / 2
      rows = rows.slice(top, top + t.height).map((row) => row.slice(left, left + t.width))
    } else if (t.kind === 'mirror') rows = t.upsideDown ? rows.reverse() : rows.map((row) => row.reverse())
    else
      for (let i = 0; i < t.quarters; i++) {
        const before = rows
        // against the clock: the last column becomes the first row
        rows = Array.from({ length: before[0].length }, (_, y) =>
          before.map((row) => row[row.length - 1 - y]),
        )
      }
  }
  return rows
}

describe('transforms in their order', () => {
  const steps: Transform[] = [
    { kind: 'crop', width: 6, height: 4, dx: 1, dy: -1 },
    { kind: 'turn', quarters: 1 },
    { kind: 'turn', quarters: 3 },
    { kind: 'mirror', upsideDown: true },
    { kind: 'mirror', upsideDown: false },
    { kind: 'crop', width: 4, height: 4, dx: 0, dy: 0 },
  ]
  const orders = steps.flatMap((a) => steps.flatMap((b) => steps.map((c) => [a, b, c])))

  it('show the same places as the steps one after the other', () => {
    const [width, height] = [10, 8]
    for (const order of orders) {
      // a crop that does not fit its picture is not met in files
      const small = order.some(
        (t, i) => t.kind === 'crop' && t.width === 6 && order.slice(0, i).some((p) => p.kind === 'crop'),
      )
      if (small) continue
      const truth = shownPlaces(width, height, order)
      const p = placingOf(width, height, order)
      const shown = uprightSize(p, p.orientation)
      expect([shown.width, shown.height]).toEqual([truth[0].length, truth.length])
      for (let y = 0; y < p.height; y++)
        for (let x = 0; x < p.width; x++) {
          const [tx, ty] = turned(x, y, p, p.orientation)
          expect(truth[ty][tx], JSON.stringify(order)).toBe((p.y + y) * width + p.x + x)
        }
    }
  })

  it('are read from the file as they stand there', () => {
    const placing = (...properties: number[][]) =>
      imageProperties(fileOf(1, [{ id: 1, properties: [size(40, 30), ...properties] }])).placing
    expect(placing(turn(1))).toMatchObject({ width: 40, height: 30, orientation: 8 })
    expect(placing(turn(2))?.orientation).toBe(3)
    expect(placing(turn(3))?.orientation).toBe(6)
    expect(placing(mirror(0))?.orientation).toBe(4)
    expect(placing(mirror(1))?.orientation).toBe(2)
    expect(placing(turn(1), mirror(1))?.orientation).not.toBe(placing(mirror(1), turn(1))?.orientation)
    // a crop's offset is between the centres, and may be halves and negative
    expect(placing(crop(20, 10, [-10, 2], [6, 2]))).toEqual({
      x: 5,
      y: 13,
      width: 20,
      height: 10,
      orientation: 1,
    })
  })
})

it('without code points or a profile the colours are those of sRGB', () => {
  const { profile } = imageProperties(fileOf(1, [{ id: 1, properties: [size(64, 64)] }]))
  expect((profile as RgbProfile).toXyz).toEqual(srgbProfile().toXyz)
})
