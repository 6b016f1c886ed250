import type { FramePage } from '@dunkelkammer/contract'
import { expect, test, type App } from './app'
import { cells, frame, openSheet, stored } from './sheet'

/** Exposure and white of frames that are matched to one of them, on the sheet. */

const development = async (app: App, id: string) =>
  (await app.server.ask<FramePage>(`/api/frames/${id}`)).body.versions[0].development.steps

test('frames are matched to the one in hand: shown first, then done, and taken back', async ({
  page,
  app,
}) => {
  const names = ['HM0502', 'HM0503', 'HM0504']
  const shootId = await openSheet(page, app, 'Matching', names)
  const frames = await stored(app, shootId)
  const idOf = (name: string) => frames.find((f) => f.fileName.includes(name))!.id
  const evs = () => Promise.all(names.map(async (name) => (await development(app, idOf(name))).exposure.ev))
  await app.server.expose(await app.server.version(idOf('HM0503')), 0.6)

  // one frame alone is matched to nothing
  await frame(page, 'HM0502').click()
  const about = page.getByRole('complementary', { name: 'About the chosen frames' })
  await expect(about.getByRole('button', { name: /^Match light/ })).toHaveCount(0)
  await frame(page, 'HM0504').click({ modifiers: ['Control'] })
  await frame(page, 'HM0503').click({ modifiers: ['Control'] })
  await expect(about.getByRole('button', { name: 'Match light to HM0503.dng' })).toBeVisible()
  await page.keyboard.press('Alt+m')
  const dialog = page.getByRole('dialog', { name: 'Match to HM0503.dng' })
  const row = (name: string) => dialog.getByRole('row', { name: new RegExp(name) })
  for (const name of ['HM0502', 'HM0504']) await expect(row(name)).toContainText('+0.60 EV')
  await expect(row('HM0503')).toHaveCount(0)
  await expect(row('HM0502')).toContainText('same scene')
  expect(await evs()).toEqual([0, 0.6, 0])

  await row('HM0504').getByRole('checkbox').uncheck()
  await dialog.getByRole('button', { name: 'Match 1 frame' }).click()
  await expect(dialog).toHaveCount(0)
  await expect.poll(evs).toEqual([0.6, 0.6, 0])
  const white = (await development(app, idOf('HM0502'))).cameraColour
  expect(white.source).toBe('kelvin')
  await expect(page.getByText('Matched to HM0503.dng: 1 frame.')).toBeVisible()
  await page.getByRole('button', { name: 'Take back' }).click()
  await expect.poll(evs).toEqual([0, 0.6, 0])
  await expect(cells(page)).toHaveCount(3)
})
