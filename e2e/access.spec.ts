import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { expect, fresh, openBench, test } from './app'
import { frame, openSheet } from './sheet'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What the automated check of accessibility finds, by rule. */
async function findings(page: Page): Promise<string[]> {
  await page.evaluate(axe)
  return page.evaluate(async () => {
    // what fades in has its colours only once it is there
    await Promise.all(document.getAnimations().map((a) => a.finished.catch(() => undefined)))
    const { violations } = await (
      globalThis as never as {
        axe: { run(): Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> }
      }
    ).axe.run()
    return violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 160)}`)
  })
}

test('pages have no fault of accessibility', async ({ page, app }) => {
  for (const path of [
    '/',
    `/shoots/${app.shootId}`,
    '/deliveries',
    '/presets',
    '/lenses',
    '/settings',
    '/nowhere',
    `/shoots/${app.shootId}/compare?frames=${app.frameId}`,
  ]) {
    await page.goto(app.server.url + path)
    await page.getByRole('heading', { level: 1 }).waitFor()
    expect(await findings(page), path).toEqual([])
  }
  for (const stage of ['square-up', 'expose', 'balance', 'refine', 'mend', 'shape', 'finish']) {
    await openBench(page, app, `?stage=${stage}`)
    expect(await findings(page), stage).toEqual([])
  }
})

test('menus, panels and dialogs of the bench have no fault of accessibility', async ({ page, app }) => {
  await fresh(page, app, '?stage=expose')
  const open = async (what: string, how: () => Promise<void>, shown: string, role = 'dialog') => {
    await how()
    await page
      .getByRole(role as 'dialog', { name: shown })
      .first()
      .waitFor({ state: 'attached' })
    expect(await findings(page), what).toEqual([])
    await page.keyboard.press('Escape')
    await page
      .getByRole(role as 'dialog', { name: shown })
      .first()
      .waitFor({ state: 'detached' })
  }
  const click = (name: string | RegExp) => () =>
    page.getByRole('button', { name, exact: true }).first().click()
  await open('deliver', click('Deliver'), 'Deliver')
  await open('keys', () => page.keyboard.press('?'), 'Keys')
  await open('palette', () => page.keyboard.press('Control+k'), 'Find a command')
  await open('looks', () => page.keyboard.press('l'), 'Looks')
  await open('a new preset', () => page.keyboard.press('Alt+k'), 'New preset')
  await open('copied settings', () => page.keyboard.press('Alt+c'), 'Copy settings of HM0417.dng')
  await page.keyboard.press('Alt+l')
  await page.getByRole('button', { name: /^Harder paper/ }).click()
  await page.getByRole('button', { name: 'Take off Harder paper' }).waitFor()
  expect(await findings(page), 'presets').toEqual([])
  await page.keyboard.press('Alt+l')
  await open('compared with', click('Compared with: Original'), '', 'menu')
  await open('versions', click('New version'), '', 'menu')
  await open('a version', click('More for First version'), '', 'menu')
  await page.getByRole('button', { name: 'Thresholds of clipping' }).click()
  await page.getByText('Levels of 255').waitFor()
  expect(await findings(page), 'clipping').toEqual([])
  await page.keyboard.press('Escape')
  // a look is chosen in its own stage
  await page.keyboard.press('Alt+2')
  await page.getByRole('slider', { name: 'Exposure' }).focus()
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('e')
  await page.getByRole('button', { name: 'Close the history' }).waitFor()
  expect(await findings(page), 'history').toEqual([])
  await page.getByRole('button', { name: /^More for Exposure/ }).click()
  await page.getByRole('menu').waitFor()
  expect(await findings(page), 'an entry').toEqual([])
  await page.keyboard.press('Escape')
  await page.keyboard.press('e')
  await page.keyboard.press('r')
  expect(await findings(page), 'readings').toEqual([])
  await page.keyboard.press('Alt+4')
  await page.getByRole('button', { name: 'Compare variants' }).click()
  await page.getByRole('button', { name: 'Close without choosing' }).waitFor()
  expect(await findings(page), 'variants').toEqual([])
})

test('menus, dialogs and the look of the sheet have no fault of accessibility', async ({ page, app }) => {
  await openSheet(page, app, 'Reachable', ['HM0403', 'HM0488'])
  const seen = async (what: string) => {
    expect(await findings(page), what).toEqual([])
    await page.keyboard.press('Escape')
  }
  await frame(page, 'HM0403').click()
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  await page.getByRole('region', { name: 'Stars' }).waitFor()
  await seen('filter')
  for (const [what, key, dialog] of [
    ['keys', '?', 'Keys'],
    ['palette', 'Control+k', 'Find a command'],
    ['bring in', 'Control+b', 'Bring in'],
    ['a preset', 'Alt+l', 'Apply a preset'],
    ['copied settings', 'Alt+c', 'Copy settings of HM0403.dng'],
  ]) {
    await page.getByTestId('grid').focus()
    await page.keyboard.press(key)
    await page.getByRole('dialog', { name: dialog }).waitFor({ state: 'attached' })
    await seen(what)
    await page.getByRole('dialog', { name: dialog }).waitFor({ state: 'detached' })
  }
  await page.getByTestId('grid').focus()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('move the chosen')
  await page.keyboard.press('Enter')
  await page.getByRole('dialog', { name: 'Move to another shoot' }).waitFor({ state: 'attached' })
  await seen('move')
  await page.getByTestId('grid').focus()
  await frame(page, 'HM0403').click()
  await page.keyboard.press('l')
  await page.getByRole('main', { name: 'Look' }).waitFor()
  await seen('look')
  await page.goto(app.server.url)
  await page.getByRole('button', { name: /^More for Reachable/ }).click()
  await page.getByRole('menu').waitFor()
  await seen('a shoot')
})
