import type { Page } from '@playwright/test'
import { developed, expect, fresh, pixels, settled, test } from './app'
import { expectDelivered } from './delivered'

/** Patches: made, seen, changed, delivered and taken back. */

const picture = (page: Page) => page.getByRole('application')
const patches = (page: Page) => page.getByRole('list', { name: 'Patches' }).getByRole('listitem')
const entries = (page: Page) =>
  page
    .getByRole('complementary', { name: 'History' })
    .getByRole('list', { name: 'Entries' })
    .getByRole('listitem')

/** A place of the canvas on the screen. */
async function placeOf(page: Page, u: number, v: number) {
  const box = (await developed(page).boundingBox())!
  return [Math.round(box.x + box.width * u), Math.round(box.y + box.height * v)] as const
}

/** Whether what is shown has no colour. */
async function grey(page: Page): Promise<boolean> {
  const shown = await pixels(page)
  for (let i = 0; i < shown.length; i += 4)
    if (shown[i] !== shown[i + 1] || shown[i] !== shown[i + 2]) return false
  return true
}

/** How much the picture around a place of the canvas and all the rest differ between two states. */
async function differing(page: Page, before: Buffer, u: number, v: number, within: number) {
  const now = await pixels(page)
  const { width, height } = await settled(page)
  const [near, far] = [
    { sum: 0, n: 0 },
    { sum: 0, n: 0 },
  ]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const part = Math.hypot(x - u * width, y - v * height) <= within ? near : far
      for (let c = 0; c < 3; c++)
        part.sum += Math.abs(now[(y * width + x) * 4 + c] - before[(y * width + x) * 4 + c])
      part.n++
    }
  return { near: near.sum / near.n, far: far.sum / far.n }
}

test('a click mends a spot at once, as one step, in the delivered file too', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=mend')
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  const start = await settled(page)
  const before = await pixels(page)
  await page.getByRole('button', { name: 'Mend spots' }).click()
  await page.getByLabel('Radius, number').fill('40')
  await page.keyboard.press('Enter')
  // a blade of the mill before the sky
  const [u, v] = [0.752, 0.2]
  await page.mouse.click(...(await placeOf(page, u, v)))
  await expect(patches(page)).toHaveCount(1)
  await expect(page.getByRole('button', { name: /^Mend(?! spots)/ })).toContainText('1 patch')
  await expect.poll(() => settled(page)).not.toEqual(start)
  await page.keyboard.press('Escape')
  const { near, far } = await differing(page, before, u, v, 16)
  expect(near).toBeGreaterThan(3)
  expect(far).toBe(0)
  await expect(entries(page)).toHaveCount(2)
  await expect(entries(page).first()).toContainText('Patch added')

  await expectDelivered(page, app, frameId)

  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)
})

