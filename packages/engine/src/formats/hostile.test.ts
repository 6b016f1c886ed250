import { readFileSync } from 'node:fs'
import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'
import { iccProfile, readDng, readIcc, RawError, spaces } from '@dunkelkammer/core'
import { Adapter, type AdaptThread } from './adapter'
import { imageProperties } from './container/properties'
import { unLzw, unPackBits } from './tiff/lzw'
import type { AdaptAnswer } from './messages'
import { nodeCodecs } from './node'
import { serveAdapt } from './serveAdapt'

/** Numbers that look random and are the same each time (Park and Miller 1988). */
function random(seed: number): () => number {
  let state = seed
  return () => (state = (state * 48271) % 2147483647) / 2147483647
}

const W = 96
const H = 64
const seeds = new Map<string, Uint8Array>()
beforeAll(async () => {
  const picture = Buffer.from(Array.from({ length: W * H * 3 }, (_, i) => (i * 7 + ((i * i) >> 9)) & 255))
  const source = () => sharp(picture, { raw: { width: W, height: H, channels: 3 } })
  const made: [string, Promise<Buffer>][] = [
    ['jpeg', source().withMetadata({ orientation: 6 }).jpeg().toBuffer()],
    ['progressive', source().jpeg({ progressive: true }).toBuffer()],
    ['png', source().png().toBuffer()],
    ['tiff', source().tiff({ compression: 'lzw', predictor: 'horizontal' }).toBuffer()],
    [
      'tiles',
      source().tiff({ compression: 'deflate', tile: true, tileWidth: 32, tileHeight: 32 }).toBuffer(),
    ],
    ['runs', source().tiff({ compression: 'packbits' }).toBuffer()],
    ['webp', source().webp().toBuffer()],
    ['avif', source().avif({ effort: 0 }).toBuffer()],
  ]
  for (const [name, bytes] of made) seeds.set(name, new Uint8Array(await bytes))
  seeds.set('heif', new Uint8Array(readFileSync(new URL('../../test/files/ramp.heic', import.meta.url))))
})

describe('damaged pictures', () => {
  it.each(['jpeg', 'progressive', 'png', 'tiff', 'tiles', 'runs', 'webp', 'avif', 'heif'])(
    '%s: every mutant is either read or refused in words',
    async (name) => {
      const seed = seeds.get(name)!
      const next = random(name.length * 7919 + seed.length)
      let refused = 0
      for (let i = 0; i < 40; i++) {
        const bytes = seed.slice(0, i % 5 ? undefined : Math.floor(seed.length * next()))
        const places = 1 + Math.floor(next() * 6)
        for (let k = 0; k < places && bytes.length; k++) {
          // half of the damage near the start, where the structure lies
          const at = Math.floor(next() * (k % 2 ? bytes.length : Math.min(bytes.length, 300)))
          bytes[at] = next() < 0.3 ? 255 : Math.floor(next() * 256)
        }
        const answer = await serveAdapt({ id: i, bytes }, nodeCodecs)
        expect(answer.id).toBe(i)
        if ('dng' in answer) {
          // what was cut so that it seems a raw file is refused by the reader
          const size = answer.format === 'dng' ? undefined : readDng(answer.dng)
          expect((size?.width ?? 16) * (size?.height ?? 16)).toBeLessThanOrEqual(100e6)
        } else {
          refused++
          expect(answer.message).toMatch(/^This .*\.$/)
        }
      }
      expect(refused).toBeGreaterThan(0)
    },
  )

  it('profiles: every mutant gives finite colours or is refused', () => {
    const next = random(77)
    for (let i = 0; i < 400; i++) {
      const bytes = iccProfile(Object.values(spaces)[i % 5])
      for (let k = 0; k < 3; k++) bytes[Math.floor(next() * bytes.length)] = Math.floor(next() * 256)
      try {
        const { curves, toXyz } = readIcc(bytes)
        expect(toXyz.every(Number.isFinite)).toBe(true)
        for (const v of [0, 0.2, 1]) expect(Number.isNaN(curves[i % 3](v))).toBe(false)
      } catch (error) {
        expect(error).toBeInstanceOf(RawError)
      }
    }
  })

  it('boxes that lie about their size end the reading', () => {
    const avif = seeds.get('avif')!.slice()
    const before = imageProperties(avif)
    expect([before.width, before.height]).toEqual([W, H])
    new DataView(avif.buffer).setUint32(0, 0xffffffff)
    expect(imageProperties(avif)).toMatchObject({ width: 0, height: 0 })
  })
})

