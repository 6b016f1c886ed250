import type { Page } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { developed, expect, fresh, look, openBench, pixels, settled, test } from './app'
import { demoFile } from '../packages/server/test/server'
import { expectDelivered } from './delivered'

/** Areas that the picture finds: asked for, sampled and clicked, seen and delivered. */

const areas = (page: Page) => page.getByRole('list', { name: 'Areas' }).getByRole('listitem')
const shapes = (page: Page) => page.getByRole('list', { name: 'Shapes' }).getByRole('listitem')
const MASK = 'The mask of the area'
const tool = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Found in the picture' }).getByRole('button', { name, exact: true })

async function placeOf(page: Page, u: number, v: number) {
  const box = (await developed(page).boundingBox())!
  return [Math.round(box.x + box.width * u), Math.round(box.y + box.height * v)] as const
}
const click = async (page: Page, u: number, v: number) => page.mouse.click(...(await placeOf(page, u, v)))

/** Grey of the mask at a place, 0..255; -1 where none is shown. */
async function maskAt(page: Page, u: number, v: number): Promise<number> {
  if (!(await page.locator(`canvas[aria-label="${MASK}"]`).isVisible())) return -1
  const { width, height } = await look(page, MASK)
  const shown = await pixels(page, MASK)
  return shown[(Math.round(v * height) * width + Math.round(u * width)) * 4]
}

test('the sky is found, is an area of its own, and is in the delivered file', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=shape', 'HM0527')
  await tool(page, 'Sky').click()
  await expect(areas(page)).toHaveText(['Sky'])
  await expect(shapes(page)).toHaveCount(1)
  await expect(page.getByText(/^Looked for anew in every picture\. Here it is \d+ % sure\.$/)).toBeVisible()
  await page.getByRole('radio', { name: 'Mask' }).click()
  await expect.poll(() => maskAt(page, 0.75, 0.05)).toBe(255)
  // the wood, and the tower before the sky
  expect([await maskAt(page, 0.1, 0.7), await maskAt(page, 0.46, 0.7)]).toEqual([0, 0])

  await page.getByLabel('Add a setting to this area').selectOption({ label: 'Exposure' })
  const before = await settled(page)
  await page.getByLabel('Exposure, number').first().fill('-2')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await settled(page)).mean[2]).toBeLessThan(before.mean[2] - 20)
  await expectDelivered(page, app, frameId)

  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await settled(page)).sum).toBe(before.sum)
})

test('where there is no sky it says so, and nothing changes', async ({ page, app }) => {
  await fresh(page, app, '?stage=shape', 'HM0512')
  const before = await settled(page)
  await tool(page, 'Sky').click()
  await expect(page.getByText('No sky was found in this picture.')).toBeVisible()
  await expect(areas(page)).toHaveCount(0)
  expect((await settled(page)).sum).toBe(before.sum)
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled()
})

test('samples take what resembles them, and with Alt leave out what does not belong', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=shape', 'HM0527')
  await tool(page, 'Like this').click()
  await page.getByRole('radio', { name: 'Mask' }).click()
  await click(page, 0.43, 0.8)
  // bricks beside it
  await expect.poll(() => maskAt(page, 0.5, 0.8)).toBeGreaterThan(200)
  expect(await maskAt(page, 0.1, 0.1)).toBe(0)
  await page.keyboard.down('Alt')
  await click(page, 0.5, 0.8)
  await page.keyboard.up('Alt')
  await expect(page.getByText('1 to resemble, 1 not. 1 chosen.')).toBeVisible()
  await expect.poll(() => maskAt(page, 0.5, 0.8)).toBeLessThan(150)

  // a sample is moved, and deleted, by its handle
  await page.keyboard.press('Escape')
  const unlike = page.getByRole('button', { name: /^Unlike 2/ })
  await unlike.press('Delete')
  await expect(page.getByText('1 to resemble, 0 not. Controls change all of them.')).toBeVisible()
  await expect.poll(() => maskAt(page, 0.5, 0.8)).toBeGreaterThan(200)
  await page.keyboard.press('Control+z')
  await expect(unlike).toBeVisible()
})

test('regions are outlined under the pointer, taken by clicks and by dragging across', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=shape', 'HM0521')
  await tool(page, 'Regions').click()
  await page.mouse.move(...(await placeOf(page, 0.58, 0.85)))
  await expect(page.locator('polygon').first()).toBeVisible()
  await click(page, 0.58, 0.85)
  await expect(shapes(page)).toHaveCount(1)
  await page.getByRole('radio', { name: 'Mask' }).click()
  await expect.poll(() => maskAt(page, 0.58, 0.85)).toBeGreaterThan(250)
  expect(await maskAt(page, 0.2, 0.05)).toBe(0)
  // the red boat joins it
  await click(page, 0.85, 0.85)
  await expect.poll(() => maskAt(page, 0.85, 0.85)).toBeGreaterThan(250)
  await expect(shapes(page)).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect.poll(() => maskAt(page, 0.85, 0.85)).toBe(0)
  expect(await maskAt(page, 0.58, 0.85)).toBeGreaterThan(250)
  await page.keyboard.press('Escape')
  await page.getByLabel('Add a setting to this area').selectOption({ label: 'Exposure' })
  await page.getByLabel('Exposure, number').first().fill('1')
  await page.keyboard.press('Enter')
  await settled(page)
  await expectDelivered(page, app, frameId)
})

