import type { Page } from '@playwright/test'
import { developed, expect, fresh, look, pixels, settled, test } from './app'
import { expectDelivered } from './delivered'

/** Areas: their masks drawn, painted and picked, seen, changed and delivered. */

const areas = (page: Page) => page.getByRole('list', { name: 'Areas' }).getByRole('listitem')
const shapes = (page: Page) => page.getByRole('list', { name: 'Shapes' }).getByRole('listitem')
const MASK = 'The mask of the area'
const mask = (page: Page) => page.locator(`canvas[aria-label="${MASK}"]`)

/** A place of the picture on the screen. */
async function placeOf(page: Page, u: number, v: number) {
  const box = (await developed(page).boundingBox())!
  return [Math.round(box.x + box.width * u), Math.round(box.y + box.height * v)] as const
}

async function drag(page: Page, from: readonly [number, number], to: readonly [number, number]) {
  await page.mouse.move(...(await placeOf(page, ...from)))
  await page.mouse.down()
  await page.mouse.move(...(await placeOf(page, ...to)), { steps: 6 })
  await page.mouse.up()
}

const add = (page: Page, setting: string) =>
  page.getByLabel('Add a setting to this area').selectOption({ label: setting })

async function number(page: Page, label: string, value: number) {
  const field = page.getByLabel(`${label}, number`).first()
  await field.fill(String(value))
  await page.keyboard.press('Enter')
}

/** Mean of the green of a square of what is shown, a share of its width to each side. */
async function green(page: Page, u: number, v: number, half = 0.01): Promise<number> {
  const { width, height } = await settled(page)
  const shown = await pixels(page)
  const r = Math.round(half * width)
  let [sum, n] = [0, 0]
  for (let y = Math.round(v * height) - r; y <= Math.round(v * height) + r; y++)
    for (let x = Math.round(u * width) - r; x <= Math.round(u * width) + r; x++, n++)
      sum += shown[(y * width + x) * 4 + 1]
  return sum / n
}

/** Grey of the mask at a place, 0..255, once it shows that. */
async function maskAt(page: Page, u: number, v: number): Promise<number> {
  await expect(mask(page)).toBeVisible()
  const { width, height } = await look(page, MASK)
  const shown = await pixels(page, MASK)
  return shown[(Math.round(v * height) * width + Math.round(u * width)) * 4]
}

/** An empty mask, seen in grey, and a brush without softness in the hand. */
async function takeHardBrush(page: Page) {
  await page.getByRole('button', { name: 'New, empty' }).click()
  await page.getByRole('radio', { name: 'Mask' }).click()
  await page.getByRole('button', { name: 'Paint' }).click()
  await number(page, 'Softness', 0)
}

test('a ramp darkens the sky alone, by its strength, in the delivered file too', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=shape')
  const [sky, ground] = [await green(page, 0.3, 0.05), await green(page, 0.3, 0.95)]
  await page.keyboard.press('Alt+r')
  await drag(page, [0.5, 0.3], [0.5, 0.7])
  await expect(areas(page)).toHaveCount(1)
  await expect(shapes(page)).toHaveCount(1)
  // an area without settings shows its mask
  await expect(mask(page)).toBeVisible()
  const start = await settled(page)
  await add(page, 'Exposure')
  await expect(mask(page)).toHaveCount(0)
  await number(page, 'Exposure', -2)
  await expect.poll(() => green(page, 0.3, 0.05)).toBeLessThan(sky - 40)
  expect(await green(page, 0.3, 0.95)).toBe(ground)
  const dark = await settled(page)
  await expectDelivered(page, app, frameId)

  // before and after, while held
  await page.keyboard.down(',')
  await expect.poll(() => settled(page)).toEqual(start)
  await page.keyboard.up(',')
  await expect.poll(() => settled(page)).toEqual(dark)

  await number(page, 'Strength', 0)
  await expect.poll(() => settled(page)).toEqual(start)
  await page.keyboard.press('Control+z')
  await expect.poll(() => settled(page)).toEqual(dark)
  await page.getByRole('button', { name: 'Area 1 on' }).click()
  await expect.poll(() => settled(page)).toEqual(start)
})

test('handles move a shape, by hand and by keys', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  await page.getByRole('button', { name: 'Oval' }).click()
  await drag(page, [0.3, 0.4], [0.4, 0.5])
  await page.getByRole('radio', { name: 'Mask' }).click()
  await expect.poll(() => maskAt(page, 0.3, 0.4)).toBe(255)
  expect(await maskAt(page, 0.7, 0.4)).toBe(0)
  const whole = page.getByRole('button', { name: /^Oval as a whole/ })
  const box = (await whole.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(...(await placeOf(page, 0.7, 0.4)), { steps: 5 })
  await page.mouse.up()
  await expect.poll(() => maskAt(page, 0.7, 0.4)).toBe(255)
  expect(await maskAt(page, 0.3, 0.4)).toBe(0)

  // ten pixels for each
  const there = (await whole.boundingBox())!
  for (let i = 0; i < 3; i++) await whole.press('Shift+ArrowDown')
  await expect.poll(async () => Math.round((await whole.boundingBox())!.y - there.y)).toBe(30)
  await whole.press('Delete')
  await expect(page.getByText('The mask is empty: add a shape.')).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect(shapes(page)).toHaveCount(1)
})

