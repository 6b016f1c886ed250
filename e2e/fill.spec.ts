import type { Page } from '@playwright/test'
import { developed, expect, fresh, pixels, settled, test } from './app'
import { expectDelivered } from './delivered'

/** Places that are filled, and wires that are taken away. */

const patches = (page: Page) => page.getByRole('list', { name: 'Patches' }).getByRole('listitem')
const entries = (page: Page) =>
  page
    .getByRole('complementary', { name: 'History' })
    .getByRole('list', { name: 'Entries' })
    .getByRole('listitem')
const filling = (page: Page) => page.getByRole('progressbar', { name: 'Filling' })

/** Parts of the canvas on the screen. */
async function placesOf(page: Page, places: readonly (readonly [number, number])[]) {
  const box = (await developed(page).boundingBox())!
  return places.map(([u, v]) => [box.x + box.width * u, box.y + box.height * v] as const)
}

/** Green of the picture as it is shown, at parts of its sides. */
async function greens(page: Page) {
  const { width, height } = await settled(page)
  const shown = await pixels(page)
  return (u: number, v: number) => shown[(Math.floor(v * height) * width + Math.floor(u * width)) * 4 + 1]
}

/** Green in the middle of a small picture. */
async function middleOf(page: Page, name: string): Promise<number> {
  const shown = await pixels(page, name)
  const side = Math.sqrt(shown.length / 4)
  const some = [-2, -1, 0, 1, 2].map((d) => (Math.floor(side / 2) * side + Math.floor(side / 2) + d) * 4 + 1)
  return mean(some.map((i) => shown[i]))
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b) / values.length

/** Middle and radius of a stain of the sailcloth, parts of the sides. */
const STAIN = { u: 0.672, v: 0.663, r: 0.055 }

test('a stain is filled as one step, in the delivered file too, and anew when asked', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=mend', 'HM0512')
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  const start = await settled(page)
  const stained = await greens(page)
  const within = (of: (u: number, v: number) => number) =>
    mean(Array.from({ length: 40 }, (_, i) => of(STAIN.u - 0.02 + i / 1000, STAIN.v)))
  const around = mean(
    Array.from({ length: 40 }, (_, i) => stained(STAIN.u - 0.02 + i / 1000, STAIN.v + 0.15)),
  )
  expect(around - within(stained)).toBeGreaterThan(25)

  await page.getByRole('region', { name: 'Patches' }).getByRole('radio', { name: 'Fill' }).click()
  await page.getByRole('button', { name: 'Draw outlines' }).click()
  const ring = await placesOf(
    page,
    Array.from({ length: 25 }, (_, i) => {
      const angle = (i / 24) * 2 * Math.PI
      return [
        STAIN.u + 1.25 * STAIN.r * Math.cos(angle),
        STAIN.v + 1.25 * STAIN.r * 1.5 * Math.sin(angle),
      ] as const
    }),
  )
  await page.mouse.move(...ring[0])
  await page.mouse.down()
  for (const place of ring.slice(1)) await page.mouse.move(...place, { steps: 2 })
  await page.mouse.up()
  await expect(patches(page)).toHaveText([/Fill an outline/])
  await expect(page.getByRole('button', { name: 'Fill anew' })).toBeVisible()
  await expect.poll(() => settled(page)).not.toEqual(start)
  await page.keyboard.press('Escape')
  await expect(entries(page)).toHaveCount(2)
  await expect(entries(page).first()).toContainText('Patch added')
  const filled = await settled(page)
  // small, before and after
  const small = (name: string) => page.getByRole('img', { name: `Patch 1 ${name}`, exact: true })
  await expect(small('before')).toBeVisible()
  await expect(small('after')).toBeVisible()
  const [stain, cloth] = await Promise.all(
    ['Patch 1 before', 'Patch 1 after'].map((name) => middleOf(page, name)),
  )
  expect(cloth - stain).toBeGreaterThan(25)
  expect(Math.abs(around - within(await greens(page)))).toBeLessThan(8)
  await expectDelivered(page, app, frameId)

  await page.getByRole('button', { name: 'Fill anew' }).click()
  await expect(entries(page).first()).toContainText('Patch filled anew')
  await expect.poll(() => settled(page)).not.toEqual(filled)
  expect(Math.abs(around - within(await greens(page)))).toBeLessThan(8)

  // what was found stays as it is
  await page.keyboard.press('Control+z')
  await expect.poll(() => settled(page)).toEqual(filled)
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await expect(patches(page)).toHaveCount(1)
  await expect.poll(() => settled(page)).toEqual(filled)
  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)
})

