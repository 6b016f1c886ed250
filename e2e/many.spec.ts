import type { FramePage } from '@dunkelkammer/contract'
import type { Page } from '@playwright/test'
import { developed, expect, settled, test, type App } from './app'
import { cells, frame, openSheet, stored } from './sheet'

/** Work on several frames at once, at the bench. */

const line = (page: Page) => page.getByRole('region', { name: 'Frames worked on together' })
const steps = async (app: App, frameId: string) =>
  (await app.server.ask<FramePage>(`/api/frames/${frameId}`)).body.versions[0].development.steps
const exposure = (page: Page) => page.getByLabel('Exposure, number')

/** A shoot of three frames, the first of them on the bench. @returns the ids by their names */
async function open(page: Page, app: App, chosen: boolean): Promise<Map<string, string>> {
  const names = ['HM0403', 'HM0488', 'HM0503']
  const shootId = await openSheet(page, app, 'Together', names)
  const ids = new Map((await stored(app, shootId)).map((f) => [f.fileName.replace('.dng', ''), f.id]))
  await frame(page, 'HM0403').click()
  if (chosen) await page.keyboard.press('Control+a')
  await expect(cells(page)).toHaveCount(3)
  await page.keyboard.press('Enter')
  await atBench(page, 'HM0403')
  return ids
}
async function atBench(page: Page, name: string): Promise<void> {
  await expect(page.getByRole('heading', { name: `${name}.dng` })).toBeVisible()
  await expect(developed(page)).toBeVisible()
  await settled(page)
}
const set = async (page: Page, value: string) => {
  await exposure(page).fill(value)
  await page.keyboard.press('Enter')
}

test('a change goes to all frames that are chosen, and is taken back in all', async ({ page, app }) => {
  const ids = await open(page, app, true)
  const ev = () => Promise.all([...ids.values()].map(async (id) => (await steps(app, id)).exposure.ev))
  await expect(line(page)).toContainText('Changes go to 2 other frames')
  await set(page, '0.5')
  await expect.poll(ev).toEqual([0.5, 0.5, 0.5])
  await expect(line(page)).toContainText('2 frames')
  await page.keyboard.press('Control+z')
  await expect.poll(ev).toEqual([0, 0, 0])
  await page.keyboard.press('Control+Shift+z')
  await expect.poll(ev).toEqual([0.5, 0.5, 0.5])

  // what is found in a picture is found anew in each
  await page.getByRole('button', { name: 'White balance', exact: true }).first().click()
  const kelvins = () =>
    Promise.all([...ids.values()].map(async (id) => (await steps(app, id)).cameraColour.source))
  await expect.poll(kelvins).toEqual(['kelvin', 'kelvin', 'kelvin'])
  const found = await Promise.all(
    [...ids.values()].map(async (id) => (await steps(app, id)).cameraColour.kelvin),
  )
  expect(new Set(found).size).toBeGreaterThan(1)

  await page.getByRole('button', { name: 'This frame only' }).click()
  await expect(line(page)).toHaveCount(0)
  await set(page, '1')
  await expect.poll(async () => (await ev())[0]).toBe(1)
  expect((await ev()).slice(1)).toEqual([0.5, 0.5])
})

test('frames are chosen on the strip, and get the same difference', async ({ page, app }) => {
  const ids = await open(page, app, false)
  const [first, second, third] = ids.values()
  await expect(line(page)).toHaveCount(0)
  await app.server.expose(await app.server.version(second), -1)
  const strip = page.getByRole('complementary', { name: 'Strip' })
  await strip.getByRole('link', { name: /HM0488/ }).click({ modifiers: ['Control'] })
  await expect(line(page)).toContainText('Changes go to 1 other frame')
  await line(page).getByRole('radio', { name: 'Same difference' }).click()
  await set(page, '0.25')
  await expect.poll(async () => (await steps(app, second)).exposure.ev).toBe(-0.75)
  expect((await steps(app, first)).exposure.ev).toBe(0.25)
  expect((await steps(app, third)).exposure.ev).toBe(0)
  // a white balance as shot differs by as much from what the camera took
  await page.keyboard.press('Alt+3')
  await page.getByRole('button', { name: 'Warmer', exact: true }).click()
  await expect.poll(async () => (await steps(app, second)).cameraColour.source).toBe('kelvin')
  const mireds = async (id: string) => {
    const { asShot } = (await app.server.ask<FramePage>(`/api/frames/${id}`)).body.frame.metadata
    return 1e6 / (await steps(app, id)).cameraColour.kelvin - 1e6 / asShot!.kelvin
  }
  expect(await mireds(first)).toBeLessThan(-3)
  expect((await mireds(second)) - (await mireds(first))).toBeCloseTo(0, 0)
  // the next frame of those has the same ones with it
  await strip.getByRole('link', { name: /HM0488/ }).click()
  await atBench(page, 'HM0488')
  await expect(line(page)).toContainText('Changes go to 1 other frame')
  await strip.getByRole('link', { name: /HM0503/ }).click()
  await atBench(page, 'HM0503')
  await expect(line(page)).toHaveCount(0)
})

test('what the server did not take goes to the others when it is back', async ({ page, app }) => {
  const ids = await open(page, app, true)
  const others = [...ids.values()].slice(1)
  await page.route('**/api/settings', (route) => route.abort())
  await set(page, '0.5')
  await expect(line(page)).toContainText('The server does not answer')
  await page.unroute('**/api/settings')
  for (const id of others) await expect.poll(async () => (await steps(app, id)).exposure.ev).toBe(0.5)
  const { body } = await app.server.ask<FramePage>(`/api/frames/${others[0]}`)
  expect(body.versions[0].entries).toHaveLength(1)
})