test('patches are walked, switched, changed and deleted, and their source is found or pulled', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=mend')
  const start = await settled(page)
  await page.keyboard.press('b')
  await expect(picture(page)).toHaveAccessibleName(/click a spot/)
  await page.mouse.click(...(await placeOf(page, 0.5, 0.2)))
  await expect(patches(page)).toHaveCount(1)
  // a pull says where the source is
  const from = await placeOf(page, 0.3, 0.6)
  await page.mouse.move(...from)
  await page.mouse.down()
  await page.mouse.move(from[0] + 60, from[1] - 40, { steps: 4 })
  await page.mouse.up()
  await expect(patches(page)).toHaveCount(2)
  const source = page.getByRole('button', { name: /^Source of patch 2/ })
  const box = (await source.boundingBox())!
  expect(Math.abs(box.x + box.width / 2 - from[0] - 60)).toBeLessThan(2)
  expect(Math.abs(box.y + box.height / 2 - from[1] + 40)).toBeLessThan(2)
  await page.keyboard.press('Escape')
  const two = await settled(page)

  // its suggestion is another place
  await page.keyboard.press('c')
  await expect.poll(async () => Math.round((await source.boundingBox())!.x)).not.toBe(Math.round(box.x))
  await page.keyboard.press('Control+z')
  await expect.poll(() => settled(page)).toEqual(two)

  // off and on
  await page.getByRole('button', { name: 'Patch 2 on' }).click()
  await expect(page.getByRole('button', { name: /^Mend(?! spots)/ })).toContainText('1 patch')
  await expect.poll(() => settled(page)).not.toEqual(two)
  await page.getByRole('button', { name: 'Patch 2 on' }).click()
  await expect.poll(() => settled(page)).toEqual(two)

  // moved by keys, larger by a key
  await page.getByRole('button', { name: /^Patch 2: arrow keys/ }).focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByLabel('Radius, number')).not.toHaveValue('14')
  await expect.poll(() => settled(page)).not.toEqual(two)

  // walked at 100 %
  await page.getByRole('button', { name: /^Patch 2: arrow keys/ }).blur()
  await page.keyboard.press('a')
  await expect(page.getByLabel('Size shown')).toHaveText('100 %')
  await expect(patches(page).first()).toHaveAttribute('aria-current', 'true')
  await page.keyboard.press('0')

  // unmarked, and without any
  await page.keyboard.press('y')
  await expect(page.getByRole('button', { name: /^Patch 1: arrow keys/ })).toHaveCount(0)
  await page.keyboard.press('y')
  await page.getByRole('button', { name: 'Delete patch 2' }).click()
  await page.getByRole('button', { name: /^Patch 1: arrow keys/ }).focus()
  await page.keyboard.press('Delete')
  await expect(page.getByText('No patches yet.')).toBeVisible()
  await expect.poll(() => settled(page)).toEqual(start)
})

test('a spot is mended by keys, and Escape while it is pressed leaves nothing', async ({ page, app }) => {
  await fresh(page, app, '?stage=mend')
  const start = await settled(page)
  await page.keyboard.press('b')
  const radius = page.getByLabel('Radius, number')
  await expect(radius).toHaveValue('14')
  await page.keyboard.press('Alt+ArrowUp')
  await expect(radius).toHaveValue('15')
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await expect(patches(page)).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  const from = await placeOf(page, 0.3, 0.3)
  await page.mouse.move(...from)
  await page.mouse.down()
  await page.mouse.move(from[0] + 40, from[1], { steps: 3 })
  await expect(patches(page)).toHaveCount(1)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(patches(page)).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)
})

test('exposure, crop and turning leave a patch where it is', async ({ page, app }) => {
  await fresh(page, app, '?stage=mend')
  await page.keyboard.press('b')
  await page.mouse.click(...(await placeOf(page, 0.75, 0.2)))
  await expect(patches(page)).toHaveCount(1)
  await page.keyboard.press('Escape')
  await settled(page)
  const mark = page.getByRole('button', { name: /^Patch 1: arrow keys/ })
  const where = async () => {
    const [box, canvas] = [(await mark.boundingBox())!, (await developed(page).boundingBox())!]
    return [
      (box.x + box.width / 2 - canvas.x) / canvas.width,
      (box.y + box.height / 2 - canvas.y) / canvas.height,
    ]
  }
  const [x, y] = await where()
  await page.keyboard.press('Alt+1')
  await page.getByRole('button', { name: 'Mirror' }).click()
  await page.keyboard.press('Alt+5')
  await expect(page.getByRole('heading', { name: 'Mend', exact: true })).toBeVisible()
  await settled(page)
  const [mx, my] = await where()
  expect(mx).toBeCloseTo(1 - x, 2)
  expect(my).toBeCloseTo(y, 2)
})

