import type { Page } from '@playwright/test'
import { developed, expect, look, openBench, settled, test, type App } from './app'

const set = async (page: Page, label: string, value: string) => {
  const field = page.getByLabel(`${label}, number`, { exact: true })
  await field.fill(value)
  await page.keyboard.press('Enter')
  await field.blur()
}
const saved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible()
const panel = (page: Page) => page.getByRole('complementary', { name: 'History' })
const entries = (page: Page) => panel(page).getByRole('list', { name: 'Entries' }).getByRole('listitem')
/** What the list says, without the times. */
const sentences = async (page: Page) =>
  (await entries(page).getByRole('button').locator('span.min-w-0').allInnerTexts()).map((t) => t.trim())
const go = (page: Page, words: string) =>
  panel(page).getByRole('button', { name: words, exact: false }).first().click()
const exposure = (page: Page) => page.getByLabel('Exposure, number')
const more = async (page: Page, of: string, what: string) => {
  await page.getByRole('button', { name: `More for ${of}` }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem', { name: what }).click()
}

test('every step is a sentence; any is gone to, named and found; what was left is a branch', async ({
  page,
  app,
}) => {
  await openBench(page, app)
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  const start = await settled(page)
  await set(page, 'Exposure', '0.5')
  await set(page, 'Exposure', '1')
  await set(page, 'Grade', '3')
  const hard = await settled(page)
  await expect(entries(page)).toHaveCount(4)
  expect(await sentences(page)).toEqual([
    'Grade 2.0 to 3.0',
    'Exposure +0.50 to +1.00 EV',
    'Exposure 0.00 to +0.50 EV',
    'As taken',
  ])
  await go(page, 'As taken')
  await expect.poll(() => settled(page)).toEqual(start)
  await expect(exposure(page)).toHaveValue('0.00')
  await set(page, 'Exposure', '-1')
  await expect(entries(page)).toHaveCount(5)
  // what was undone and worked past is still there, and opens again
  await go(page, 'Grade 2.0 to 3.0')
  await expect.poll(() => settled(page)).toEqual(hard)
  await more(page, 'Exposure +0.50 to +1.00 EV', 'Give it a name')
  await page.getByLabel('Name of the entry').fill('Light enough')
  await page.keyboard.press('Enter')
  await saved(page)
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await expect(entries(page)).toHaveCount(5)
  await expect(exposure(page)).toHaveValue('+1.00')
  await panel(page).getByLabel('Find in the history').fill('enough')
  await expect(entries(page)).toHaveCount(1)
  expect(await sentences(page)).toEqual(['Light enough\nExposure +0.50 to +1.00 EV'])
  await panel(page).getByLabel('Find in the history').fill('')
  // redo leads on along the branch that was opened
  await go(page, 'Light enough')
  await expect(page.getByRole('button', { name: 'Redo' })).toHaveAttribute('title', 'Redo: Grade 2.0 to 3.0')
})

test('an entry shows its picture, and what has changed since', async ({ page, app }) => {
  await openBench(page, app)
  await set(page, 'Exposure', '2')
  await set(page, 'Grade', '4')
  await page.keyboard.press('e')
  await entries(page).filter({ hasText: 'As taken' }).hover()
  const at = page.getByRole('region', { name: 'The entry looked at' })
  await expect(at.getByRole('img', { name: 'The picture at that entry' })).toBeVisible()
  expect(await at.getByRole('row').allInnerTexts()).toEqual([
    'Exposure\t0.00\t→\t+2.00 EV',
    'Grade\t2.0\t→\t4.0',
  ])
  const before = (await look(page, 'The picture at that entry')).mean[1]
  await entries(page).filter({ hasText: 'Grade' }).hover()
  await expect(at.getByText('Nothing differs.')).toBeVisible()
  await expect(async () => {
    expect((await look(page, 'The picture at that entry')).mean[1]).toBeGreaterThan(before + 20)
  }).toPass()
})

test('versions begin anywhere, have names and an order, and come back when deleted', async ({
  page,
  app,
}) => {
  await openBench(page, app)
  const start = await settled(page)
  await set(page, 'Exposure', '1')
  const bright = await settled(page)
  await page.getByRole('button', { name: 'New version' }).click()
  await page.getByRole('menuitem', { name: 'From the untouched frame' }).click()
  const list = page.getByRole('complementary', { name: 'Strip' }).getByRole('list', { name: 'Versions' })
  await expect(list.getByRole('link', { name: 'Version 2' })).toHaveAttribute('aria-current', 'true')
  await expect.poll(() => settled(page)).toEqual(start)
  await more(page, 'Version 2', 'Rename')
  await page.getByLabel('Name of the version').fill('For the calendar')
  await page.keyboard.press('Enter')
  await expect(list.getByRole('link')).toHaveText(['First version', 'For the calendar'])
  await more(page, 'For the calendar', 'Move up')
  await expect(list.getByRole('link')).toHaveText(['For the calendar', 'First version'])
  await more(page, 'First version', 'What differs')
  await expect(page.getByRole('dialog').getByRole('row')).toHaveText(/Exposure\s*\+1\.00\s*→\s*0\.00 EV/)
  await page.keyboard.press('Escape')
  // compared with the other version, in the same frame
  await page.getByRole('button', { name: 'Compared with: Original' }).click()
  await page.getByRole('menuitem', { name: 'First version' }).click()
  await page.keyboard.down('o')
  await expect(page.getByRole('img', { name: 'What it is compared with' })).toBeVisible()
  await expect.poll(async () => (await look(page, 'What it is compared with')).sum).toBe(bright.sum)
  await page.keyboard.up('o')
  // the sheet shows the first, or the one that is chosen
  const shown = (of: string) =>
    list.getByRole('listitem').filter({ hasText: of }).getByRole('img', { name: 'Shown on the sheet' })
  await expect(shown('For the calendar')).toBeVisible()
  await more(page, 'First version', 'Show on the sheet')
  await expect(shown('First version')).toBeVisible()
  await more(page, 'For the calendar', 'Delete')
  await expect(list.getByRole('link')).toHaveText(['First version'])
  await expect.poll(() => settled(page)).toEqual(bright)
  await page.getByRole('button', { name: 'New version' }).click()
  await page.getByRole('menuitem', { name: 'Restore “For the calendar”' }).click()
  await expect(list.getByRole('link')).toHaveText(['For the calendar', 'First version'])
})

test('two windows: different parts are joined, of the same part the later is told and chooses', async ({
  page,
  app,
  context,
}) => {
  await openBench(page, app)
  const other = await context.newPage()
  await openBench(other, app)
  const cutOff = async (on: Page) => on.route('**/api/versions/**', (route) => route.abort())
  // cut off, neither hears of the other
  await cutOff(other)
  await set(other, 'Grade', '4')
  await set(page, 'Exposure', '1')
  await saved(page)
  await other.unroute('**/api/versions/**')
  await expect(exposure(other)).toHaveValue('+1.00', { timeout: 15000 })
  await expect(page.getByLabel('Grade, number')).toHaveValue('4.0')
  await cutOff(other)
  await set(other, 'Exposure', '-2')
  await set(page, 'Exposure', '0.5')
  await saved(page)
  await other.unroute('**/api/versions/**')
  await expect(other.getByText('Another window changed the same settings.')).toBeVisible({ timeout: 15000 })
  await expect(exposure(other)).toHaveValue('+0.50')
  await other.getByRole('button', { name: 'Use my settings' }).click()
  await expect(exposure(other)).toHaveValue('\u22122.00')
  await expect(exposure(page)).toHaveValue('\u22122.00')
})

test('a window that is gone before the server is back has lost nothing', async ({ page, app, context }) => {
  const lost = await context.newPage()
  await openBench(lost, app)
  await lost.route('**/api/versions/**', (route) => route.abort())
  for (const ev of ['1', '1.5', '2']) await set(lost, 'Exposure', ev)
  await expect(lost.getByText('Not saved')).toBeVisible()
  await lost.close()
  await openBench(page, app)
  await expect(exposure(page)).toHaveValue('+2.00')
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(4)
})

/** Where the library stands, as the server says. */
const stands = async (app: App) => (await app.server.version(app.frameId)).development.steps.exposure.ev

test('what is done while another frame is gone to is saved', async ({ page, app }) => {
  await page.route('**/api/versions/**', async (route) => {
    await new Promise((done) => setTimeout(done, 600))
    await route.continue()
  })
  await openBench(page, app)
  await set(page, 'Exposure', '1')
  await set(page, 'Exposure', '1.5')
  await page.keyboard.press('PageDown')
  await expect(page.getByRole('heading', { name: 'HM0466.dng' })).toBeVisible()
  await expect.poll(() => stands(app)).toBe(1.5)
})
