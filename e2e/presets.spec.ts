import type { FramePage } from '@dunkelkammer/contract'
import type { Page } from '@playwright/test'
import { writeFileSync } from 'node:fs'
import { developed, expect, fresh, settled, test, type App } from './app'
import { expectDelivered } from './delivered'
import { cells, frame, openSheet } from './sheet'

/** Presets and copied settings: on the bench, on the sheet, on their own page. */

const side = (page: Page) => page.getByRole('complementary', { name: 'Presets' })
const tile = (page: Page, name: string) =>
  side(page)
    .locator('button[data-look]')
    .filter({ has: page.getByText(name, { exact: true }) })
const applied = (page: Page) => page.getByRole('region', { name: 'Applied presets' })
const development = async (app: App, frameId: string) =>
  (await app.server.ask<FramePage>(`/api/frames/${frameId}`)).body.versions[0].development

test('a preset is seen before it is applied, applied at a strength, and taken off exactly', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app)
  await page.getByRole('button', { name: 'Presets', exact: true }).click()
  const before = await settled(page)
  // the large preview
  await tile(page, 'Monochrome, red filter').hover()
  await expect.poll(async () => (await settled(page)).sum).not.toBe(before.sum)
  await expect(side(page).getByRole('region', { name: 'What it sets' })).toContainText('Lens filter: red')
  await page.mouse.move(400, 300)
  await expect.poll(async () => (await settled(page)).sum).toBe(before.sum)
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled()

  await tile(page, 'Coarse grain').click()
  await tile(page, 'Harder paper').click()
  await page.mouse.move(400, 300)
  const strength = applied(page).getByLabel('Harder paper, number')
  await strength.fill('150')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await development(app, frameId)).steps.baseRendering.grade).toBe(2.75)
  await settled(page)
  await expectDelivered(page, app, frameId)

  await applied(page).getByRole('button', { name: 'Take off Coarse grain' }).click()
  await expect.poll(async () => (await development(app, frameId)).steps.grain.strength).toBe(0)
  expect((await development(app, frameId)).steps.baseRendering.grade).toBe(2.75)
  await applied(page).getByRole('button', { name: 'Take off Harder paper' }).click()
  await expect(applied(page)).toContainText('No preset is applied.')
  await expect.poll(async () => (await settled(page)).sum).toBe(before.sum)
  // each of it is one step of the history
  await page.keyboard.press('Control+z')
  await expect(applied(page).getByRole('button', { name: /^Take off/ })).toHaveCount(1)
})

test('a preset is made of what was changed, and applied to frames of the sheet', async ({ page, app }) => {
  const frameId = await fresh(page, app)
  await page.getByLabel('Exposure, number').fill('0.5')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Alt+k')
  const dialog = page.getByRole('dialog', { name: 'New preset' })
  await dialog.getByLabel('Name').fill('Half a stop')
  await dialog.getByLabel('Group').fill('Canal')
  await expect(dialog.getByRole('checkbox', { name: 'Exposure', exact: true })).toBeChecked()
  await expect(dialog.getByRole('checkbox', { name: 'Tones', exact: true })).not.toBeChecked()
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toBeHidden()
  await page.getByRole('button', { name: 'Presets', exact: true }).click()
  await expect(tile(page, 'Half a stop')).toBeVisible()
  expect((await development(app, frameId)).steps.exposure.ev).toBe(0.5)

  await openSheet(page, app, 'For a preset')
  await cells(page).nth(1).click()
  await cells(page)
    .nth(3)
    .click({ modifiers: ['Shift'] })
  await page.getByRole('button', { name: 'Apply a preset to 3 frames' }).click()
  const picker = page.getByRole('dialog', { name: 'Apply a preset' })
  await picker.getByLabel('Find presets').fill('half stop')
  await picker.getByRole('button', { name: 'Half a stop' }).click()
  await expect(picker).toContainText('Exposure +0.50 EV')
  await picker.getByLabel('Strength, number').fill('50')
  await picker.getByRole('button', { name: 'Apply to 3 frames' }).click()
  await expect(page.getByText('Half a stop at 50 %: 3 frames.')).toBeVisible()
  await expect(page.getByText('edited')).toHaveCount(3)
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(page.getByText('Taken back in 3 frames.')).toBeVisible()
  await expect(page.getByText('edited')).toHaveCount(0)
})

test('frames that are clicked get the preset in the hand', async ({ page, app }) => {
  await openSheet(page, app, 'By clicking')
  await cells(page).first().click()
  await page.keyboard.press('Alt+l')
  const picker = page.getByRole('dialog', { name: 'Apply a preset' })
  await picker.getByRole('button', { name: 'Kiln yard' }).click()
  await picker.getByRole('button', { name: 'Apply by clicking' }).click()
  await frame(page, 'HM0503').click()
  await frame(page, 'HM0505').click()
  await expect(page.getByText('Applied to HM0505.dng.')).toBeVisible()
  await expect(page.getByText('edited')).toHaveCount(2)
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect(page.getByText('Applied to HM0503.dng.')).toBeVisible()
  await expect(frame(page, 'HM0505').getByText('edited')).toHaveCount(0)
  await page.keyboard.press('Escape')
  await expect(page.getByText('Click frames to apply')).toHaveCount(0)
  await expect(frame(page, 'HM0503').getByText('edited')).toBeVisible()
})