test('a stroke is painted, and the picture follows while the button is down', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=mend')
  await page.keyboard.press('e')
  const start = await settled(page)
  const before = await pixels(page)
  await page.getByRole('button', { name: 'Paint strokes' }).click()
  await page.getByLabel('Radius, number').fill('30')
  await page.keyboard.press('Enter')
  // along a blade of the mill
  const [from, to] = [await placeOf(page, 0.7, 0.13), await placeOf(page, 0.72, 0.24)]
  await page.mouse.move(...from)
  await page.mouse.down()
  const along = async (parts: readonly number[]) => {
    for (const t of parts) {
      await page.mouse.move(from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1]))
      await page.waitForFunction(() => new Promise((done) => requestAnimationFrame(() => done(true))))
    }
  }
  await along([0.1, 0.3, 0.5])
  await expect
    .poll(async () => {
      await along([0.6, 0.7, 0.8])
      return Buffer.compare(await pixels(page), before)
    })
    .not.toBe(0)
  await along([0.9, 1])
  await page.mouse.up()
  await expect(patches(page)).toHaveText(['1Heal a stroke'])
  await expect(entries(page).first()).toContainText('Patch added')
  await expect(entries(page)).toHaveCount(2)
  await page.keyboard.press('Escape')
  await settled(page)
  const { near, far } = await differing(page, before, 0.71, 0.185, 60)
  expect(near).toBeGreaterThan(1)
  expect(far).toBe(0)
  await expectDelivered(page, app, frameId)

  // it is there the next time
  const now = await settled(page)
  await page.reload()
  await expect(patches(page)).toHaveText(['1Heal a stroke'])
  await developed(page).waitFor()
  await expect.poll(() => settled(page)).toEqual(now)
  // an arrow key moves all of it, and it can be taken back
  await page.getByRole('button', { name: /^Patch 1: arrow keys/ }).focus()
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => settled(page)).not.toEqual(now)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)

  // Escape lets go of what is being painted
  await page.keyboard.press('Alt+b')
  await page.mouse.move(...from)
  await page.mouse.down()
  await along([0.3, 0.6, 1])
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(patches(page)).toHaveCount(0)
})

test('outlines are clicked or drawn freely, and closed', async ({ page, app }) => {
  await fresh(page, app, '?stage=mend')
  const before = await pixels(page)
  await page.keyboard.press('z')
  const corners = [
    [0.2, 0.1],
    [0.26, 0.1],
    [0.25, 0.2],
    [0.2, 0.18],
  ] as const
  for (const [u, v] of [...corners, corners[0]]) await page.mouse.click(...(await placeOf(page, u, v)))
  await expect(patches(page)).toHaveText(['1Heal an outline'])
  await expect(page.getByLabel('Radius, number')).toHaveCount(0)

  // drawn freely, it closes where it is let go
  const [x, y] = await placeOf(page, 0.4, 0.5)
  await page.mouse.move(x + 30, y)
  await page.mouse.down()
  for (let i = 1; i < 12; i++) await page.mouse.move(x + 30 * Math.cos(i / 2), y + 30 * Math.sin(i / 2))
  await page.mouse.up()
  await expect(patches(page)).toHaveText(['1Heal an outline', '2Heal an outline'])
  await page.keyboard.press('Escape')
  await settled(page)
  const { far } = await differing(page, before, 0.3, 0.3, 200)
  expect(far).toBe(0)

  // what is too large is said, and what is begun goes with the tool
  await page.keyboard.press('z')
  for (const [u, v] of [
    [0.1, 0.1],
    [0.9, 0.1],
    [0.9, 0.9],
    [0.9, 0.9],
  ] as const)
    await page.mouse.click(...(await placeOf(page, u, v)))
  await expect(page.getByText('This outline is too large for one patch.')).toBeVisible()
  await expect(patches(page)).toHaveCount(2)
})

