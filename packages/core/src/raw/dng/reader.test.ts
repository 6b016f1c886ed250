import { describe, expect, it } from 'vitest'
import { writeDng } from '@dunkelkammer/demo'
import { random } from '../../../test/bench'
import { contents } from '../../../test/files'
import { RawError } from '../error'
import { readDng } from './reader'

const refusal = (bytes: Uint8Array): RawError | undefined => {
  try {
    readDng(bytes)
    return undefined
  } catch (error) {
    expect(error).toBeInstanceOf(RawError)
    return error as RawError
  }
}

/** Changes one 32-bit value of the first entry with a tag, wherever it is. */
function patch(bytes: Uint8Array, tag: number, value: number, at = 8): Uint8Array {
  const out = bytes.slice()
  const view = new DataView(out.buffer)
  for (let i = 0; i + 12 <= out.length; i++)
    if (
      view.getUint16(i, true) === tag &&
      [3, 4].includes(view.getUint16(i + 2, true)) &&
      view.getUint32(i + 4, true) === 1
    ) {
      view.setUint32(i + at, value, true)
      return out
    }
  throw new Error(`tag ${tag} is not there`)
}

describe('DNG reader', () => {
  it('understands what the writer wrote', () => {
    const preview = { jpeg: Uint8Array.of(0xff, 0xd8, 1, 2, 3, 4, 0xff, 0xd9), width: 6, height: 4 }
    const bytes = writeDng(contents({ preview }))
    const frame = readDng(bytes)
    expect(frame).toMatchObject({
      width: 64,
      height: 48,
      picture: { x: 0, y: 0, width: 64, height: 48 },
      layout: 'mosaic',
      pattern: { size: 2, colours: [0, 1, 1, 2] },
      storage: { compression: 'lossless-jpeg', bits: 14, float: false, samples: 1, littleEndian: true },
      levels: { black: { rows: 2, columns: 2, values: [512, 513, 514, 515] }, white: [15800] },
      metadata: {
        make: 'Ostrava & Linde',
        model: 'Veldrom 3',
        lens: 'Veldrom 28 mm f/2.8',
        iso: 400,
        exposureTime: 1 / 320,
        fNumber: 5.6,
        focalLength: 28,
        taken: '2026-05-14T06:52:11',
        artist: 'Zoë Ångström',
        orientation: 1,
      },
    })
    expect(frame.segments).toHaveLength(4)
    expect(frame.colour.asShotNeutral).toEqual([0.5, 1, 0.75])
    expect(frame.noise).toHaveLength(3)
    const { offset, length } = frame.preview!
    expect(bytes.slice(offset, offset + length)).toEqual(preview.jpeg)
  })

  it('reads a strip of plain 16-bit samples', () => {
    const bytes = writeDng(contents({ compression: 'none', tile: undefined }))
    const { segments, storage } = readDng(bytes)
    expect(storage.compression).toBe('none')
    const [{ offset, length }] = segments
    expect(length).toBe(64 * 48 * 2)
    expect(new DataView(bytes.buffer).getUint16(offset + 2, true)).toBe(601)
  })

  it('refuses what is no DNG, empty, or of a kind not read yet, each in a sentence', () => {
    const text = new TextEncoder().encode('This is only a text file, named as if it were raw.')
    expect(refusal(text)?.code).toBe('not-raw')
    expect(refusal(new Uint8Array())?.code).toBe('not-raw')
    const bytes = writeDng(contents())
    expect(refusal(patch(bytes, 259, 5))?.message).toMatch(/compression/)
    expect(refusal(patch(bytes, 262, 2))?.message).toMatch(/mosaic/)
    expect(refusal(patch(bytes, 258, 24))?.message).toMatch(/bits/)
    expect(
      refusal(
        writeDng(contents({ calibrations: [{ illuminant: 21, colorMatrix: [0, 0, 0, 0, 0, 0, 0, 0, 0] }] })),
      )?.message,
    ).toMatch(/matrix/)
    expect(refusal(writeDng(contents({ white: 400 })))?.message).toMatch(/white level/)
    expect(refusal(writeDng(contents({ pattern: [0, 1, 2, 1] })))?.message).toMatch(/pattern/)
  })

  it('names the size of what is too large', () => {
    const huge = refusal(patch(patch(writeDng(contents()), 256, 60000), 257, 40000))
    expect(huge?.code).toBe('too-large')
    expect(huge?.message).toMatch(/2400 megapixels/)
  })

  it('survives being cut off anywhere', () => {
    const bytes = writeDng(contents())
    let refused = 0
    for (let n = 0; n < bytes.length; n += 7) if (refusal(bytes.slice(0, n))) refused++
    // the directories stand at the end, so every cut takes something
    expect(refused).toBe(Math.ceil(bytes.length / 7))
  })

  it('survives thousands of damaged files', () => {
    const bytes = writeDng(contents())
    const next = random(21)
    let refused = 0
    for (let i = 0; i < 3000; i++) {
      const broken = bytes.slice()
      // directories and their values are behind the picture
      const from = Math.floor(bytes.length * 0.6)
      for (let k = 0; k < 1 + (i % 3); k++)
        broken[from + Math.floor(next() * (bytes.length - from))] = Math.floor(next() * 256)
      if (refusal(broken)) refused++
    }
    expect(refused).toBeGreaterThan(300)
  })
})
