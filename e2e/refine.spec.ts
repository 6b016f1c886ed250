import type { Page } from '@playwright/test'
import { developed, expect, openBench, test } from './app'

/** Pixels of a canvas, as far as they can be told apart by sight. */
const pixelsOf = (page: Page, label: string) =>
  page.locator(`canvas[aria-label="${label}"]`).evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
    let [sum, rough, n] = [0, 0, 0]
    for (let i = 0; i + 4 < data.length; i += 4) {
      sum += data[i + 1]
      rough += Math.abs(data[i + 1] - data[i + 5])
      n++
    }
    return { width: canvas.width, height: canvas.height, mean: sum / n, rough: rough / n }
  })
const exact = async (page: Page) => expect(developed(page)).toHaveAttribute('data-exact', 'true')
const drawer = (page: Page) => page.getByRole('complementary', { name: 'Drawer' })
const refine = (page: Page) => page.getByRole('button', { name: /^Refine/ })
/** A number of a section of the drawer. */
const number = (page: Page, section: string, label: string) =>
  page.getByRole('region', { name: section, exact: true }).getByLabel(`${label}, number`, { exact: true })

test('full size is offered once when the stage is opened', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine')
  const offer = page.getByText('Noise and sharpness are judged at full size.')
  await expect(offer).toBeVisible()
  await page.getByRole('button', { name: 'Show at 100 %', exact: true }).click()
  await expect(page).toHaveURL(/zoom=100/)
  await expect(offer).toBeHidden()
  await page.getByRole('radio', { name: 'Fit', exact: true }).click()
  await page.getByRole('button', { name: /^Expose/ }).click()
  await refine(page).click()
  await expect(drawer(page).getByRole('heading', { name: 'Refine' })).toBeVisible()
  await expect(offer).toBeHidden()
})

test('noise goes when it is set to automatic, and comes back with undo', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine&zoom=100&at=0.15,0.75')
  await exact(page)
  const before = (await pixelsOf(page, 'The developed picture')).rough
  await page.getByRole('radio', { name: 'Automatic', exact: true }).click()
  await expect(refine(page)).toContainText('noise')
  await expect
    .poll(async () => (await pixelsOf(page, 'The developed picture')).rough)
    .toBeLessThan(before * 0.97)
  await exact(page)
  await expect(page.getByText('The file says how much noise there is.')).toBeVisible()
  await expect(page.getByRole('img', { name: /^Noise against light/ })).toBeVisible()
  await page.keyboard.press('Control+z')
  await expect
    .poll(async () => Math.abs((await pixelsOf(page, 'The developed picture')).rough - before))
    .toBeLessThan(0.001)
})

test('the softness is measured in the picture and its sharpening set by it', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine&zoom=100&at=0.6,0.4')
  await exact(page)
  const before = (await pixelsOf(page, 'The developed picture')).rough
  await page.getByRole('button', { name: 'Measure in the picture' }).click()
  await expect(page.getByText(/px.* by \d+ edges\./)).toBeVisible()
  await expect(refine(page)).toContainText('sharp 100 %')
  await expect
    .poll(async () => (await pixelsOf(page, 'The developed picture')).rough)
    .toBeGreaterThan(before * 1.02)
  // where it acts, in black and white
  await number(page, 'Sharpness', 'Edges only').fill('100')
  await number(page, 'Sharpness', 'Edges only').press('Enter')
  const sharp = (await pixelsOf(page, 'The developed picture')).mean
  await page.getByRole('switch', { name: 'Show affected areas' }).first().click()
  await expect
    .poll(async () => Math.abs((await pixelsOf(page, 'The developed picture')).mean - sharp))
    .toBeGreaterThan(5)
  await page.getByRole('switch', { name: 'Show affected areas' }).first().click()
  await expect
    .poll(async () => Math.abs((await pixelsOf(page, 'The developed picture')).mean - sharp))
    .toBeLessThan(1)
})

test('a subject sets where sharpening begins', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine')
  await page.getByRole('combobox', { name: /^Starting point/ }).selectOption('Faces')
  await expect(refine(page)).toContainText('sharp 50 %')
  await expect(number(page, 'Sharpness', 'Edges only')).toHaveValue('85')
})

