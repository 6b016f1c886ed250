import { beforeAll, describe, expect, it } from 'vitest'
import { writeDng } from '@dunkelkammer/demo'
import { testBench } from '../../test/bench'
import { contents, decodeFile } from '../../test/files'
import { fuzz, seeds } from '../../test/fuzz'
import type { Kernels } from '../kernels/kernels'
import type { Scratch } from '../memory'
import { inflate } from './decode/inflate'
import { RawError } from './error'
import { readDng } from './dng/reader'
import { zlibSync } from 'fflate'

let kernels: Kernels
let scratch: Scratch
beforeAll(async () => ({ kernels, scratch } = await testBench(48)))

const refusal = (act: () => unknown): RawError => {
  try {
    act()
  } catch (error) {
    expect(error).toBeInstanceOf(RawError)
    return error as RawError
  }
  throw new Error('it was taken for a sound file')
}

describe('hostile files', () => {
  it('takes all seeds as they are', () => {
    for (const seed of seeds()) {
      scratch.release()
      expect(decodeFile(kernels, scratch, seed).frame.width).toBe(64)
    }
  })

  it('ends with a picture or a sentence for thousands of damaged files', () => {
    const count = fuzz(kernels, scratch, 0, 6000)
    expect(count.read + count.refused).toBe(6000)
    // most damage is found, and not everything is refused out of hand
    expect(count.refused).toBeGreaterThan(2000)
    expect(count.read).toBeGreaterThan(500)
  })

  it('refuses every file that is cut off', () => {
    for (const seed of seeds())
      for (let n = 0; n < seed.length; n += 97)
        refusal(() => decodeFile(kernels, (scratch.release(), scratch), seed.slice(0, n)))
  })

  it('follows directories that point to each other only once', () => {
    const bytes = writeDng(contents())
    const view = new DataView(bytes.buffer)
    const first = view.getUint32(4, true)
    const entries = view.getUint16(first, true)
    view.setUint32(first + 2 + entries * 12, first, true)
    expect(readDng(bytes).width).toBe(64)
    // SubIFDs that lead back to the main directory
    for (let i = 0; i < entries; i++) {
      const at = first + 2 + i * 12
      if (view.getUint16(at, true) === 330) view.setUint32(at + 8, first, true)
    }
    expect(refusal(() => readDng(bytes)).message).toMatch(/neither the mosaic/)
  })

  it('does not unpack more than the picture can hold', () => {
    const bomb = zlibSync(new Uint8Array(16 << 20))
    expect(bomb.length).toBeLessThan(20000)
    expect(inflate(bomb, 1000)).toEqual(new Uint8Array(1000))
    expect(refusal(() => inflate(zlibSync(new Uint8Array(999)), 1000)).message).toMatch(/cut off/)
    expect(refusal(() => inflate(Uint8Array.of(1, 2, 3, 4, 5), 1000)).message).toMatch(/decompressed|cut off/)
  })

  it('refuses sizes that the file cannot hold before it takes memory for them', () => {
    const claim = (part: object) => {
      const bytes = writeDng(contents({ tile: undefined, ...part }))
      const view = new DataView(bytes.buffer)
      for (let i = 0; i + 12 <= bytes.length; i += 2)
        if (
          [256, 257, 278].includes(view.getUint16(i, true)) &&
          view.getUint16(i + 2, true) === 4 &&
          view.getUint32(i + 4, true) === 1
        )
          view.setUint32(i + 8, 9000, true)
      return bytes
    }
    for (const part of [{ compression: 'none' }, {}, { compression: 'deflate', bits: 16 }])
      expect(refusal(() => readDng(claim(part))).message).toMatch(/cut off|missing|impossible/)
  })
})
