import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'
import { looksWhole } from './jpegCheck'

const kinds = new Map<string, Uint8Array>()
beforeAll(async () => {
  const picture = () => sharp({ create: { width: 70, height: 50, channels: 3, background: '#468' } })
  kinds.set('plain', await picture().jpeg().toBuffer())
  kinds.set('progressive', await picture().jpeg({ progressive: true }).toBuffer())
  kinds.set('with Exif', await picture().withMetadata({ orientation: 6 }).jpeg().toBuffer())
  kinds.set('padded', Buffer.concat([await picture().jpeg().toBuffer(), Buffer.alloc(20)]))
})

describe('a JPEG', () => {
  it('of every kind is known as whole', () => {
    for (const [kind, bytes] of kinds) expect([kind, looksWhole(bytes)]).toEqual([kind, true])
  })

  it('that is cut short, or spoiled before its scan, is not', () => {
    for (const bytes of kinds.values()) {
      for (const part of [0, 1, 20, bytes.length >> 1, bytes.length - 60])
        expect(looksWhole(bytes.subarray(0, part))).toBe(false)
      const spoiled = Uint8Array.from(bytes)
      spoiled.fill(0, 2, 100)
      expect(looksWhole(spoiled)).toBe(false)
    }
  })

  it('without the tables that its frame needs is not', () => {
    const plain = kinds.get('plain')!
    for (const marker of [0xdb, 0xc4, 0xc0]) {
      const without = Uint8Array.from(plain)
      // every such segment becomes a comment
      for (let at = 2; without[at] === 0xff && without[at + 1] !== 0xda;) {
        const size = (without[at + 2] << 8) | without[at + 3]
        if (without[at + 1] === marker) without[at + 1] = 0xfe
        at += 2 + size
      }
      expect([marker, looksWhole(without)]).toEqual([marker, false])
    }
  })
})
