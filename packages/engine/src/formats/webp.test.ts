import sharp from 'sharp'
import { expect, it } from 'vitest'
import { worst } from '../../test/asDelivered'
import { nodeCodecs } from './node'
import { decodeWebpPicture } from './webp'

const [W, H] = [40, 30]
/** Pages one under the other: a ramp, then its opposite in one corner. */
const pages = (clear: boolean) => {
  const all = Buffer.alloc(W * H * 2 * 4)
  for (let y = 0; y < H * 2; y++)
    for (let x = 0; x < W; x++) {
      const second = y >= H
      const [r, g, b] = [x * 6, (y % H) * 8, 90]
      const inside = second && x < 12 && y % H < 10
      all.set(inside ? [255 - r, 255 - g, 20, 255] : [r, g, b, clear && x > 30 ? 100 : 255], (y * W + x) * 4)
    }
  return all
}

it.each([
  ['plain', false, true],
  ['with transparent places', true, true],
  ['with loss', true, false],
])('a moving picture, %s, gives its first', async (_, clear, lossless) => {
  const source = pages(clear)
  const raw = { width: W, height: H * 2, channels: 4, pageHeight: H } as const
  const bytes = await sharp(source, { raw })
    .webp({ lossless, exact: true, quality: 95, delay: [100, 100] })
    .toBuffer()
  expect((await sharp(bytes).metadata()).pages).toBe(2)
  const picture = await decodeWebpPicture(new Uint8Array(bytes), nodeCodecs)
  expect([picture.width, picture.height, picture.channels]).toEqual([W, H, 4])
  const first = lossless
    ? source.subarray(0, W * H * 4)
    : await sharp(bytes, { page: 0 }).ensureAlpha().raw().toBuffer()
  expect(worst(picture.data, first)).toBeLessThanOrEqual(lossless ? 0 : 8)
})
