import { describe, expect, it } from 'vitest'
import { Ifd } from '../tiff/reader'
import { GPS, TAG } from '../tiff/tags'
import { layOut, tiffHeader, type Directory, type TagValue } from '../tiff/writer'
import { readMetadata } from './metadata'

const text = (t: string): TagValue => ({ type: 'ascii', text: t })
const ratios = (...values: [number, number][]): TagValue => ({ type: 'rational', values })

/** Metadata of directories as a file would hold them. */
function read(exif: Directory, gps?: Directory, main: Directory = new Map(), little = true) {
  const all: Directory = new Map([...main, [TAG.ExifIfd, { type: 'directory', entries: exif }]])
  if (gps) all.set(TAG.GpsIfd, { type: 'directory', entries: gps })
  const body = layOut(all, 8, little)
  const bytes = new Uint8Array(8 + body.length)
  bytes.set(tiffHeader(8, little))
  bytes.set(body, 8)
  const view = new DataView(bytes.buffer)
  const first = new Ifd(view, little, 8)
  const at = (tag: number) => {
    const place = first.number(tag)
    return place === undefined ? undefined : new Ifd(view, little, place)
  }
  return readMetadata(first, at(TAG.ExifIfd), at(TAG.GpsIfd))
}

const somewhere = (part: [number, TagValue][] = []): Directory =>
  new Map<number, TagValue>([
    [GPS.LatitudeRef, text('N')],
    [GPS.Latitude, ratios([52, 1], [4, 1], [17040, 1000])],
    [GPS.LongitudeRef, text('E')],
    [GPS.Longitude, ratios([4, 1], [54, 1], [11160, 1000])],
    ...part,
  ])

describe('time', () => {
  const taken = (exif: [number, TagValue][]) => read(new Map(exif)).taken
  const date: [number, TagValue] = [TAG.DateTimeOriginal, text('2026:05:14 06:52:11')]

  it('has parts of a second and a zone where the file says them', () => {
    expect(taken([date])).toBe('2026-05-14T06:52:11')
    expect(taken([date, [TAG.SubSecTimeOriginal, text('07')]])).toBe('2026-05-14T06:52:11.07')
    expect(taken([date, [TAG.OffsetTimeOriginal, text('-03:30')]])).toBe('2026-05-14T06:52:11-03:30')
    expect(
      taken([date, [TAG.SubSecTimeOriginal, text('310')], [TAG.OffsetTimeOriginal, text('+02:00')]]),
    ).toBe('2026-05-14T06:52:11.310+02:00')
  })

  it('is not known where it is no time', () => {
    for (const bad of ['0000:00:00', 'yesterday', '2026-05-14 06:52:11', ''])
      expect(taken([[TAG.DateTimeOriginal, text(bad)]]), bad).toBeUndefined()
  })
})

describe('position', () => {
  it.each([true, false])('is read in either byte order (%s)', (little) => {
    const { position } = read(new Map(), somewhere(), new Map(), little)
    expect(position!.north).toBeCloseTo(52 + 4 / 60 + 17.04 / 3600, 9)
    expect(position!.east).toBeCloseTo(4 + 54 / 60 + 11.16 / 3600, 9)
    expect(position!.height).toBeUndefined()
  })

  it('is negative in the south, in the west and below the sea', () => {
    const { position } = read(
      new Map(),
      somewhere([
        [GPS.LatitudeRef, text('S')],
        [GPS.LongitudeRef, text('W')],
        [GPS.AltitudeRef, { type: 'byte', values: [1] }],
        [GPS.Altitude, ratios([42, 10])],
      ]),
    )
    expect(position!.north).toBeCloseTo(-52.0714, 4)
    expect(position!.east).toBeCloseTo(-4.9031, 4)
    expect(position!.height).toBeCloseTo(-4.2, 9)
  })

  it('is left out where it is incomplete or impossible', () => {
    const without = (tag: number) => {
      const gps = somewhere()
      gps.delete(tag)
      return read(new Map(), gps).position
    }
    expect(without(GPS.Latitude)).toBeUndefined()
    expect(without(GPS.Longitude)).toBeUndefined()
    const broken = (value: TagValue) => read(new Map(), somewhere([[GPS.Latitude, value]])).position
    expect(broken(ratios([91, 1], [0, 1], [0, 1]))).toBeUndefined()
    expect(broken(ratios([52, 0], [4, 1], [0, 1]))).toBeUndefined()
    expect(broken(ratios([0, 0], [0, 0], [0, 0]))).toBeUndefined()
  })
})

describe('lens', () => {
  it('has its focal length and what it is on full 35 mm film', () => {
    const exif: Directory = new Map([
      [TAG.FocalLength, ratios([125, 10])],
      [TAG.FocalLength35, { type: 'short', values: [19] }],
    ])
    expect(read(exif)).toMatchObject({ focalLength: 12.5, focalLength35: 19 })
    // 0 stands for not known (Exif 3)
    expect(read(new Map([[TAG.FocalLength35, { type: 'short', values: [0] }]])).focalLength35).toBeUndefined()
  })
})
