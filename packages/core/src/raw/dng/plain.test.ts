import { describe, expect, it } from 'vitest'
import { invert, multiply, type Matrix3 } from '../../math'
import { spaces } from '../../colour'
import { TAG } from '../tiff/tags'
import { writePlainDng, type PlainPicture } from './plain'
import { readDng } from './reader'

const W = 32
const H = 300
const base: Omit<PlainPicture, 'samples' | 'layout' | 'referred'> = {
  width: W,
  height: H,
  white: 60000,
  colorMatrix: invert(spaces['display-p3'].toXyz),
  asShotNeutral: [0.5, 1, 0.75],
  about: new Map([[TAG.Model, { type: 'ascii', text: 'Veldrom 3' }]]),
}

/** Samples as the file stores them, strip after strip. */
function stored(file: Uint8Array, bytes: number): number[] {
  const view = new DataView(file.buffer, file.byteOffset)
  const out: number[] = []
  for (const s of readDng(file).segments)
    for (let at = s.offset; at < s.offset + s.length; at += bytes)
      out.push(
        bytes === 1 ? view.getUint8(at) : bytes === 2 ? view.getUint16(at, true) : view.getFloat32(at, true),
      )
  return out
}

describe('plain files', () => {
  it('of a mosaic say everything that the reader needs', () => {
    const samples = Uint16Array.from({ length: W * H }, (_, i) => (i * 37) & 0xffff)
    const file = writePlainDng({
      ...base,
      samples,
      layout: 'mosaic',
      referred: 'scene',
      pattern: [1, 0, 2, 1],
      black: [10, 20, 30, 40],
      blackRepeat: [2, 2],
      activeArea: [2, 4, H - 2, W],
    })
    const frame = readDng(file)
    expect(frame).toMatchObject({
      width: W,
      height: H,
      layout: 'mosaic',
      referred: 'scene',
      active: { x: 4, y: 2, width: W - 4, height: H - 4 },
    })
    expect(frame.levels.black).toMatchObject({ rows: 2, columns: 2, values: [10, 20, 30, 40] })
    expect(frame.levels.white).toEqual([60000])
    expect(frame.metadata.model).toBe('Veldrom 3')
    frame.colour.asShotNeutral.forEach((v, i) => expect(v).toBeCloseTo([0.5, 1, 0.75][i], 6))
    expect(stored(file, 2)).toEqual([...samples])
  })

  it('of a finished picture keep its codes, its curve and its primaries', () => {
    const samples = Uint8Array.from({ length: W * H * 3 }, (_, i) => (i * 11) & 255)
    const table = Uint16Array.from({ length: 256 }, (_, i) => i * i)
    const file = writePlainDng({
      ...base,
      samples,
      layout: 'linear',
      referred: 'display',
      linearisation: table,
    })
    const frame = readDng(file)
    expect(frame).toMatchObject({ layout: 'linear', referred: 'display' })
    expect(frame.linearisation).toEqual([...table])
    expect(stored(file, 1)).toEqual([...samples])
    const m = multiply(frame.colour.calibrations[0].colorMatrix, spaces['display-p3'].toXyz)
    const identity: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1]
    m.forEach((v, i) => expect(v).toBeCloseTo(identity[i], 6))
  })

  it('of floats keep them to the last bit', () => {
    const samples = Float32Array.from({ length: W * H * 3 }, (_, i) => Math.fround(i / 977 - 0.25))
    const file = writePlainDng({ ...base, white: 1, samples, layout: 'linear', referred: 'display' })
    expect(readDng(file).storage).toMatchObject({ float: true, bits: 32 })
    expect(stored(file, 4)).toEqual([...samples])
  })
})