test('a patch is duplicated, and carried out earlier or later', async ({ page, app }) => {
  await fresh(page, app, '?stage=mend')
  await page.keyboard.press('b')
  // the wheel with Alt sizes what a press makes, and nothing else
  const radius = page.getByLabel('Radius, number')
  const before = Number(await radius.inputValue())
  await page.mouse.move(...(await placeOf(page, 0.3, 0.3)))
  await page.keyboard.down('Alt')
  await page.mouse.wheel(0, -500)
  await page.keyboard.up('Alt')
  await expect.poll(async () => Number(await radius.inputValue())).toBeGreaterThan(before * 1.4)
  await page.mouse.click(...(await placeOf(page, 0.3, 0.3)))
  await expect(patches(page)).toHaveText(['1Heal a spot'])
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Duplicate' }).click()
  await expect(patches(page)).toHaveCount(2)
  await page.getByRole('radio', { name: 'Clone' }).click()
  await expect(patches(page)).toHaveText([/^1Heal a spot/, '2Clone a spot'])
  await expect(page.getByRole('button', { name: 'Later' })).toBeDisabled()
  await page.getByRole('button', { name: 'Earlier' }).click()
  await expect(patches(page)).toHaveText([/^1Clone a spot/, /^2Heal a spot/])
  await expect(page.getByRole('button', { name: 'Earlier' })).toBeDisabled()
  await page.getByRole('button', { name: 'Later' }).click()
  await expect(patches(page)).toHaveText([/^1Heal a spot/, '2Clone a spot'])
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveText(['1Heal a spot'])
})

test('dust is found, put aside, and mended as one step', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=mend', 'HM0466')
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  await settled(page)
  const before = await pixels(page)
  // what stands out is looked at only, and goes with the stage
  await page.getByRole('switch', { name: 'Make spots stand out' }).click()
  await expect.poll(() => grey(page)).toBe(true)
  await page.keyboard.press('Alt+2')
  await expect.poll(() => grey(page)).toBe(false)
  await page.keyboard.press('Alt+5')
  await page.getByRole('switch', { name: 'Make spots stand out' }).click()
  await expect.poll(async () => Buffer.compare(await pixels(page), before)).toBe(0)

  await page.getByRole('button', { name: 'Find dust' }).click()
  const marks = page.getByRole('button', { name: /^Dust \d: mend it/ })
  await expect(marks).toHaveCount(4)
  await expect(page.getByRole('status').filter({ hasText: '4 places marked' })).toBeVisible()
  // less sure ones come with more sensitivity, and go again
  await page.getByLabel('Sensitivity, number').fill('0')
  await page.keyboard.press('Enter')
  await expect(marks).not.toHaveCount(4)
  await page.getByLabel('Sensitivity, number').fill('50')
  await page.keyboard.press('Enter')
  await expect(marks).toHaveCount(4)
  await marks.first().focus()
  await page.keyboard.press('Delete')
  await expect(marks).toHaveCount(3)
  await page.getByRole('button', { name: 'Mend all' }).click()
  await expect(patches(page)).toHaveText(['1Dust', '2Dust', '3Dust'])
  await expect(marks).toHaveCount(0)
  await expect(entries(page).first()).toContainText('Dust mended, 3 places')
  await settled(page)
  expect(Buffer.compare(await pixels(page), before)).not.toBe(0)
  await expectDelivered(page, app, frameId)
  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  await expect(marks).toHaveCount(3)
  // a click mends one
  await marks.first().click()
  await expect(patches(page)).toHaveCount(1)
})

test('dust is mended in all frames of a shoot, and taken back', async ({ page, app }) => {
  const { server, shootId } = app
  await page.goto(`${server.url}/shoots/${shootId}`)
  await page.getByRole('gridcell').first().click()
  await page.keyboard.press('Control+a')
  await page.getByRole('button', { name: /^Mend dust in/ }).click()
  const line = page.getByRole('status').filter({ hasText: /^Dust mended in/ })
  await expect(line).toBeVisible({ timeout: 60000 })
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(page.getByRole('status').filter({ hasText: /^Taken back in/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Take back' })).toHaveCount(0)
})