test('strokes add, and with Alt subtract, one step for each', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  await takeHardBrush(page)
  await drag(page, [0.3, 0.5], [0.7, 0.5])
  await expect.poll(() => maskAt(page, 0.5, 0.5)).toBe(255)
  expect(await maskAt(page, 0.5, 0.7)).toBe(0)
  await page.keyboard.down('Alt')
  await drag(page, [0.5, 0.3], [0.5, 0.7])
  await page.keyboard.up('Alt')
  await expect.poll(() => maskAt(page, 0.5, 0.5)).toBe(0)
  expect(await maskAt(page, 0.4, 0.5)).toBe(255)
  await expect(shapes(page)).toHaveCount(2)
  // on from the last one, straight
  await page.keyboard.down('Shift')
  await page.mouse.click(...(await placeOf(page, 0.8, 0.9)))
  await page.keyboard.up('Shift')
  await expect.poll(() => maskAt(page, 0.65, 0.8)).toBe(255)
  for (const left of [2, 1, 0]) {
    await page.keyboard.press('Control+z')
    await expect(shapes(page)).toHaveCount(left)
  }
  await expect.poll(() => maskAt(page, 0.5, 0.5)).toBe(0)
})

test('a pen paints a thinner stroke where it is pressed less', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  await takeHardBrush(page)
  const session = await page.context().newCDPSession(page)
  const pen = async (
    type: 'mousePressed' | 'mouseMoved' | 'mouseReleased',
    at: [number, number],
    force: number,
  ) => {
    const [x, y] = await placeOf(page, ...at)
    const pressed = type === 'mouseReleased' ? 0 : 1
    await session.send('Input.dispatchMouseEvent', {
      ...{ type, x, y, force, pointerType: 'pen', button: 'left', buttons: pressed, clickCount: 1 },
    })
  }
  const stroke = async (y: number, force: number) => {
    await pen('mousePressed', [0.2, y], force)
    for (const x of [0.3, 0.4, 0.5, 0.6]) await pen('mouseMoved', [x, y], force)
    await pen('mouseReleased', [0.6, y], 0)
  }
  await stroke(0.3, 1)
  await expect(shapes(page)).toHaveCount(1)
  await stroke(0.7, 0.3)
  await expect(shapes(page)).toHaveCount(2)
  const beside = 0.02
  await expect.poll(() => maskAt(page, 0.4, 0.7)).toBeGreaterThan(0)
  expect(await maskAt(page, 0.4, 0.3 + beside)).toBeGreaterThan(100)
  expect(await maskAt(page, 0.4, 0.7 + beside)).toBe(0)
  // and with its pressure left out of account
  await page.getByRole('switch', { name: 'Thinner where a pen presses less' }).click()
  await stroke(0.5, 0.3)
  await expect.poll(() => maskAt(page, 0.4, 0.5 + beside)).toBeGreaterThan(100)
})

test('what lies under the pointer is outlined, where no tool is in the hand', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  await page.getByRole('button', { name: 'Oval', exact: true }).click()
  await drag(page, [0.3, 0.5], [0.4, 0.6])
  await page.keyboard.press('Escape')
  await add(page, 'Exposure')
  const row = areas(page).first().getByRole('button', { name: 'Area 1', exact: true })
  // put down again
  await row.click()
  await page.mouse.move(...(await placeOf(page, 0.8, 0.2)))
  await expect(mask(page)).toHaveCount(0)
  await page.mouse.move(...(await placeOf(page, 0.3, 0.5)))
  await expect(mask(page)).toBeVisible()
  await page.mouse.move(...(await placeOf(page, 0.8, 0.3)))
  await expect(mask(page)).toHaveCount(0)
})