test('a patch that heals becomes one that fills, and keeps away from a place that is excluded', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=mend', 'HM0512')
  const start = await settled(page)
  await page.keyboard.press('b')
  const [at, ...corners] = await placesOf(page, [
    [0.3, 0.5],
    [0.34, 0.3],
    [0.6, 0.3],
    [0.6, 0.6],
    [0.34, 0.6],
  ])
  await page.mouse.click(...at)
  await expect(patches(page)).toHaveText([/Heal a spot/])
  await expect.poll(() => settled(page)).not.toEqual(start)
  await page.keyboard.press('Escape')
  const healed = await settled(page)
  await page.getByRole('region', { name: 'Patches' }).getByRole('radio', { name: 'Fill' }).click()
  await expect(patches(page)).toHaveText([/Fill a spot/])
  await expect(page.getByRole('button', { name: 'Fill anew' })).toBeVisible()
  await expect.poll(() => settled(page)).not.toEqual(healed)
  // what is filled has no source to be dragged
  await expect(page.getByRole('button', { name: /^Source of patch 1/ })).toHaveCount(0)

  await expect(page.getByRole('button', { name: 'Include it again' })).toBeDisabled()
  await page.getByRole('button', { name: 'Exclude a place' }).click()
  for (const corner of [...corners, corners[0]]) await page.mouse.click(...corner)
  await expect(page.getByRole('button', { name: 'Include it again' })).toBeEnabled()
  await expect(filling(page)).toHaveCount(0)
  await page.getByRole('button', { name: 'Include it again' }).click()
  await expect(page.getByRole('button', { name: 'Include it again' })).toBeDisabled()
  await expect(filling(page)).toHaveCount(0)
})

test('a wire is taken away by a click on each of its ends', async ({ page, app }) => {
  await fresh(page, app, '?stage=mend', 'HM0491')
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  const start = await settled(page)
  const before = await greens(page)
  // where it hangs before the sky: darker than what is above and below it
  const darkest = (of: (u: number, v: number) => number, u: number) =>
    Math.min(...Array.from({ length: 24 }, (_, i) => of(u, 0.06 + i * 0.003)))
  const columns = [0.2, 0.22, 0.24, 0.26]
  const depth = (of: (u: number, v: number) => number) =>
    mean(columns.map((u) => of(u, 0.05) - darkest(of, u)))
  expect(depth(before)).toBeGreaterThan(30)

  await page.keyboard.press('Alt+z')
  const [one, other, low, lower] = await placesOf(page, [
    [4 / 1512, 11 / 1008],
    [1506 / 1512, 139 / 1008],
    [0.3, 0.02],
    [0.7, 0.02],
  ])
  await page.mouse.click(...one)
  await page.mouse.click(...other)
  await expect(patches(page)).toHaveText([/Fill a stroke/])
  await expect(filling(page)).toHaveCount(0, { timeout: 30_000 })
  await expect.poll(() => settled(page)).not.toEqual(start)
  await expect(entries(page)).toHaveCount(2)
  await expect(entries(page).first()).toContainText('Wire removed')
  expect(depth(await greens(page))).toBeLessThan(8)

  // where there is none, that is said, and nothing is changed
  await page.mouse.click(...low)
  await page.mouse.click(...lower)
  await expect(page.getByText('No wire is seen between these two places.')).toBeVisible()
  await expect(patches(page)).toHaveCount(1)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(patches(page)).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)
})