describe('decompression', () => {
  it('takes the runs of the standard’s own example apart (TIFF 6.0, section 9)', () => {
    const packed = Uint8Array.from([
      0xfe, 0xaa, 0x02, 0x80, 0x00, 0x2a, 0xfd, 0xaa, 0x03, 0x80, 0x00, 0x2a, 0x22, 0xf7, 0xaa,
    ])
    const plain = 'aa aa aa 80 00 2a aa aa aa aa 80 00 2a 22 aa aa aa aa aa aa aa aa aa aa'
      .split(' ')
      .map((h) => parseInt(h, 16))
    expect([...unPackBits(packed, 24)]).toEqual(plain)
    expect(() => unPackBits(packed, 25)).toThrow(/cut off/)
  })

  it('takes codes of the standard’s own example apart (TIFF 6.0, section 13)', () => {
    // 7 7 7 8 8 7 7 6 6: clear, 7, 258, 8, 8, 258, 6, 6, end
    const codes = [256, 7, 258, 8, 8, 258, 6, 6, 257]
    let bits = codes.map((c) => c.toString(2).padStart(9, '0')).join('')
    bits = bits.padEnd(Math.ceil(bits.length / 8) * 8, '0')
    const packed = Uint8Array.from(bits.match(/.{8}/g)!, (b) => parseInt(b, 2))
    expect([...unLzw(packed, 9)]).toEqual([7, 7, 7, 8, 8, 7, 7, 6, 6])
    expect(() => unLzw(packed, 10)).toThrow(/cut off/)
    // a code that no entry stands for
    expect(() => unLzw(Uint8Array.from([0x80, 0x3f, 0xff, 0xff]), 9)).toThrow(/decompressed|cut off/)
  })

  it('stops at the stated size, whatever would follow', () => {
    expect(unPackBits(Uint8Array.from([0x81, 5, 0x81, 5, 0x81, 5]), 10)).toEqual(new Uint8Array(10).fill(5))
  })
})

describe('the thread that adapts', () => {
  /** A thread that answers by hand. */
  function byHand() {
    const sent: { id: number; bytes: Uint8Array }[] = []
    let receive!: (answer: AdaptAnswer) => void
    let broken!: (reason: Error) => void
    let stopped = 0
    const thread: AdaptThread = {
      post: (request) => void sent.push(request),
      listen: (r, b) => ([receive, broken] = [r, b]),
      stop: () => void stopped++,
    }
    return {
      adapter: new Adapter(() => thread),
      sent,
      answer: (a: AdaptAnswer) => receive(a),
      breakDown: () => broken(new Error('gone')),
      stopped: () => stopped,
    }
  }

  it('gives each file its own answer, in whatever order they come', async () => {
    const { adapter, sent, answer } = byHand()
    const [a, b] = [adapter.adapt(Uint8Array.of(1)), adapter.adapt(Uint8Array.of(2))]
    expect(sent.map((s) => s.bytes[0])).toEqual([1, 2])
    answer({ id: sent[1].id, dng: Uint8Array.of(22), format: 'png' })
    answer({ id: sent[0].id, code: 'damaged', message: 'This file is damaged: so it is.' })
    await expect(a).rejects.toThrow('so it is')
    expect((await b).dng[0]).toBe(22)
    adapter.stop()
  })

  it('refuses what was waiting when it breaks down, and begins anew', async () => {
    const { adapter, sent, breakDown, answer, stopped } = byHand()
    const lost = adapter.adapt(Uint8Array.of(1))
    breakDown()
    await expect(lost).rejects.toThrow('This file is damaged: reading it failed.')
    expect(stopped()).toBe(1)
    const next = adapter.adapt(Uint8Array.of(3))
    answer({ id: sent[1].id, dng: Uint8Array.of(3), format: 'dng' })
    expect((await next).format).toBe('dng')
    adapter.stop()
  })
})
