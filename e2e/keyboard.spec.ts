import { readFileSync } from 'node:fs'
import type { Locator, Page } from '@playwright/test'
import { join } from 'node:path'
import { developed, expect, settled, test } from './app'
import { demo } from './sheet'

/** A whole job without a pointer. */

/** Goes on with Tab until something has the focus. */
async function reach(page: Page, what: Locator, key = 'Tab'): Promise<void> {
  await expect(what).toBeVisible()
  for (let i = 0; i < 150; i++) {
    if (await what.evaluate((e) => e === document.activeElement)) return
    await page.keyboard.press(key)
  }
  throw new Error('the focus does not come there')
}

const press = async (page: Page, key: string, times = 1) => {
  for (let i = 0; i < times; i++) await page.keyboard.press(key)
}

/** Width and height out of the first frame header of a JPEG file (ITU-T T.81, B.2.2). */
function jpegSize(file: Buffer): [width: number, height: number] {
  for (let at = 2; ;) {
    const marker = file.readUInt16BE(at)
    if (marker >= 0xffc0 && marker <= 0xffc3) return [file.readUInt16BE(at + 7), file.readUInt16BE(at + 5)]
    at += 2 + file.readUInt16BE(at + 2)
  }
}

test('a frame is chosen, levelled, exposed, balanced, cropped and delivered by keys alone', async ({
  page,
  app,
}) => {
  test.setTimeout(120_000)
  const { id } = await app.server.newShoot({ name: 'Without a mouse' })
  for (const name of ['HM0403', 'HM0488', 'HM0502']) await app.server.frame(id, `${name}.dng`, demo(name))
  await page.goto(app.server.url)
  await reach(page, page.getByRole('link', { name: /Without a mouse/ }))
  await press(page, 'Enter')

  // chosen: the second one has three stars, and is the one that is shown
  const cell = page.getByTestId('grid').getByRole('gridcell', { name: /HM0488/ })
  await expect(cell).toBeVisible()
  await press(page, 'ArrowRight')
  await expect(page.locator('[aria-selected=true]')).toHaveCount(1)
  while (!(await cell.getAttribute('aria-selected'))?.includes('true')) await press(page, 'ArrowRight')
  await press(page, '3')
  await expect(cell).toHaveAccessibleName(/3 of 5 stars/)
  // the hand is one further on
  await press(page, 'ArrowLeft')
  await expect(cell).toHaveAttribute('aria-selected', 'true')
  await press(page, 'Enter')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('HM0488.dng')
  await expect(developed(page)).toBeVisible()
  const start = await settled(page)

  // levelled along a line
  await press(page, 'w')
  await press(page, 'ArrowLeft', 8)
  await press(page, 'Enter')
  await press(page, 'ArrowRight', 16)
  await press(page, 'Shift+ArrowDown', 6)
  await press(page, 'Enter')
  const turned = page.getByLabel('Rotation, number')
  await expect(turned).not.toHaveValue('0.00')
  await press(page, 'Escape')

  // exposed
  await press(page, 'Alt+2')
  const exposure = page.getByLabel('Exposure, number')
  await reach(page, exposure)
  await press(page, 'Control+a')
  await page.keyboard.type('0,5')
  await press(page, 'Enter')
  await expect(exposure).toHaveValue('+0.50')
  await reach(page, exposure, 'Shift+Tab')
  await press(page, 'ArrowUp')
  await expect(exposure).not.toHaveValue('+0.50')
  const exposed = await exposure.inputValue()

  // white by a grey
  await press(page, 'Alt+3')
  await press(page, 'n')
  await press(page, 'ArrowDown', 6)
  await press(page, 'Enter')
  await expect(page.getByRole('radio', { name: 'As shot' })).not.toBeChecked()
  await press(page, 'Escape')

  // cropped
  await press(page, 'Alt+1')
  await press(page, 'm')
  await reach(page, page.getByRole('button', { name: /^Upper left corner/ }))
  await press(page, 'Shift+ArrowRight', 10)
  await press(page, 'Enter')
  const size = page.getByLabel('Size of the crop').locator('dd').first()
  await expect(size).not.toHaveText('2256 × 1504')
  const [width, height] = (await size.innerText()).split(' × ').map(Number)
  await expect.poll(() => settled(page)).not.toEqual(start)
  await press(page, 'Alt+2')
  await expect(exposure).toHaveValue(exposed)

  // delivered
  await press(page, 'Control+Enter')
  const dialog = page.getByRole('dialog', { name: 'Deliver' })
  await reach(page, dialog.getByRole('button', { name: 'Edit JPEG, full size' }))
  await press(page, 'Enter')
  const editor = page.getByRole('dialog', { name: 'Delivery' })
  await reach(page, editor.getByLabel('File name'))
  await press(page, 'Control+a')
  await page.keyboard.type('Without a mouse')
  await press(page, 'Enter')
  await reach(page, dialog.getByRole('button', { name: 'Deliver', exact: true }))
  await press(page, 'Enter')
  await expect(dialog.getByRole('link', { name: 'Download' })).toBeVisible({ timeout: 30_000 })
  const file = readFileSync(join(app.library, 'deliveries', 'Without a mouse.jpg'))
  expect(jpegSize(file)).toEqual([width, height])
  await press(page, 'Escape')
  await expect(dialog).toHaveCount(0)
})