test('a region is taken and something done there in one gesture, from the list at the pointer', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=shape', 'HM0521')
  const before = await settled(page)
  await tool(page, 'Regions').click()
  await click(page, 0.85, 0.85)
  const list = page.getByRole('list', { name: 'What to do in this region' })
  await expect(list.getByRole('button')).toHaveCount(8)
  await list.getByRole('button', { name: 'Lighter' }).click()
  await expect(list).toHaveCount(0)
  await expect(areas(page)).toHaveText(['Lighter'])
  await expect(shapes(page)).toHaveCount(1)
  await expect.poll(async () => (await settled(page)).mean[0]).toBeGreaterThan(before.mean[0] + 0.3)
  // what it has done is at hand like any other setting
  await expect(page.getByLabel('Exposure, number').first()).toHaveValue('+0.60')
  await expectDelivered(page, app, frameId)

  // another one, refused: the list goes, the region stays
  await page.getByRole('button', { name: 'New, empty' }).click()
  await click(page, 0.58, 0.85)
  await expect(list).toBeVisible()
  await list.getByRole('button', { name: 'Darker' }).press('Escape')
  await expect(list).toHaveCount(0)
  await expect(shapes(page)).toHaveCount(1)
})

test('ready areas show themselves on the picture, are added by a click, and say what is not there', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=shape', 'HM0527')
  const before = await settled(page)
  await page.getByRole('button', { name: 'Ready areas' }).click()
  const panel = page.getByRole('dialog', { name: 'Ready areas' })
  await expect(panel.getByText(/^Not found in this picture: .*water/)).toBeVisible()
  const sky = panel.getByRole('button', { name: /^Hold the sky’s top/ })
  await expect(sky.locator('canvas')).toBeVisible()
  await expect(panel.getByRole('button', { name: /^Deepen the water/ })).toHaveCount(0)
  // seen large, and nothing is changed by looking
  await sky.hover()
  await expect.poll(async () => (await settled(page)).mean[2]).toBeLessThan(before.mean[2] - 2)
  await expect(areas(page)).toHaveCount(0)
  await sky.click()
  await expect(panel).toHaveCount(0)
  await expect(areas(page)).toHaveText(['Hold the sky’s top'])
  await expect(shapes(page)).toHaveText(['+Sky', '∩Ramp'])
  expect((await settled(page)).mean[2]).toBeLessThan(before.mean[2] - 2)
  await expectDelivered(page, app, frameId)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await settled(page)).sum).toBe(before.sum)
})

test('what was found is corrected by a stroke over what belongs and one over what does not', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=shape', 'HM0521')
  await tool(page, 'Subject').click()
  await expect(shapes(page)).toHaveCount(1)
  await page.getByRole('radio', { name: 'Mask' }).click()
  // the wood behind the boats stands out with them
  await expect.poll(() => maskAt(page, 0.75, 0.7)).toBeGreaterThan(250)
  const drag = async (...places: [number, number][]) => {
    await page.mouse.move(...(await placeOf(page, ...places[0])))
    await page.mouse.down()
    for (const at of places.slice(1)) await page.mouse.move(...(await placeOf(page, ...at)), { steps: 4 })
    await page.mouse.up()
  }
  await page.getByRole('button', { name: 'This belongs' }).click()
  await drag([0.45, 0.86], [0.7, 0.88])
  await page.getByRole('button', { name: 'This does not' }).click()
  await drag([0.6, 0.7], [0.9, 0.7])
  await expect.poll(() => maskAt(page, 0.75, 0.7)).toBe(0)
  expect(await maskAt(page, 0.6, 0.85)).toBeGreaterThan(250)
  await expect(page.getByText('Found, and corrected by hand in this picture.')).toBeVisible()
  await page.getByRole('button', { name: 'As it was found' }).click()
  await expect.poll(() => maskAt(page, 0.75, 0.7)).toBeGreaterThan(250)
  await page.keyboard.press('Control+z')
  await expect.poll(() => maskAt(page, 0.75, 0.7)).toBe(0)
})

test('an area is pasted into chosen frames of the sheet, found there ahead, and taken back', async ({
  page,
  app,
}) => {
  const { server } = app
  const shoot = await server.newShoot({ name: 'Three frames' })
  const ids = new Map<string, string>()
  for (const name of ['HM0527', 'HM0521', 'HM0512']) {
    const bytes = readFileSync(demoFile.replace('HM0417', name))
    ids.set(name, await server.frame(shoot.id, `${name}.dng`, bytes))
  }
  const open = (name: string) =>
    openBench(
      page,
      { ...app, benchUrl: `${server.url}/shoots/${shoot.id}/frames/${ids.get(name)}` },
      '?stage=shape',
    )
  await open('HM0527')
  await tool(page, 'Sky').click()
  await expect(areas(page)).toHaveText(['Sky'])
  await page.getByRole('button', { name: 'Copy for frames' }).click()
  await page.goto(`${server.url}/shoots/${shoot.id}`)
  const cell = (name: string) => page.getByRole('gridcell', { name: new RegExp(name) })
  await cell('HM0521').click()
  await cell('HM0512').click({ modifiers: ['ControlOrMeta'] })
  await page.getByRole('button', { name: 'Paste “Sky” into 2 frames' }).click()
  const line = page.getByRole('status')
  await expect(
    line.filter({ hasText: 'Sky pasted: 2 frames. In 1 frame something was not found.' }),
  ).toBeVisible({
    timeout: 60000,
  })
  await expect(page.getByText('HM0512.dng: not found: no sky.')).toBeVisible()
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(line.filter({ hasText: 'Taken back in 2 frames.' })).toBeVisible()

  // on the bench of another frame it is pasted by itself
  await open('HM0521')
  await expect(areas(page)).toHaveCount(0)
  await page.getByRole('button', { name: 'Paste', exact: true }).click()
  await expect(areas(page)).toHaveText(['Sky'])
})
