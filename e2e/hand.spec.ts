import type { Locator, Page } from '@playwright/test'
import { developed, expect, fresh, openBench, settled, test } from './app'

/** What the hand does, and what it must not do. */

const number = (page: Page, label: string) => page.getByLabel(`${label}, number`, { exact: true })
const slider = (page: Page, label: string) => page.getByLabel(label, { exact: true })
const steps = (page: Page) =>
  page.getByRole('complementary', { name: 'History' }).getByRole('list', { name: 'Entries' })
const entries = (page: Page) => steps(page).getByRole('listitem')
const middle = async (of: Locator) => {
  const { x, y, width, height } = (await of.boundingBox())!
  return { x: x + width / 2, y: y + height / 2, width, height, left: x }
}
const shownSize = (page: Page) => page.getByLabel('Size shown')

test('a handle does not jump, a drag that rests is one step, a double click leaves nothing behind', async ({
  page,
  app,
}) => {
  await fresh(page, app)
  await page.keyboard.press('e')
  await expect(entries(page)).toHaveCount(1)
  const track = await middle(slider(page, 'Exposure'))
  // taken beside its middle, and let go again
  await page.mouse.move(track.x + 4, track.y)
  await page.mouse.down()
  await page.mouse.up()
  await expect(number(page, 'Exposure')).toHaveValue('0.00')
  // from there it goes as far as the hand does
  await page.mouse.down()
  await page.mouse.move(track.x + 24, track.y, { steps: 4 })
  const half = await number(page, 'Exposure').inputValue()
  // longer than what is otherwise taken for the end of a movement
  await page.waitForFunction(
    (at) => performance.now() > at,
    (await page.evaluate(() => performance.now())) + 1200,
  )
  await page.mouse.move(track.x + 44, track.y, { steps: 4 })
  await page.mouse.up()
  expect(Number(half)).toBeGreaterThan(0)
  expect(Number(await number(page, 'Exposure').inputValue())).toBeCloseTo(2 * Number(half), 0)
  await expect(entries(page)).toHaveCount(2)
  await page.keyboard.press('Control+z')
  await expect(number(page, 'Exposure')).toHaveValue('0.00')
  await page.keyboard.press('Control+y')
  await expect(number(page, 'Exposure')).not.toHaveValue('0.00')

  // far from the handle: back to the start, and the place of the clicks is nowhere in the history
  await page.mouse.dblclick(track.left + track.width * 0.9, track.y)
  await expect(number(page, 'Exposure')).toHaveValue('0.00')
  await expect(entries(page)).toHaveCount(3)
  // one click brings the handle
  await page.mouse.click(track.left + track.width * 0.9, track.y)
  await expect.poll(async () => Number(await number(page, 'Exposure').inputValue())).toBeGreaterThan(2)
  await expect(entries(page)).toHaveCount(4)
})

test('what is no number leaves the old one and says so', async ({ page, app }) => {
  await fresh(page, app)
  const put = async (label: string, text: string) => {
    await number(page, label).fill(text)
    await page.keyboard.press('Enter')
  }
  await put('Exposure', '1,5')
  await expect(number(page, 'Exposure')).toHaveValue('+1.50')
  for (const text of ['abc', '1/2', '\u2013', '1,2,3']) {
    await put('Exposure', text)
    await expect(page.getByRole('alert')).toHaveText(`“${text}” is not a number.`)
    await expect(number(page, 'Exposure')).toHaveValue('+1.50')
  }
  await put('Exposure', '\u20131')
  await expect(number(page, 'Exposure')).toHaveValue('\u22121.00')
  await expect(page.getByRole('alert')).toHaveCount(0)
  // marked while it is typed
  await number(page, 'Exposure').fill('two')
  await expect(number(page, 'Exposure')).toHaveAttribute('aria-invalid', 'true')
  await page.keyboard.press('Escape')
  await expect(number(page, 'Exposure')).toHaveValue('\u22121.00')
  await number(page, 'Exposure').blur()

  await page.keyboard.press('Alt+3')
  const kelvin = await number(page, 'Colour temperature').inputValue()
  await put('Colour temperature', '5,500')
  await expect(page.getByRole('alert')).toHaveText('“5,500” is not a whole number.')
  await expect(number(page, 'Colour temperature')).toHaveValue(kelvin)
  // nothing to be reset: the white balance stays as shot
  await page.getByText('Colour temperature', { exact: true }).dblclick()
  await expect(page.getByRole('radio', { name: 'As shot' })).toBeChecked()

  // an empty strength is none
  await page.keyboard.press('Alt+2')
  await page.getByLabel('Strength of Light').fill('')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Strength of Light')).toHaveValue('100')
})

