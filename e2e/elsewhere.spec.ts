import sharp from 'sharp'
import { openBench, settled, test } from './app'
import { expectDelivered } from './delivered'

/** A picture with edges of strong colours, where coarse chroma shows. */
const picture = () => {
  const [width, height] = [640, 420]
  const samples = new Uint8Array(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const inside = (x - 250) ** 2 + (y - 200) ** 2 < 12_000
      samples.set(inside ? [220, 30, 40] : x % 9 < 3 ? [30, 40, 200] : [60, 140, 70], (y * width + x) * 3)
    }
  return sharp(samples, { raw: { width, height, channels: 3 } })
}

for (const [name, bytes] of [
  ['street.jpg', () => picture().jpeg({ quality: 88 }).toBuffer()],
  ['plan.png', () => picture().png({ palette: true, colours: 4, progressive: true }).toBuffer()],
] as const)
  test(`${name} is the same at the bench and in a file that is made of it`, async ({ page, app }) => {
    const frameId = await app.server.frame(app.shootId, name, await bytes())
    const benchUrl = `${app.server.url}/shoots/${app.shootId}/frames/${frameId}`
    await openBench(page, { ...app, benchUrl })
    await settled(page)
    await expectDelivered(page, app, frameId)
  })
