import type { FrameMetadata } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { exifBlock } from '../encode/exif'
import { metadataOf } from './exif'

const taking: FrameMetadata = {
  make: 'Ostrava & Linde',
  model: 'Veldrom Pocket',
  lens: 'Veldrom 50-100 mm f/2.8',
  iso: 200,
  exposureTime: 1 / 250,
  fNumber: 5.6,
  focalLength: 80,
  focalLength35: 122,
  taken: '2026-05-14T05:41:09.310+02:00',
  artist: 'Marit Oudendijk',
  copyright: '© Hollenbeek Mills trust',
  description: 'Nebel über dem Polder, 水門',
  position: { north: 52.0714, east: -4.9031, height: -1.5 },
  orientation: 1,
}

describe('what a delivery says of the taking', () => {
  it('is read back as it was', () => {
    const { position, ...rest } = { ...metadataOf(exifBlock(taking)), exif: undefined }
    const { position: wanted, ...others } = taking
    expect(rest).toEqual({ ...others, exif: undefined })
    // to a thousandth of a second of arc: three centimetres
    expect(position!.north).toBeCloseTo(wanted!.north, 6)
    expect(position!.east).toBeCloseTo(wanted!.east, 6)
    expect(position!.height).toBeCloseTo(wanted!.height!, 2)
  })

  it('keeps a position at the very edges of its units', () => {
    for (const [north, east] of [
      [0, 0],
      [-89.9999999, 179.9999999],
      [59.99999999, -0.00000001],
    ]) {
      const { position } = metadataOf(exifBlock({ orientation: 1, position: { north, east } }))
      expect(position!.north).toBeCloseTo(north, 6)
      expect(position!.east).toBeCloseTo(east, 6)
      expect(position!.height).toBeUndefined()
    }
  })

  it('of a damaged block is nothing, and no error', () => {
    const block = exifBlock(taking)
    const nothing = { orientation: 1 }
    expect(metadataOf(undefined)).toEqual(nothing)
    expect(metadataOf(new Uint8Array(20))).toEqual(nothing)
    expect(metadataOf(block.subarray(0, 60))).toEqual(nothing)
    const lost = block.slice()
    new DataView(lost.buffer).setUint32(4, 0x7fffffff, true)
    expect(metadataOf(lost)).toEqual(nothing)
  })
})
