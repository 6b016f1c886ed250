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