test('dodging and burning make their areas with the first stroke', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  const before = await green(page, 0.3, 0.6)
  await page.getByRole('button', { name: 'Dodge' }).click()
  await drag(page, [0.2, 0.6], [0.4, 0.6])
  await expect(areas(page)).toHaveCount(1)
  // area and stroke are one step
  await page.keyboard.press('Control+z')
  await expect(areas(page)).toHaveCount(0)
  for (let i = 0; i < 3; i++) await drag(page, [0.2, 0.6], [0.4, 0.6])
  await expect(areas(page)).toHaveCount(1)
  await expect(areas(page).first()).toContainText('Dodge')
  await expect.poll(() => green(page, 0.3, 0.6)).toBeGreaterThan(before)
  await page.getByRole('button', { name: 'Burn', exact: true }).click()
  const burnt = await green(page, 0.7, 0.6)
  await drag(page, [0.6, 0.6], [0.8, 0.6])
  await expect(areas(page)).toHaveCount(2)
  await expect.poll(() => green(page, 0.7, 0.6)).toBeLessThan(burnt)
  // and go on in them
  await page.getByRole('button', { name: 'Dodge', exact: true }).last().click()
  await drag(page, [0.2, 0.7], [0.4, 0.7])
  await expect(areas(page)).toHaveCount(2)
  await expect(shapes(page)).toHaveCount(4)
})

test('areas are copied, put in order, renamed and deleted', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape')
  await page.getByRole('button', { name: 'New, full' }).click()
  await page.getByPlaceholder('Area 1').fill('Everything')
  await add(page, 'Colourfulness')
  await page.getByRole('button', { name: 'Duplicate' }).click()
  await expect(areas(page)).toHaveCount(2)
  await expect(page.getByRole('region', { name: 'Colourfulness' })).toBeVisible()
  await areas(page).first().getByRole('button', { name: 'Everything', exact: true }).click()
  await page.getByRole('button', { name: 'Inverse' }).click()
  await expect(areas(page).nth(1)).toContainText('Everything, inverted')
  await expect(page.getByRole('region', { name: 'Colourfulness' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Mask', exact: true }).click()
  await expect(page.getByRole('switch', { name: 'Invert the mask' })).toBeChecked()

  await page.getByRole('button', { name: 'Move Everything', exact: true }).focus()
  await page.keyboard.press('Space')
  await expect(page.getByText('Everything at place 1.')).toBeAttached()
  await page.keyboard.press('ArrowDown')
  await expect(page.getByText('Everything at place 2.')).toBeAttached()
  await page.keyboard.press('Space')
  await expect(areas(page).first()).toContainText('Everything, inverted')
  // a linked mask changes with the one it is that of
  await areas(page).nth(1).getByRole('button', { name: 'Everything', exact: true }).click()
  await page.getByRole('button', { name: 'Linked' }).click()
  await expect(areas(page)).toHaveCount(4)
  const inverted = page.getByRole('switch', { name: 'Invert the mask' })
  await inverted.click()
  await areas(page).nth(1).getByRole('button', { name: 'Everything', exact: true }).click()
  await expect(inverted).toBeChecked()
  await areas(page).nth(2).getByRole('button', { name: 'Everything, linked', exact: true }).click()
  await page.getByRole('button', { name: 'Unlink' }).click()
  await inverted.click()
  await areas(page).nth(1).getByRole('button', { name: 'Everything', exact: true }).click()
  await expect(inverted).toBeChecked()
  await areas(page)
    .nth(2)
    .getByRole('button', { name: /^Delete/ })
    .click()
  await page.getByRole('button', { name: 'Copy for frames' }).click()
  await page.getByRole('button', { name: 'Paste' }).click()
  await expect(areas(page)).toHaveCount(4)
  for (let left = 3; left >= 0; left--) {
    await areas(page)
      .first()
      .getByRole('button', { name: /^Delete/ })
      .click()
    await expect(areas(page)).toHaveCount(left)
  }
})

test('ranges take what is clicked, and a setting of the whole picture moves into an area', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=shape')
  const [sky, wall] = [await green(page, 0.9, 0.05), await green(page, 0.68, 0.55, 0.002)]
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Colour range' }).click()
  await page.getByRole('radio', { name: 'Mask' }).click()
  await page.mouse.click(...(await placeOf(page, 0.9, 0.05)))
  await expect(page.getByRole('list', { name: 'Sampled colours' }).getByRole('listitem')).toHaveCount(1)
  await expect.poll(() => maskAt(page, 0.9, 0.05)).toBe(255)
  // the orange of the mill's wall is something else
  expect(await maskAt(page, 0.68, 0.55)).toBe(0)
  await page.keyboard.press('Escape')

  await page
    .getByRole('button', { name: /^Expose/ })
    .first()
    .click()
  await number(page, 'Exposure', -2)
  await expect.poll(() => green(page, 0.68, 0.55, 0.002)).toBeLessThan(wall)
  await page
    .getByRole('button', { name: /^Shape/ })
    .first()
    .click()
  // what the mask holds does not depend on it
  await expect.poll(() => maskAt(page, 0.9, 0.05)).toBe(255)
  await page.getByLabel('Add a setting to this area').selectOption('move exposure')
  await expect(page.getByRole('region', { name: 'Exposure' })).toBeVisible()
  await expect.poll(() => green(page, 0.68, 0.55, 0.002)).toBe(wall)
  expect(await green(page, 0.9, 0.05)).toBeLessThan(sky - 40)
})
