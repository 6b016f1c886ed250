import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { tableProfile } from '../packages/engine/test/tableProfile'
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

const heif = () =>
  Promise.resolve(readFileSync(new URL('../packages/engine/test/files/ramp.heic', import.meta.url)))

/** A profile whose tables the colour management has to follow, in the page too. */
const tables = async () => {
  const profile = join(mkdtempSync(join(tmpdir(), 'dunkelkammer-')), 'tables.icc')
  writeFileSync(profile, tableProfile(3))
  return picture().jpeg({ quality: 92 }).withIccProfile(profile).toBuffer()
}

const moving = () => {
  const [width, height] = [320, 200]
  const samples = Buffer.from(Array.from({ length: width * height * 6 }, (_, i) => (i * 7) % 251))
  const raw = { width, height: height * 2, channels: 3, pageHeight: height } as const
  return sharp(samples, { raw })
    .webp({ lossless: true, delay: [80, 80] })
    .toBuffer()
}

for (const [name, bytes] of [
  ['street.jpg', () => picture().jpeg({ quality: 88 }).toBuffer()],
  ['plan.png', () => picture().png({ palette: true, colours: 4, progressive: true }).toBuffer()],
  ['parts.tif', () => picture().tiff({ compression: 'jpeg', quality: 90 }).toBuffer()],
  ['phone.heic', heif],
  ['tables.jpg', tables],
  ['moving.webp', moving],
] as const)
  test(`${name} is the same at the bench and in a file that is made of it`, async ({ page, app }) => {
    const frameId = await app.server.frame(app.shootId, name, await bytes())
    const benchUrl = `${app.server.url}/shoots/${app.shootId}/frames/${frameId}`
    await openBench(page, { ...app, benchUrl })
    await settled(page)
    await expectDelivered(page, app, frameId)
  })
