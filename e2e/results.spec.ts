import type { Job } from '@dunkelkammer/contract'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { another, fileOf } from '../packages/server/test/server'
import { developed, expect, test } from './app'

test('a file is handed over, and what comes back stands with its frame on the sheet', async ({
  page,
  app,
}) => {
  const { server, library, shootId } = app
  await page.goto(`${server.url}/deliveries`)
  await page.getByRole('button', { name: 'New delivery' }).click()
  const editor = page.getByRole('dialog', { name: 'Delivery' })
  await editor.getByLabel('Name of the delivery').fill('For inking')
  await editor.getByLabel('Format').selectOption('tiff')
  await editor.getByLabel('Subfolder').fill('inking')
  await editor.getByLabel('Give it to').selectOption('Whoever watches the folder')
  await editor.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('row', { name: /For inking/ })).toContainText('handed over')

  await page.goto(`${server.url}/shoots/${shootId}`)
  const cells = page.getByTestId('grid').getByRole('gridcell')
  await cells.filter({ hasText: 'HM0417' }).click()
  await page.evaluate(() => localStorage.setItem('deliveries chosen', '["none"]'))
  await page.keyboard.press('Control+Enter')
  const dialog = page.getByRole('dialog', { name: 'Deliver' })
  await dialog.getByRole('checkbox', { name: 'For inking' }).check()
  await dialog.getByRole('button', { name: 'Deliver', exact: true }).click()
  await expect(dialog.getByRole('status')).toHaveText('Saved as HM0417.tif.', { timeout: 60_000 })
  // keys do nothing to the frames behind the dialog, whatever has the focus
  await page.keyboard.press('3')
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
  await expect(cells.filter({ hasText: 'HM0417' })).toHaveAccessibleName(/0 of 5 stars/)

  const folder = join(library, 'deliveries/inking')
  const inked = await sharp(join(folder, 'HM0417.tif')).negate().tiff({ compression: 'none' }).toBuffer()
  writeFileSync(join(folder, 'HM0417-inked.tif'), inked)
  await expect(cells).toHaveCount(3, { timeout: 30_000 })
  await page.getByRole('button', { name: 'Stacks' }).click()
  await expect(cells).toHaveCount(2)

  await page.goto(`${server.url}/deliveries`)
  const row = page.getByRole('region', { name: 'Handed over' }).getByRole('row', { name: /HM0417/ })
  await expect(row).toContainText('1 frame came back.')
  await row.getByRole('button', { name: /^Wait no longer/ }).click()
  await expect(row).toBeHidden()
})

test('a finished file is shown beside its frame, at 100 %, with a line to draw', async ({ page, app }) => {
  const order = fileOf(app.frameId, { name: 'Beside', fileName: 'beside' })
  const { body: job } = await app.server.send<Job>('POST', '/api/files', order)
  await app.server.ended(job.id)
  const { width, height } = await sharp(join(app.library, 'deliveries/beside.jpg')).metadata()
  await page.goto(`${app.server.url}/deliveries`)
  await page
    .getByRole('row', { name: /^Beside:/ })
    .getByRole('button', { expanded: false })
    .click()
  await page.getByRole('button', { name: /^Compare HM0417/ }).click()
  const dialog = page.getByRole('dialog', { name: /finished and as it came/ })
  for (const name of ['The finished picture', 'The frame as it came']) {
    const picture = dialog.getByRole('img', { name })
    await expect
      .poll(() => picture.evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight]), {
        timeout: 60_000,
      })
      .toEqual([width, height])
    expect((await picture.boundingBox())!.width).toBeCloseTo(width, 0)
  }
  const line = dialog.getByRole('slider')
  const before = (await line.boundingBox())!.x
  await line.focus()
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await line.boundingBox())!.x).toBeGreaterThan(before + 5)
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
})

test('an address with a path opens that picture, and says what it cannot open', async ({ page, app }) => {
  const { server, library } = app
  const path = join(library, 'lock at noon.dng')
  writeFileSync(path, another())
  const open = (of: string) => page.goto(`${server.url}/open?path=${encodeURIComponent(of)}`)
  await open(path)
  await expect(developed(page)).toBeVisible()
  await expect(page).toHaveURL(/\/shoots\/.*\/frames\//)
  await expect(page.getByText('lock at noon.dng').first()).toBeVisible()
  // the same again is the same frame
  const address = page.url()
  await open(path)
  await expect(page).toHaveURL(address)
  expect(readFileSync(path).length).toBeGreaterThan(0)
  await open('/etc/hostname')
  await expect(page.getByText(/^The server may not read that file/)).toBeVisible()
  await page.goto(`${server.url}/open`)
  await expect(page.getByText(/The address names no file/)).toBeVisible()
})
