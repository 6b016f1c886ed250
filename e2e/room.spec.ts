import type { Page } from '@playwright/test'
import { developed, expect, fresh, test } from './app'

/** Controls of the drawer that are in sight as a whole. */
const inSight = (page: Page) =>
  page.evaluate(() => {
    const room = document.querySelector('aside[aria-label=Drawer] > div')!.getBoundingClientRect()
    const controls = 'input[type=range], button, select, input[type=checkbox], [role=radiogroup]'
    return [...document.querySelectorAll(`aside[aria-label=Drawer] .section-body :is(${controls})`)].filter(
      (c) => {
        const { top, bottom } = c.getBoundingClientRect()
        return top >= room.top && bottom <= room.bottom
      },
    ).length
  })

/** What reaches beyond the window, or is wider than what it stands in. */
const overflowing = (page: Page) =>
  page.evaluate(() => {
    const name = (e: Element) => `${e.tagName} ${e.getAttribute('aria-label') ?? e.textContent?.slice(0, 30)}`
    const beyond = [...document.querySelectorAll('body *')].filter((e) => {
      const { width, right } = e.getBoundingClientRect()
      return width > 0 && right > innerWidth + 1
    })
    const wide = [...document.querySelectorAll('header, nav, main, aside, section, footer')].filter(
      (e) => e.scrollWidth > e.clientWidth + 1,
    )
    return [...beyond, ...wide].map(name)
  })

test('numbers in a line each leave room for sixteen controls, and stay so', async ({ page, app }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  await fresh(page, app, '?stage=expose')
  const before = await inSight(page)
  await page.getByRole('button', { name: 'Compact rows' }).click()
  expect(await inSight(page)).toBeGreaterThanOrEqual(Math.max(16, before + 1))
  const row = page.locator('.number-row', { has: page.getByRole('slider', { name: 'White point' }) })
  const boxes = await Promise.all(
    [row.getByText('White point'), row.getByRole('slider'), row.getByRole('textbox')].map((part) =>
      part.boundingBox(),
    ),
  )
  const middles = boxes.map((b) => b!.y + b!.height / 2)
  expect(Math.max(...middles) - Math.min(...middles)).toBeLessThan(4)
  await page.reload()
  await developed(page).waitFor()
  expect(await inSight(page)).toBeGreaterThanOrEqual(16)
  for (const stage of [1, 3, 4]) {
    await page.keyboard.press(`Alt+${stage}`)
    await expect.poll(() => inSight(page)).toBeGreaterThanOrEqual(16)
  }
})

test('sections remember whether they are open, and one key folds all but the one in use', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=expose')
  const open = (name: string) => page.getByRole('region', { name, exact: true }).getByRole('slider')
  await page.getByRole('slider', { name: 'Grade' }).focus()
  await page.keyboard.press('x')
  await expect(page.locator('aside .section-body')).toHaveCount(1)
  await expect(open('Rendering').first()).toBeVisible()
  await page.reload()
  await developed(page).waitFor()
  await expect(page.locator('aside .section-body')).toHaveCount(1)
  await page.getByRole('button', { name: 'Tones', exact: true, expanded: false }).click()
  await page.keyboard.press('x')
  await expect(page.locator('aside .section-body')).toHaveCount(1)
  await expect(open('Tones').first()).toBeVisible()
})

test('drawer and strip fold away and come back, and the picture has their room', async ({ page, app }) => {
  await fresh(page, app, '?stage=expose')
  const picture = page.getByRole('application')
  const width = async () => (await picture.boundingBox())!.width
  const narrow = await width()
  await page.keyboard.press('t')
  await expect(page.getByRole('complementary', { name: 'Drawer' })).toBeHidden()
  await expect.poll(width).toBeGreaterThan(narrow + 250)
  await page.getByRole('button', { name: 'Hide the strip' }).click()
  await expect.poll(width).toBeGreaterThan(narrow + 350)
  await page.reload()
  await developed(page).waitFor()
  await expect.poll(width).toBeGreaterThan(narrow + 350)
  await page.keyboard.press('s')
  await page.getByRole('button', { name: 'Show the drawer' }).click()
  await expect.poll(width).toBe(narrow)
})

test('from 1000 pixels of width on nothing is cut off', async ({ page, app }) => {
  await page.setViewportSize({ width: 1000, height: 700 })
  await fresh(page, app, '?stage=square-up')
  for (let stage = 1; stage <= 5; stage++) {
    await page.keyboard.press(`Alt+${stage}`)
    expect(await overflowing(page)).toEqual([])
  }
  await page.keyboard.press('e')
  await page.getByRole('button', { name: 'Close the history' }).waitFor()
  expect(await overflowing(page)).toEqual([])
  await page.keyboard.press('e')
  await page.getByRole('button', { name: 'Compact rows' }).click()
  expect(await overflowing(page)).toEqual([])
  const benchUrl = page.url()
  for (const path of [
    new URL(benchUrl).pathname.replace(/\/frames.*/, ''),
    '/',
    '/deliveries',
    '/lenses',
    '/settings',
  ]) {
    await page.goto(app.server.url + path)
    await page.getByRole('heading').first().waitFor()
    expect(await overflowing(page), path).toEqual([])
  }
})
