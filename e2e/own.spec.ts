import type { FramePage } from '@dunkelkammer/contract'
import { expect, fresh, settled, test } from './app'

test('controls are pinned into a drawer of one’s own, put in order, and do what they do elsewhere', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=balance')
  await page.getByRole('button', { name: 'Own', exact: true }).click()
  await expect(page.getByText('Pin the controls that you use for every frame')).toBeVisible()
  const find = page.getByLabel('Pin a control')
  const found = page.getByRole('list', { name: 'Controls found' })
  for (const [words, name] of [
    ['exposure', 'Exposure'],
    ['grain amount', 'Film grain, amount'],
    ['lens filter', 'Monochrome, lens filter'],
  ]) {
    await find.fill(words)
    await found.getByRole('button', { name, exact: true }).click()
  }
  const pinned = page.getByRole('list', { name: 'Pinned controls' }).getByRole('listitem')
  await expect(pinned).toHaveCount(3)
  const before = await settled(page)
  await page.getByLabel('Exposure, number').fill('1')
  await page.keyboard.press('Enter')
  await expect.poll(async () => (await settled(page)).mean[1]).toBeGreaterThan(before.mean[1] + 10)
  await page.getByRole('combobox', { name: 'Monochrome, lens filter' }).selectOption({ label: 'Red' })
  const steps = async () =>
    (await app.server.ask<FramePage>(`/api/frames/${frameId}`)).body.versions[0].development.steps
  await expect.poll(async () => (await steps()).monochrome.filter).toBe('red')
  expect((await steps()).exposure.ev).toBe(1)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await settled(page)).sum).toBe(before.sum)

  // by keys, and it is there again after a reload
  await page.getByRole('button', { name: 'Move Film grain, amount' }).focus()
  await page.keyboard.press('Space')
  await expect(page.getByText('Film grain, amount at place 2.')).toBeAttached()
  await page.keyboard.press('ArrowUp')
  await expect(page.getByText('Film grain, amount at place 1.')).toBeAttached()
  await page.keyboard.press('Space')
  await expect(pinned.first()).toContainText('Film grain, amount')
  await page.reload()
  await expect(pinned.first()).toContainText('Film grain, amount')
  await page.getByRole('button', { name: 'Unpin Exposure' }).click()
  await expect(pinned).toHaveCount(2)
  // a stage closes it, and the next frame is opened with it
  await page.keyboard.press('Alt+2')
  await expect(pinned).toHaveCount(0)
  await page.keyboard.press('Alt+0')
  await expect(pinned).toHaveCount(2)
})

test('a control is pinned from where it stands, and the white balance starts from the camera’s', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=balance')
  const row = page.getByRole('region', { name: 'White balance' })
  await row.getByText('Colour temperature').hover()
  await row.getByRole('button', { name: 'Pin Colour temperature' }).click()
  await expect(row.getByRole('button', { name: 'Unpin Colour temperature' })).toBeAttached()
  const asShot = Number(await page.getByLabel('Colour temperature, number').inputValue())
  await page.keyboard.press('Alt+0')
  const pinned = page.getByRole('list', { name: 'Pinned controls' }).getByRole('listitem')
  await expect(pinned).toHaveCount(1)
  const number = pinned.getByRole('textbox')
  await expect(number).toHaveValue(String(asShot))
  const before = await settled(page)
  await number.fill(String(asShot + 2000))
  await page.keyboard.press('Enter')
  const white = async () =>
    (await app.server.ask<FramePage>(`/api/frames/${frameId}`)).body.versions[0].development.steps
      .cameraColour
  await expect.poll(async () => (await white()).source).toBe('kelvin')
  await expect.poll(async () => (await settled(page)).sum).not.toBe(before.sum)
  const after = await settled(page)
  expect(after.mean[0] - after.mean[2]).toBeGreaterThan(before.mean[0] - before.mean[2] + 5)
})
