import type { Page } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { type App, expect, pixels, settled } from './app'

/** The file shows what the screen shows. */
export async function expectDelivered(page: Page, app: App, frameId: string): Promise<void> {
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  const { versions } = (await app.server.ask(`/api/frames/${frameId}`)).body as { versions: { id: string }[] }
  const name = `mended ${frameId}`
  const order = { versionId: versions[0].id, fileName: name, carry: 'nothing', taken: 'number' }
  const size = await settled(page)
  await app.server.send('POST', '/api/exports', {
    ...order,
    options: { format: 'png', bits: 8, longEdge: size.width },
  })
  const path = join(app.library, 'deliveries', `${name}.png`)
  await expect
    .poll(async () => {
      try {
        return (await sharp(readFileSync(path)).metadata()).width
      } catch {
        return 0
      }
    })
    .toBe(size.width)
  const file = await sharp(readFileSync(path)).raw().toBuffer()
  const shown = await pixels(page)
  let sum = 0
  for (let i = 0; i < file.length; i++) sum += (file[i] - shown[Math.floor(i / 3) * 4 + (i % 3)]) ** 2
  expect(10 * Math.log10((255 ** 2 * file.length) / sum)).toBeGreaterThan(40)
}