test('keys of the page work beside a number, and the page keys leave it alone', async ({ page, app }) => {
  await openBench(page, app)
  await number(page, 'Exposure').fill('0.7')
  await page.keyboard.press('Enter')
  await number(page, 'Exposure').focus()
  await page.keyboard.press('Control+z')
  await expect(number(page, 'Exposure')).not.toHaveValue('+0.70')
  await page.keyboard.press('Control+Shift+z')
  await expect(number(page, 'Exposure')).toHaveValue('+0.70')
  await number(page, 'Exposure').focus()
  await page.keyboard.press('Control+k')
  await expect(page.getByPlaceholder('Find a command')).toBeFocused()
  // what is held cannot be held from a list
  await page.keyboard.type('while held')
  await expect(page.getByText('Nothing of that name.')).toBeVisible()
  await page.keyboard.press('Escape')

  await slider(page, 'Exposure').focus()
  const name = await page.getByRole('heading', { level: 1 }).innerText()
  await page.keyboard.press('PageDown')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('HM0466.dng')
  await expect(developed(page)).toBeVisible()
  await page.keyboard.press('PageUp')
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(name)
  await expect(number(page, 'Exposure')).toHaveValue('+0.70')
  await page.keyboard.press('Control+z')

  await page.keyboard.press('q')
  await expect(page.getByRole('complementary', { name: 'Drawer' })).toHaveCount(0)
  await page.keyboard.press('Escape')
  await expect(page.getByRole('complementary', { name: 'Drawer' })).toBeVisible()
})

test('zoom has no steps, stays about the pointer, and goes on to the next frame', async ({ page, app }) => {
  await openBench(page, app)
  const pane = page.getByRole('application', { name: /^Picture/ })
  const { x, y } = await middle(pane)
  const size = async () => Number((await shownSize(page).innerText()).replace(' %', ''))
  const fitted = await size()
  await page.mouse.move(x + 200, y - 100)
  await page.keyboard.down('Control')
  for (let i = 0; i < 5; i++) await page.mouse.wheel(0, -100)
  await page.keyboard.up('Control')
  await expect.poll(size).toBeGreaterThan(fitted * 2)
  const free = await size()
  expect([12.5, 25, 50, 100, 200]).not.toContain(free)
  await expect(page).toHaveURL(/zoom=/)
  // what lay under the pointer lies there still
  const box = await developed(page).boundingBox()
  expect(box!.width).toBeGreaterThan(700)

  await page.keyboard.press('1')
  await expect.poll(size).toBe(100)
  await page.keyboard.press('+')
  await expect.poll(size).toBe(200)
  for (const next of [100, 50, 25, 12.5, 12.5]) {
    await page.keyboard.press('-')
    await expect.poll(size).toBe(next)
  }
  await page.keyboard.press('9')
  await expect(page).toHaveURL(/zoom=fill/)
  const seen = (await developed(page).boundingBox())!
  const room = (await pane.boundingBox())!
  expect(seen.width).toBeGreaterThanOrEqual(room.width - 1)
  expect(seen.height).toBeGreaterThanOrEqual(room.height - 1)

  await page.keyboard.press('1')
  await page.keyboard.press('d')
  await expect(page).toHaveURL(/zoom=100/)
  await page.keyboard.press('PageDown')
  await expect(developed(page)).toBeVisible()
  await expect.poll(size).toBe(100)
  await expect(page.getByRole('slider', { name: /^Divider/ })).toBeVisible()
})

test('a late address does not bring back what was left', async ({ page, app }) => {
  await openBench(page, app, '?zoom=100&at=0.4,0.4')
  const { x, y } = await middle(page.getByRole('application', { name: /^Picture/ }))
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x - 120, y - 60, { steps: 3 })
  await page.mouse.up()
  await page.keyboard.press('Alt+3')
  await page.keyboard.press('0')
  await expect(page).toHaveURL(/stage=balance/)
  await expect(page).not.toHaveURL(/zoom|at=/)
  await expect(page.getByRole('heading', { name: 'Balance', exact: true })).toBeVisible()
  await expect(page.getByRole('radio', { name: 'Fit' })).toBeChecked()
})

test('lines are drawn by keys and left by Escape; the frame goes back to what it was', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=square-up')
  const start = await settled(page)
  const { x, y } = await middle(page.getByRole('application', { name: /^Picture/ }))
  await page.keyboard.press('w')
  await page.mouse.move(x - 100, y)
  await page.mouse.down()
  await page.mouse.move(x + 100, y + 60, { steps: 4 })
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect(number(page, 'Rotation')).toHaveValue('0.00')
  await expect(page.getByRole('button', { name: 'Draw on the picture' })).toBeVisible()
  // the tool is still in the hand: from here to there
  await page.mouse.move(x - 100, y)
  await page.keyboard.press('Enter')
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(number(page, 'Rotation')).not.toHaveValue('0.00')
  await page.keyboard.press('Control+z')
  await expect(number(page, 'Rotation')).toHaveValue('0.00')

  await page.keyboard.press('m')
  const frame = page.getByRole('button', { name: 'Crop: arrow keys move it, Enter confirms, Escape cancels' })
  await expect(frame).toBeFocused()
  await page.getByRole('button', { name: /^Upper left corner/ }).focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowRight')
  await expect(page.getByLabel('Size of the crop')).not.toContainText('2256 × 1504')
  await page.keyboard.press('Escape')
  await expect(frame).toHaveCount(0)
  await expect.poll(() => settled(page)).toEqual(start)
  await expect(page.getByRole('application', { name: /^Picture/ })).toBeFocused()
})

