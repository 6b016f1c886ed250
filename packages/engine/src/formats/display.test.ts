import { iccProfile, spaces, type SpaceId } from '@dunkelkammer/core'
import { deflateSync } from 'node:zlib'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { asDelivered, worst } from '../../test/asDelivered'
import { tableProfile } from '../../test/tableProfile'
import { testEngine } from '../../test/engines'
import type { Engine } from '../host/engine'

const [W, H] = [64, 48]
/** Every corner of the cube, every grey, ramps along its edges and colours from everywhere. */
const cube = (() => {
  const out = new Uint8Array(W * H * 3)
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x
      const level = Math.min(Math.floor((i % 1024) / 4), 255)
      const rgb =
        y < 8
          ? [y & 1, (y >> 1) & 1, y >> 2].map((v) => v * 255)
          : y < 12
            ? [(y - 8) * 64 + x, (y - 8) * 64 + x, (y - 8) * 64 + x]
            : y < 28
              ? [level, 255 - (level >> 1), y % 2 ? 0 : 255]
              : [(i * 37) % 256, (i * 101) % 256, (i * 17) % 256]
      out.set(rgb, i * 3)
    }
  return out
})()

let engine: Engine
beforeAll(() => void (engine = testEngine()))
afterAll(() => engine.stop())

/** A PNG with a profile, its samples as they are. */
async function png(samples: Uint8Array | Uint16Array, channels: 1 | 3, icc: Uint8Array) {
  const plain = sharp(samples, { raw: { width: W, height: H, channels } })
  const bytes = await (
    samples instanceof Uint16Array
      ? plain.toColourspace(channels === 1 ? 'grey16' : 'rgb16')
      : plain.toColourspace(channels === 1 ? 'b-w' : 'srgb')
  )
    .png()
    .toBuffer()
  const packed = deflateSync(icc)
  const chunk = Buffer.concat([Buffer.alloc(4), Buffer.from('iCCPx\0\0', 'latin1'), packed, Buffer.alloc(4)])
  // checksums of what is not the picture are not looked at
  chunk.writeUInt32BE(packed.length + 3)
  return Buffer.concat([bytes.subarray(0, 33), chunk, bytes.subarray(33)])
}

describe('a picture to which nothing is done', () => {
  it.each<SpaceId>(['srgb', 'display-p3', 'rec2020', 'oprgb'])(
    'comes out as it was, number by number, in %s',
    async (space) => {
      const bytes = await png(cube, 3, iccProfile(spaces[space]))
      expect(worst((await asDelivered(engine, bytes, space)).pixels, cube)).toBe(0)
      const deep = Uint16Array.from(cube, (v, i) => Math.min(v * 257 + (i % 200), 65535))
      const { pixels } = await asDelivered(engine, await png(deep, 3, iccProfile(spaces[space])), space, 16)
      let squares = 0
      for (let i = 0; i < deep.length; i++) squares += (pixels[i] - deep[i]) ** 2
      expect(10 * Math.log10(65535 ** 2 / (squares / deep.length))).toBeGreaterThan(80)
    },
  )
})

describe('a profile made of tables', () => {
  it('gives the colours that it stands for', async () => {
    // away from the ends, where a table of 33 steps is too coarse for the curve
    const soft = cube.map((v) => 60 + Math.round(v * 0.6))
    const { pixels } = await asDelivered(engine, await png(soft, 3, tableProfile(3)))
    expect(worst(pixels, soft)).toBeLessThanOrEqual(2)
  })

  it('gives greys', async () => {
    const grey = cube.filter((_, i) => i % 3 === 0)
    const { pixels } = await asDelivered(engine, await png(grey, 1, tableProfile(1)))
    const truth = Uint8Array.from(pixels, (_, i) => grey[Math.floor(i / 3)])
    expect(worst(pixels, truth)).toBeLessThanOrEqual(2)
  })

  it('is refused where it does not fit the picture’s colours', async () => {
    await expect(asDelivered(engine, await png(cube, 3, tableProfile(1)))).rejects.toThrow(/does not fit/)
  })
})

it('lightness that a profile of greys speaks of is not taken for light', async () => {
  // one curve, straight, to Lab: half is the grey of lightness 50
  const icc = tableProfile(1, true)
  const grey = new Uint8Array(W * H).fill(128)
  const { pixels } = await asDelivered(engine, await png(grey, 1, icc))
  // lightness 50.2 has a luminance of 0.1858, which sRGB codes as 120
  expect(worst(pixels, new Uint8Array(W * H * 3).fill(120))).toBeLessThanOrEqual(1)
})
