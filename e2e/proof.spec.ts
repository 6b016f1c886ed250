import { paperProfile } from '../packages/demo/src/paper/paperProfile'
import { developed, expect, openBench, settled, test, type App } from './app'
import type { Page } from '@playwright/test'

const NAME = 'Made-up matt cotton paper'
const how = (page: Page) => page.getByRole('button', { name: 'How it is proofed' }).click()

async function load(page: Page) {
  await how(page)
  await page.getByLabel('Colour profile to load').setInputFiles({
    name: 'cotton.icc',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from(paperProfile()),
  })
  await expect(page.getByRole('status').filter({ hasText: `Proof: ${NAME}` })).toBeVisible()
}

const profiles = async (app: App) => (await app.server.ask<{ name: string }[]>('/api/profiles')).body

test('the picture is shown as a paper would, with stripes over what it lacks, and without again', async ({
  page,
  app,
}) => {
  await openBench(page, app)
  await expect(developed(page)).toBeVisible()
  const plain = await settled(page)
  await load(page)
  expect((await profiles(app)).map((p) => p.name)).toEqual([NAME])
  await expect.poll(async () => (await settled(page)).mean).not.toEqual(plain.mean)
  const proofed = await settled(page)
  await page.getByLabel('White and black of the paper').click()
  await expect.poll(async () => (await settled(page)).mean).not.toEqual(proofed.mean)
  await page.getByLabel('White and black of the paper').click()
  await page.getByLabel('Stripes over colours out of gamut').click()
  await expect.poll(async () => (await settled(page)).mean).not.toEqual(proofed.mean)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Proof', exact: true }).click()
  await expect.poll(() => settled(page)).toEqual(plain)
})

test('a proof has its own adjustments as a version', async ({ page, app }) => {
  await openBench(page, app)
  await expect(developed(page)).toBeVisible()
  await load(page)
  await page.getByRole('button', { name: 'Version for the proof' }).click()
  await expect(page.getByText(`Proof, ${NAME}`).first()).toBeVisible()
  // still the proof
  await expect(page.getByRole('status').filter({ hasText: `Proof: ${NAME}` })).toBeVisible()
})

test('what is no profile is refused with a sentence', async ({ page, app }) => {
  await openBench(page, app)
  await how(page)
  await page
    .getByLabel('Colour profile to load')
    .setInputFiles({ name: 'notes.icc', mimeType: 'text/plain', buffer: Buffer.from('nothing of the kind') })
  await expect(
    page.getByText(/notes\.icc: This colour profile cannot be used: it is no ICC profile/),
  ).toBeVisible()
})
