import { readFileSync } from 'node:fs'
import type { ShootPage } from '@dunkelkammer/contract'
import type { Page } from '@playwright/test'
import { demoFile } from '../packages/server/test/server'
import { expect, type App } from './app'

export const demo = (name: string) => readFileSync(demoFile.replace('HM0417', name))
export const NAMES = ['HM0403', 'HM0488', 'HM0502', 'HM0503', 'HM0504', 'HM0505', 'HM0551']
export const cells = (page: Page) => page.getByTestId('grid').getByRole('gridcell')
export const frame = (page: Page, name: string) =>
  page.getByTestId('grid').getByRole('gridcell', { name: new RegExp(name) })
export const shown = (page: Page) =>
  cells(page).evaluateAll((all) => all.map((e) => e.getAttribute('data-name')!.replace('.dng', '')))
export const chosen = (page: Page) =>
  page
    .locator('[role=gridcell][aria-selected=true]')
    .evaluateAll((all) => all.map((e) => e.getAttribute('data-name')!.replace('.dng', '')))

/** A shoot with the demo's later frames, opened at its contact sheet. */
export async function openSheet(page: Page, app: App, name: string, frames = NAMES): Promise<string> {
  const { id } = (await app.server.send('POST', '/api/shoots', { name })).body as { id: string }
  for (const f of frames)
    await app.server.ask(`/api/shoots/${id}/frames?name=${f}.dng`, { method: 'POST', body: demo(f) })
  await page.goto(`${app.server.url}/shoots/${id}`)
  await expect(cells(page)).toHaveCount(frames.length)
  return id
}
export const stored = async (app: App, shootId: string) =>
  ((await app.server.ask(`/api/shoots/${shootId}`)).body as ShootPage).frames