test('the spot shows full size beside the fitted picture and moves by keys and by a click', async ({
  page,
  app,
}) => {
  await openBench(page, app, '?stage=refine')
  const spot = page.locator('canvas[aria-label="The spot"]')
  await expect(spot).toBeVisible()
  const first = await pixelsOf(page, 'The spot')
  await page.getByRole('application', { name: 'Spot: arrow keys move it' }).focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowUp')
  await expect.poll(async () => (await pixelsOf(page, 'The spot')).mean).not.toBe(first.mean)
  const second = await pixelsOf(page, 'The spot')
  await page.getByRole('button', { name: 'Choose the spot on the picture' }).click()
  const picture = page.getByRole('application', {
    name: 'Picture: click on the spot to be seen at full size',
  })
  const box = (await picture.boundingBox())!
  await picture.click({ position: { x: box.width * 0.3, y: box.height * 0.75 } })
  await expect.poll(async () => (await pixelsOf(page, 'The spot')).mean).not.toBe(second.mean)
  await page.getByRole('button', { name: 'Close the spot' }).click()
  await expect(spot).toBeHidden()
  await page.getByRole('button', { name: 'Spot', exact: true }).click()
  await expect(spot).toBeVisible()
})

test('the divider shows the original to its left and is moved by keys and by hand', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine')
  await page.getByRole('button', { name: 'Divide', exact: true }).click()
  const line = page.getByRole('slider', { name: 'Divider between the original and the development' })
  await expect(line).toHaveAttribute('aria-valuenow', '50')
  await expect(page.locator('canvas[aria-label="The untouched picture"]')).toBeVisible()
  await line.focus()
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(line).toHaveAttribute('aria-valuenow', '40')
  const box = (await line.boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + 200)
  await page.mouse.down()
  await page.mouse.move(box.x + 150, box.y + 210, { steps: 4 })
  await page.mouse.up()
  expect(Number(await line.getAttribute('aria-valuenow'))).toBeGreaterThan(45)
  await page.keyboard.press('d')
  await expect(line).toBeHidden()
})

test('variants are compared in tied views, and one of them is taken', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine')
  await page.getByRole('button', { name: 'Compare variants' }).click()
  for (const n of [1, 2, 3, 4]) await expect(page.locator(`canvas[aria-label="Variant ${n}"]`)).toBeVisible()
  await expect
    .poll(async () => (await pixelsOf(page, 'Variant 2')).rough)
    .toBeLessThan((await pixelsOf(page, 'Variant 1')).rough)
  // moving one moves all
  const means = () => Promise.all([1, 2, 3, 4].map(async (n) => (await pixelsOf(page, `Variant ${n}`)).mean))
  const before = await means()
  await page.getByRole('application', { name: 'Variant 3: arrow keys move it' }).focus()
  for (let i = 0; i < 5; i++) await page.keyboard.press('Shift+ArrowRight')
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown')
  await expect.poll(async () => (await means()).every((m, i) => Math.abs(m - before[i]) > 0.05)).toBe(true)
  // the same things are as large where one is enlarged
  await page.getByRole('radio', { name: 'Enlargement', exact: true }).click()
  const shown = (n: number) => page.locator(`canvas[aria-label="Variant ${n}"]`).boundingBox()
  await expect.poll(async () => Math.abs((await shown(4))!.width - (await shown(1))!.width)).toBeLessThan(9)
  expect((await pixelsOf(page, 'Variant 4')).width).toBeGreaterThan(
    3.5 * (await pixelsOf(page, 'Variant 1')).width,
  )
  await page
    .getByRole('region', { name: 'Variant 3', exact: true })
    .getByRole('button', { name: 'Use this' })
    .click()
  await expect(refine(page)).toContainText('2 ×')
  await page.getByRole('button', { name: 'Enlargement', exact: true }).click()
  await expect(page.getByText(/4512 × 3008 pixels, 38.2 × 25.5 cm/)).toBeVisible()
})

test('relief and haze are set by number and change the picture', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine')
  await exact(page)
  const before = await pixelsOf(page, 'The developed picture')
  await number(page, 'Relief', 'Fine').fill('80')
  await number(page, 'Relief', 'Fine').press('Enter')
  await expect
    .poll(async () => (await pixelsOf(page, 'The developed picture')).rough)
    .toBeGreaterThan(before.rough * 1.05)
  await expect(refine(page)).toContainText('relief')
  const raised = await pixelsOf(page, 'The developed picture')
  await number(page, 'Haze', 'Amount').fill('-60')
  await number(page, 'Haze', 'Amount').press('Enter')
  await expect(refine(page)).toContainText('haze added')
  await expect
    .poll(async () => (await pixelsOf(page, 'The developed picture')).mean)
    .toBeGreaterThan(raised.mean * 1.05)
  await page.getByRole('button', { name: 'Pick haze colour' }).click()
  const picture = page.getByRole('application', { name: 'Picture: click on nothing but haze' })
  const box = (await picture.boundingBox())!
  await picture.click({ position: { x: box.width * 0.5, y: box.height * 0.2 } })
  await expect(page.getByRole('button', { name: 'Pick again' })).toBeVisible()
})
