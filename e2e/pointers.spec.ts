import type { CDPSession, Page } from '@playwright/test'
import { developed, expect, fresh, openBench, settled, test } from './app'

/** Fingers, pen and a held space bar. */

const picture = (page: Page) => page.getByRole('application')
const sizeShown = async (page: Page) =>
  Number((await page.getByLabel('Size shown').innerText()).replace(' %', ''))
const middleOf = async (page: Page) => {
  const { x, y, width, height } = (await picture(page).boundingBox())!
  return { x: Math.round(x + width / 2), y: Math.round(y + height / 2) }
}
const left = async (page: Page) => (await developed(page).boundingBox())!.x

interface Point {
  x: number
  y: number
}

const touch = (cdp: CDPSession, type: 'touchStart' | 'touchMove' | 'touchEnd', ...points: Point[]) =>
  cdp.send('Input.dispatchTouchEvent', { type, touchPoints: points.map((p, id) => ({ ...p, id })) })

const pen = (cdp: CDPSession, type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', at: Point) =>
  cdp.send('Input.dispatchMouseEvent', {
    type,
    ...at,
    button: 'left',
    buttons: type === 'mouseReleased' ? 0 : 1,
    clickCount: 1,
    pointerType: 'pen',
  })

test('two fingers zoom about their middle and move the picture along', async ({ page, app }) => {
  await openBench(page, app)
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 2 })
  const { x, y } = await middleOf(page)
  const fitted = await sizeShown(page)
  const pair = (apart: number, by = 0): [Point, Point] => [
    { x: x - apart + by, y },
    { x: x + apart + by, y },
  ]
  await touch(cdp, 'touchStart', ...pair(60))
  for (const apart of [80, 120, 160, 180]) await touch(cdp, 'touchMove', ...pair(apart))
  await expect.poll(() => sizeShown(page)).toBeCloseTo(fitted * 3, 0)
  // the middle stays where it is
  const before = (await developed(page).boundingBox())!
  expect(Math.abs(before.x + before.width / 2 - x)).toBeLessThan(before.width / 2)
  await settled(page)
  const at = new URL(page.url()).searchParams.get('at')
  const [u, v] = at!.split(',').map(Number)
  expect(u).toBeCloseTo(0.5, 2)
  expect(v).toBeCloseTo(0.5, 2)
  // both to the left: what lies on the right comes in
  for (const by of [-20, -60, -90]) await touch(cdp, 'touchMove', ...pair(180, by))
  await touch(cdp, 'touchEnd')
  await expect
    .poll(() => Number(new URL(page.url()).searchParams.get('at')!.split(',')[0]))
    .toBeGreaterThan(u + 0.03)
  expect(await sizeShown(page)).toBeCloseTo(fitted * 3, 0)
  await expect(page.getByRole('button', { name: 'Undo', exact: true })).toBeDisabled()
})

test('one finger moves what is zoomed, and pulls what a tool pulls', async ({ page, app }) => {
  await fresh(page, app, '?zoom=100&at=0.5,0.5')
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 2 })
  const { x, y } = await middleOf(page)
  await touch(cdp, 'touchStart', { x, y })
  for (const by of [30, 60, 100]) await touch(cdp, 'touchMove', { x: x + by, y })
  await touch(cdp, 'touchEnd')
  await expect(page).toHaveURL(/at=0\.4/)
  // a control of the drawer, by the finger
  const exposure = page.getByLabel('Exposure', { exact: true })
  const box = (await exposure.boundingBox())!
  const [from, level] = [box.x + box.width / 2, box.y + box.height / 2]
  await touch(cdp, 'touchStart', { x: from, y: level })
  for (const by of [10, 20, 30]) await touch(cdp, 'touchMove', { x: from + by, y: level })
  await touch(cdp, 'touchEnd')
  await expect(page.getByLabel('Exposure, number')).not.toHaveValue('0.00')
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('Exposure, number')).toHaveValue('0.00')
})

test('a pen draws a line and pulls a control as the mouse does', async ({ page, app }) => {
  await fresh(page, app)
  const cdp = await page.context().newCDPSession(page)
  const { x, y } = await middleOf(page)
  await page.keyboard.press('w')
  await pen(cdp, 'mousePressed', { x: x - 100, y })
  for (const by of [-40, 40, 100]) await pen(cdp, 'mouseMoved', { x: x + by, y: y + (by + 100) / 10 })
  await pen(cdp, 'mouseReleased', { x: x + 100, y: y + 20 })
  const turned = page.getByLabel('Rotation, number')
  await expect(turned).not.toHaveValue('0.00')
  // 20 down over 200
  expect(Math.abs(Number((await turned.inputValue()).replace('\u2212', '-')))).toBeCloseTo(5.7, 0)
  await page.keyboard.press('Escape')
  await page.keyboard.press('Alt+2')
  const box = (await page.getByLabel('Exposure', { exact: true }).boundingBox())!
  const at = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  await pen(cdp, 'mousePressed', at)
  for (const by of [5, 15, 25]) await pen(cdp, 'mouseMoved', { x: at.x + by, y: at.y })
  await pen(cdp, 'mouseReleased', { x: at.x + 25, y: at.y })
  await expect(page.getByLabel('Exposure, number')).not.toHaveValue('0.00')
})

test('the space bar moves the picture while a tool is in the hand', async ({ page, app }) => {
  await fresh(page, app, '?zoom=100&at=0.5,0.5&stage=square-up')
  const { x, y } = await middleOf(page)
  await page.keyboard.press('w')
  await page.mouse.move(x, y)
  const before = await left(page)
  await page.keyboard.down(' ')
  await page.mouse.down()
  await page.mouse.move(x - 100, y, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.up(' ')
  await expect(page).toHaveURL(/at=0\.5[1-9]/)
  await expect(page.getByLabel('Rotation, number')).toHaveValue('0.00')
  expect(await left(page)).toBeLessThanOrEqual(before)
  // let go, it draws
  await page.mouse.down()
  await page.mouse.move(x + 100, y + 20, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByLabel('Rotation, number')).not.toHaveValue('0.00')
})