test('a stage is set back as one step, and so is everything', async ({ page, app }) => {
  await fresh(page, app)
  const start = await settled(page)
  const put = async (label: string, text: string) => {
    await number(page, label).fill(text)
    await page.keyboard.press('Enter')
  }
  const back = page.getByRole('button', { name: 'Reset Expose' })
  await expect(back).toBeDisabled()
  await put('Exposure', '1')
  await put('Grade', '4')
  await page.keyboard.press('Alt+3')
  await put('All colours', '60')
  await page.keyboard.press('Alt+4')
  // it begins at work, and comes back to work
  await page.getByLabel('Mend hot and dead pixels').click()
  await page.keyboard.press('Alt+2')
  await back.click()
  await expect(number(page, 'Exposure')).toHaveValue('0.00')
  await expect(number(page, 'Grade')).toHaveValue('2.0')
  await expect(back).toBeDisabled()
  await page.keyboard.press('Alt+3')
  await expect(number(page, 'All colours')).toHaveValue('+60')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('reset everything')
  await page.keyboard.press('Enter')
  await expect(number(page, 'All colours')).toHaveValue('0')
  await page.keyboard.press('Alt+4')
  await expect(page.getByLabel('Mend hot and dead pixels')).toBeChecked()
  await expect.poll(() => settled(page)).toEqual(start)
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Alt+2')
  await expect(number(page, 'Exposure')).toHaveValue('+1.00')
})

test('handles of the rail and points of the curve stay where they are taken hold of', async ({
  page,
  app,
}) => {
  await fresh(page, app)
  const rail = page.getByRole('group', { name: 'Handles of the tones' })
  const white = rail.getByRole('slider', { name: 'White point' })
  const at = await middle(white)
  await page.mouse.move(at.x + 2, at.y)
  await page.mouse.down()
  await page.mouse.move(at.x + 1, at.y)
  await page.mouse.up()
  await expect(number(page, 'White point')).toHaveValue('+3.15')

  await page.getByRole('button', { name: 'Curve', exact: true }).click()
  const plot = await middle(page.getByRole('group', { name: 'Curve for Luminance' }))
  const place = (x: number, y: number) =>
    [plot.left + plot.width * x, plot.y + plot.height * (0.5 - y)] as const
  const points = page.getByRole('slider', { name: /^Point \d of/ })
  // beside the end, high above it: the end stays at black
  await page.mouse.click(...place(0.03, 0.5))
  await expect(page.getByRole('slider', { name: 'Point 1 of 3' })).toHaveAttribute('aria-valuenow', '0')
  await page.keyboard.press('Control+z')
  await expect(points).toHaveCount(2)
  // of two that are near, the nearer one
  await page.mouse.click(...place(0.5, 0.5))
  await page.mouse.click(...place(0.56, 0.56))
  await expect(points).toHaveCount(4)
  await page.mouse.move(...place(0.55, 0.55))
  await page.mouse.down()
  await page.mouse.move(...place(0.55, 0.75), { steps: 4 })
  await page.mouse.up()
  await expect(page.getByRole('slider', { name: 'Point 2 of 4' })).toHaveAttribute('aria-valuenow', '50')
  await expect
    .poll(async () =>
      Number(await page.getByRole('slider', { name: 'Point 3 of 4' }).getAttribute('aria-valuenow')),
    )
    .toBeGreaterThan(70)
})

test('a quarter turn takes the frame along', async ({ page, app }) => {
  await fresh(page, app, '?stage=square-up')
  const size = async () =>
    (await page.getByLabel('Size of the crop').locator('dd').first().innerText()).split(' × ').map(Number)
  await page.getByRole('combobox', { name: /^Ratio/ }).selectOption('free')
  await page.keyboard.press('m')
  const corner = page.getByRole('button', { name: /^Upper left corner/ })
  await corner.focus()
  for (let i = 0; i < 12; i++) await page.keyboard.press('Shift+ArrowRight')
  const lying = await size()
  expect(lying[0]).toBeLessThan(2200)
  await corner.press('Enter')
  await page.getByRole('button', { name: 'Quarter turn clockwise' }).click()
  await expect.poll(size).toEqual([lying[1], lying[0]])
  await page.getByRole('button', { name: 'Quarter turn anticlockwise' }).click()
  await expect.poll(size).toEqual(lying)
})

test('Escape leads from side by side to the sheet', async ({ page, app }) => {
  const [, shoot] = /shoots\/([^/]+)/.exec(app.benchUrl)!
  const { frames } = await (await page.request.get(`${app.server.url}/api/shoots/${shoot}`)).json()
  const ids = frames.slice(0, 2).map((f: { id: string }) => f.id)
  await page.goto(`${app.server.url}/shoots/${shoot}/compare?frames=${ids.join(',')}`)
  await expect(page.getByRole('heading', { name: 'Side by side' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(new RegExp(`/shoots/${shoot}(\\?|$)`))
})
