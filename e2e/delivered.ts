import type { Locator, Page } from '@playwright/test'
import type { DeliveryInput } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { fileOf } from '../packages/server/test/server'
import { type App, expect, pixels, settled } from './app'

/** The file shows what the screen shows. */
export async function expectDelivered(page: Page, app: App, frameId: string): Promise<void> {
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  const name = `mended ${frameId}`
  const size = await settled(page)
  await app.server.send(
    'POST',
    '/api/files',
    fileOf(frameId, {
      ...{ format: { kind: 'png' }, size: { by: 'long edge', pixels: size.width } },
      ...{ fileName: name, metadata: 'nothing' },
    }),
  )
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

/** Saves a delivery and has it alone chosen in the dialog, which opens. */
export async function openDelivering(
  page: Page,
  app: App,
  delivery: Partial<DeliveryInput>,
): Promise<Locator> {
  const saved = { name: 'Test', ...delivery }
  expect((await app.server.send('POST', '/api/deliveries', saved)).status).toBe(201)
  await page.evaluate(() => localStorage.setItem('deliveries chosen', '["none"]'))
  await page.keyboard.press('Control+Enter')
  const dialog = page.getByRole('dialog', { name: 'Deliver' })
  await dialog.getByRole('checkbox', { name: saved.name }).last().check()
  return dialog
}