test('settings are copied by step and pasted on the bench and the sheet, what belongs to one frame left out', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=square-up')
  await page.getByLabel('Rotation, number').first().fill('3')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: /^Expose/ }).click()
  await page.getByLabel('Exposure, number').fill('-0.75')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Alt+c')
  const dialog = page.getByRole('dialog', { name: /^Copy settings of/ })
  await expect(dialog.getByRole('checkbox', { name: 'Level' })).not.toBeChecked()
  await dialog.getByRole('checkbox', { name: 'Curve', exact: true }).uncheck()
  await dialog.getByRole('button', { name: 'Copy' }).click()
  // the last choice is offered again
  await page.keyboard.press('Alt+c')
  await expect(dialog.getByRole('checkbox', { name: 'Curve', exact: true })).not.toBeChecked()
  await dialog.getByRole('button', { name: 'Cancel' }).click()

  const other = await fresh(page, app, '', 'HM0403')
  const before = await settled(page)
  await page.keyboard.press('Alt+p')
  await expect.poll(async () => (await development(app, other)).steps.exposure.ev).toBe(-0.75)
  expect((await development(app, other)).steps.level.angle).toBe(0)
  await expect.poll(async () => (await settled(page)).mean[1]).toBeLessThan(before.mean[1] - 5)
  await expectDelivered(page, app, other)

  await openSheet(page, app, 'For pasting')
  await cells(page).first().click()
  await page.keyboard.press('Control+a')
  await page.getByRole('button', { name: 'Paste settings' }).click()
  await expect(page.getByText(/^Settings of .* pasted: 7 frames\.$/)).toBeVisible()
  await expect(page.getByText('edited')).toHaveCount(7)
})

test('the page of presets sorts, hides, renames, deletes, imports and restores', async ({
  page,
  app,
}, info) => {
  await page.goto(`${app.server.url}/presets`)
  const group = page.getByRole('region', { name: 'Paper and edges' })
  const rows = group.getByRole('listitem')
  await expect(rows).toHaveText([/Darker edges/, /Lighter edges/, /Fine grain/, /Coarse grain/])
  await group.getByRole('button', { name: 'Move Coarse grain' }).focus()
  await page.keyboard.press('Space')
  await expect(page.getByText('Coarse grain at place 4.')).toBeAttached()
  await page.keyboard.press('ArrowUp')
  await expect(page.getByText('Coarse grain at place 3.')).toBeAttached()
  await page.keyboard.press('Space')
  await expect(rows).toHaveText([/Darker edges/, /Lighter edges/, /Coarse grain/, /Fine grain/])
  await group.getByRole('button', { name: 'Show Paper and edges at the bench' }).click()

  await rows.nth(0).getByRole('button', { name: 'Darker edges', exact: true }).click()
  await page.getByRole('button', { name: 'Rename' }).click()
  await page.getByLabel('Name of the preset').fill('Burnt edges')
  await page.keyboard.press('Enter')
  await expect(rows.nth(0)).toHaveText(/Burnt edges changed/)
  await page.getByRole('button', { name: 'Delete Burnt edges' }).click()
  await expect(rows).toHaveCount(3)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(rows).toHaveCount(4)

  const path = info.outputPath('newer.json')
  const file = { kind: 'dunkelkammer-preset', format: 9, name: 'Fine grain', group: 'Paper and edges' }
  writeFileSync(path, JSON.stringify({ ...file, steps: { grain: { strength: 0.9 }, shimmer: {} } }))
  await page.getByLabel('Files of presets').setInputFiles(path)
  const dialog = page.getByRole('dialog', { name: 'Import presets' })
  await expect(dialog).toContainText('The name exists')
  await expect(dialog).toContainText('newer Dunkelkammer. The step “shimmer” is not known.')
  await dialog.getByRole('button', { name: 'Import 1 preset' }).click()
  await expect(group.getByRole('button', { name: 'Fine grain 2', exact: true })).toBeVisible()
  writeFileSync(path, '{"kind":')
  await page.getByLabel('Files of presets').setInputFiles(path)
  await expect(page.getByText('newer.json: This is not a preset: it is not JSON.')).toBeVisible()

  await page.getByRole('button', { name: 'Restore shipped presets' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Restore', exact: true }).click()
  await expect(rows.filter({ hasText: 'Darker edges' })).toHaveCount(1)
  await expect(rows.filter({ hasText: 'Burnt edges, changed' })).toHaveCount(1)

  // what is hidden is not offered at the bench
  await fresh(page, app)
  await page.getByRole('button', { name: 'Presets', exact: true }).click()
  await expect(tile(page, 'Harder paper')).toBeVisible()
  await expect(tile(page, 'Coarse grain')).toHaveCount(0)
  await expect(developed(page)).toBeVisible()
})
