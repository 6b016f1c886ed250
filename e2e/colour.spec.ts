import type { Locator, Page } from '@playwright/test'
import { readFileSync } from 'node:fs'
import { fileOf } from '../packages/server/test/server'
import { developed, expect, fresh, look, pixels, settled, test } from './app'

const number = (page: Page | Locator, label: string) => page.getByLabel(`${label}, number`, { exact: true })
const section = (page: Page, name: string) => page.getByRole('region', { name, exact: true })
const put = async (page: Page, label: string, value: string, of?: string) => {
  await number(of ? section(page, of) : page, label).fill(value)
  await page.keyboard.press('Enter')
}
/** Takes hold of a place of the picture (fractions) and moves it up by pixels of the screen. */
async function pull(page: Page, at: { x: number; y: number }, up: number): Promise<void> {
  const box = (await developed(page).boundingBox())!
  const [x, y] = [box.x + box.width * at.x, box.y + box.height * at.y]
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let i = 1; i <= 5; i++) await page.mouse.move(x, y - (up * i) / 5)
  // what is underneath is asked for when the hand takes hold
  await page.waitForTimeout(400)
  await page.mouse.move(x, y - up)
  await page.mouse.up()
}
const undone = (page: Page) => page.getByRole('button', { name: 'Undo' }).click()

test('a drag on the picture bends the curve there, as one step', async ({ page, app }) => {
  await fresh(page, app)
  const start = await look(page)
  await page.getByRole('button', { name: 'Curve', exact: true }).click()
  await page.getByRole('button', { name: 'Adjust on the picture' }).click()
  const box = (await developed(page).boundingBox())!
  await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.75)
  await expect(page.getByTestId('curve-mark')).toHaveCount(1)
  await pull(page, { x: 0.3, y: 0.75 }, 60)
  await expect(page.getByRole('slider', { name: /^Point \d of 3/ })).toHaveCount(3)
  await expect.poll(async () => (await settled(page)).mean[1]).toBeGreaterThan(start.mean[1] + 3)
  await undone(page)
  await expect(page.getByRole('slider', { name: /^Point \d of 2/ })).toHaveCount(2)
  await expect.poll(() => settled(page)).toEqual(start)
  // by keys: another point, moved up, taken away
  const first = page.getByRole('slider', { name: 'Point 1 of 2' })
  await first.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('slider', { name: 'Point 2 of 3' }).focus()
  await page.keyboard.press('Shift+ArrowUp')
  await expect.poll(async () => (await settled(page)).mean[1]).toBeGreaterThan(start.mean[1] + 1)
  await page.keyboard.press('Delete')
  await expect(page.getByRole('slider', { name: /^Point \d of 2/ })).toHaveCount(2)
})

test('a drag on the picture changes the hue underneath, in colour and in monochrome', async ({
  page,
  app,
}) => {
  await fresh(page, app, '?stage=balance')
  const start = await settled(page)
  const sky = { x: 0.95, y: 0.07 }
  await page.getByRole('button', { name: 'Adjust on the picture' }).click()
  await page.getByRole('radio', { name: 'Lightness', exact: true }).click()
  await pull(page, sky, -150)
  const value = () => number(page, 'Lightness').inputValue()
  await expect.poll(value).toMatch(/^\u2212/)
  const darker = await settled(page)
  expect(darker.mean[2]).toBeLessThan(start.mean[2])
  await undone(page)
  await expect.poll(value).toBe('0')
  await expect.poll(() => settled(page)).toEqual(start)

  await page.getByRole('switch', { name: 'Monochrome picture' }).click()
  await expect.poll(async () => new Set((await settled(page)).mean.map((v) => v.toFixed(1))).size).toBe(1)
  const grey = await settled(page)
  await pull(page, sky, -150)
  await expect.poll(value).toMatch(/^\u2212/)
  await expect.poll(async () => (await settled(page)).mean[0]).toBeLessThan(grey.mean[0] - 0.3)
  await undone(page)
  await expect.poll(() => settled(page)).toEqual(grey)
  await page.keyboard.press('Escape')
})

test('what a hue node selects is shown, and never saved', async ({ page, app }) => {
  const frameId = await fresh(page, app, '?stage=balance')
  const start = await settled(page)
  await page.getByRole('slider', { name: 'Hue node 5' }).focus()
  await page.getByRole('button', { name: 'Selection' }).click()
  // the roof has lost its colour, the sky has not
  await expect.poll(() => settled(page)).not.toEqual(start)
  const shown = await pixels(page)
  const at = (x: number, y: number) => {
    const i = (Math.round(start.height * y) * start.width + Math.round(start.width * x)) * 4
    return Math.max(...shown.subarray(i, i + 3)) - Math.min(...shown.subarray(i, i + 3))
  }
  expect(at(0.97, 0.1)).toBeGreaterThan(20)
  expect(at(0.69, 0.6)).toBeLessThan(8)
  await page.getByRole('button', { name: 'Selection' }).click()
  await expect.poll(() => settled(page)).toEqual(start)
  expect((await app.server.version(frameId)).entries).toEqual([])
})

test('clipped places are marked while a key is held, and while tones move, by thresholds', async ({
  page,
  app,
}) => {
  await fresh(page, app)
  const marks = page.locator('canvas.clip-highs')
  await put(page, 'Exposure', '2')
  await settled(page)
  await expect(marks).toHaveCount(0)
  await page.keyboard.down('i')
  await expect(marks).toBeVisible()
  await page.keyboard.up('i')
  await expect(marks).toHaveCount(0)

  const share = page.getByLabel('Highlights clipped').getByText('%').first()
  const strict = Number.parseFloat((await share.textContent())!)
  await page.getByRole('button', { name: 'Thresholds of clipping' }).click()
  await put(page, 'Highlights from', '230')
  await page.getByRole('switch', { name: 'Also while moving controls' }).click()
  await page.keyboard.press('Escape')
  await expect.poll(async () => Number.parseFloat((await share.textContent())!)).toBeGreaterThan(strict)
  await page.getByLabel('Exposure', { exact: true }).focus()
  await page.keyboard.press('ArrowUp')
  await expect(marks).toBeVisible()
  await expect(marks).toHaveCount(0)
})

test('looks are browsed by keyboard: shown large, changing nothing until one is chosen', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=balance')
  const start = await settled(page)
  const history = async () => (await app.server.version(frameId)).entries.length
  await page.keyboard.press('l')
  await expect(page.getByRole('heading', { name: 'Looks' })).toBeVisible()
  const looks = page.getByRole('dialog', { name: 'Looks' })
  await expect(looks.getByRole('button', { name: /^None/ })).toBeFocused()
  await page.keyboard.press('ArrowRight')
  await expect(looks.getByRole('button', { name: /^Early light/ })).toBeFocused()
  await expect.poll(() => settled(page)).not.toEqual(start)
  const tried = await settled(page)
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => settled(page)).not.toEqual(tried)
  await page.keyboard.press('Escape')
  await expect.poll(() => settled(page)).toEqual(start)
  expect(await history()).toBe(0)

  await page.keyboard.press('l')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect.poll(() => settled(page)).toEqual(tried)
  await expect(page.getByRole('button', { name: /^Balance/ })).toContainText('Early light')
  await put(page, 'Colour temperature', '7000')
  await page.getByLabel('Strength of Look').fill('40')
  await expect.poll(() => settled(page)).not.toEqual(tried)
  await page.getByRole('button', { name: 'Switch Look off' }).click()
  await expect(page.getByRole('button', { name: /^Balance/ })).not.toContainText('Early light')
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z')
  await expect.poll(() => settled(page)).toEqual(start)
})

test('the handles of the tone rail lift tones, move along the scale and set the ends', async ({
  page,
  app,
}) => {
  await fresh(page, app)
  const start = await settled(page)
  const rail = page.getByRole('group', { name: 'Handles of the tones' })
  const grip = (await rail.getByRole('slider', { name: 'Shadows', exact: true }).boundingBox())!
  const [x, y] = [grip.x + grip.width / 2, grip.y + grip.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  for (let i = 1; i <= 6; i++) await page.mouse.move(x, y - 3 * i)
  await page.mouse.up()
  await expect.poll(async () => Number(await number(page, 'Shadows').inputValue())).toBeGreaterThan(1)
  const lifted = await settled(page)
  expect(lifted.mean[1]).toBeGreaterThan(start.mean[1] + 2)
  await undone(page)
  await expect(number(page, 'Shadows')).toHaveValue('0.00')
  await expect.poll(() => settled(page)).toEqual(start)

  await rail.getByRole('slider', { name: 'Highlights', exact: true }).focus()
  await page.keyboard.press('Shift+ArrowDown')
  await expect(number(page, 'Highlights')).toHaveValue('\u22120.50')
  await page.keyboard.press('ArrowLeft')
  await expect(rail.getByRole('slider', { name: 'Highlights', exact: true })).toHaveAttribute(
    'title',
    /at \+1\.45/,
  )
  const white = rail.getByRole('slider', { name: 'White point' })
  await white.focus()
  await page.keyboard.press('Shift+ArrowLeft')
  await expect(number(page, 'White point')).toHaveValue('+2.15')
  await white.dblclick()
  await expect(number(page, 'White point')).toHaveValue('+3.15')
  // other scales have no handles
  await page.getByRole('radio', { name: 'Waveform' }).click()
  await expect(page.getByRole('img', { name: /^Waveform/ })).toBeVisible()
  await expect(rail).toHaveCount(0)
  await page.keyboard.press('h')
  await expect(page.getByRole('img', { name: /over stops/ })).toBeVisible()
})

test('the picture sets its own controls, areas that matter first, in one step', async ({ page, app }) => {
  await fresh(page, app)
  const start = await settled(page)
  await page.getByRole('button', { name: 'Automatic, all' }).click()
  await expect(number(page, 'White point')).not.toHaveValue('+3.15')
  const alone = await number(page, 'Exposure').inputValue()
  await expect(page.getByRole('button', { name: /^Balance/ })).toContainText('K')
  await undone(page)
  await expect.poll(() => settled(page)).toEqual(start)

  // the dark wall matters
  await page.getByRole('button', { name: 'Mark important areas' }).click()
  const box = (await developed(page).boundingBox())!
  await page.mouse.move(box.x + 10, box.y + box.height * 0.6)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.95, { steps: 4 })
  await page.mouse.up()
  const area = page.getByRole('button', { name: /^Marked area 1: arrow/ })
  await expect(area).toBeVisible()
  const before = (await area.boundingBox())!
  await area.focus()
  await page.keyboard.press('Shift+ArrowRight')
  await expect.poll(async () => (await area.boundingBox())!.x).toBeGreaterThan(before.x + 20)
  await page.getByRole('button', { name: 'Exposure', exact: true }).click()
  await expect
    .poll(async () => Number(await number(page, 'Exposure').inputValue()))
    .toBeGreaterThan(Number(alone))
  await page.getByRole('button', { name: 'Remove marked area 1' }).click()
  await expect(area).toHaveCount(0)
})

test('readings follow the pointer and can be pinned', async ({ page, app }) => {
  await fresh(page, app)
  await page.keyboard.press('r')
  const box = (await developed(page).boundingBox())!
  const place = { x: 0.9, y: 0.2 }
  await page.mouse.move(box.x + box.width * place.x, box.y + box.height * place.y)
  const cells = page.getByTestId('readings').locator('tbody tr').first().locator('td')
  await expect(cells.nth(1)).toHaveText(/^\d+$/)
  const shown = await pixels(page)
  const seen = await settled(page)
  const i = (Math.round(seen.height * place.y) * seen.width + Math.round(seen.width * place.x)) * 4
  for (let c = 0; c < 3; c++)
    expect(Math.abs(Number(await cells.nth(1 + c).textContent()) - shown[i + c])).toBeLessThan(12)
  await page.getByRole('button', { name: 'Pin a reading' }).click()
  await page.mouse.click(box.x + box.width * place.x, box.y + box.height * place.y)
  const pinned = page.getByTestId('readings').locator('tbody tr').nth(1).locator('td')
  await expect(pinned.nth(1)).toHaveText(/^\d+$/)
  await page.getByRole('button', { name: 'Pin a reading' }).click()
  const was = Number(await pinned.nth(1).textContent())
  await put(page, 'Exposure', '-2')
  await expect.poll(async () => Number(await pinned.nth(1).textContent())).toBeLessThan(was - 20)
  await page.getByLabel('Kind of reading').selectOption('lab')
  await expect(pinned.nth(1)).toHaveText(/^\d+\.\d$/)
  await page.getByRole('button', { name: 'Remove reading 1' }).click()
  await expect(page.getByTestId('readings').locator('tbody tr')).toHaveCount(1)
  await page.keyboard.press('r')
})

test('several greys are averaged, each can be seen alone; lamps and fine steps', async ({ page, app }) => {
  await fresh(page, app, '?stage=balance')
  const start = await settled(page)
  const box = (await developed(page).boundingBox())!
  const pick = async (x: number, y: number) => {
    await page.getByRole('button', { name: 'Pick a grey in the picture' }).click()
    await page.mouse.click(box.x + box.width * x, box.y + box.height * y)
  }
  const list = page.getByRole('list', { name: 'Grey samples' })
  await pick(0.742, 0.338)
  await expect(list.getByRole('listitem')).toHaveCount(1)
  const one = await settled(page)
  await pick(0.62, 0.3)
  await expect(list).toContainText('Average')
  await expect.poll(() => settled(page)).not.toEqual(one)
  await page.mouse.move(5, 5)
  const both = await settled(page)
  await list.getByRole('button', { name: 'Only this' }).first().hover()
  await expect.poll(() => settled(page)).toEqual(one)
  await page.mouse.move(5, 5)
  await expect.poll(() => settled(page)).toEqual(both)
  await page.getByRole('button', { name: 'Remove grey 2' }).click()
  await expect.poll(() => settled(page)).toEqual(one)

  await page.getByRole('radio', { name: 'Lamp' }).click()
  await page.getByLabel('Lamp').selectOption('tungsten')
  await expect.poll(async () => (await settled(page)).mean[2]).toBeGreaterThan(start.mean[2] + 10)
  const kelvin = Number(await number(page, 'Colour temperature').inputValue())
  expect(Math.abs(kelvin - 2856)).toBeLessThan(60)
  await page.getByRole('button', { name: 'Warmer' }).click()
  await expect
    .poll(async () => Number(await number(page, 'Colour temperature').inputValue()))
    .toBeGreaterThan(kelvin + 10)
})

test('a table of colours is loaded as a look, delivered by the server alike, and given to new frames', async ({
  page,
  app,
}) => {
  const frameId = await fresh(page, app, '?stage=balance')
  const start = await settled(page)
  await page.keyboard.press('l')
  await page.getByLabel('Tables of colours to load').setInputFiles({
    name: 'broken.cube',
    mimeType: 'text/plain',
    buffer: Buffer.from('LUT_3D_SIZE 3\n0 0 0\n'),
  })
  await expect(page.getByRole('alert')).toContainText('1 lines where its size asks for 27')
  // red and blue change places
  const corners = Array.from({ length: 8 }, (_, i) => `${(i >> 2) & 1} ${(i >> 1) & 1} ${i & 1}`)
  await page.getByLabel('Tables of colours to load').setInputFiles({
    name: 'Swapped.cube',
    mimeType: 'text/plain',
    buffer: Buffer.from(`LUT_3D_SIZE 2\n${corners.join('\n')}\n`),
  })
  await page.getByRole('button', { name: /^Swapped/ }).click()
  await page.keyboard.press('Escape')
  await expect.poll(async () => Math.round((await settled(page)).mean[0])).toBe(Math.round(start.mean[2]))
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()

  // the server asks for the table by itself
  const order = fileOf(frameId, {
    format: { kind: 'png' },
    size: { by: 'long edge', pixels: 400 },
    fileName: 'swapped',
  })
  const job = (await app.server.send('POST', '/api/files', order)).body as { id: string }
  await expect
    .poll(async () => ((await app.server.ask(`/api/jobs/${job.id}`)).body as { state: string }).state, {
      timeout: 30000,
    })
    .toBe('done')

  await page.goto(`${app.server.url}/settings`)
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByLabel('Look of rule 1').selectOption({ label: 'Night blue' })
  await page.getByLabel('ISO to of rule 1').fill('50')
  await page.getByLabel('ISO to of rule 1').blur()
  await page.getByRole('button', { name: 'Add a rule' }).click()
  await page.getByLabel('Look of rule 2').selectOption({ label: 'Ink' })
  await expect
    .poll(async () => ((await app.server.ask('/api/new-frames')).body as { rules: unknown[] }).rules.length)
    .toBe(2)
  await fresh(page, app, '?stage=balance')
  await expect(page.getByRole('button', { name: /^Balance/ })).toContainText('Ink')
  const { mean } = await settled(page)
  expect(Math.max(...mean) - Math.min(...mean)).toBeLessThan(0.5)
  await app.server.send('PUT', '/api/new-frames', { rules: [] })
})

test('this development is kept as a look and saved as a table', async ({ page, app }) => {
  await fresh(page, app, '?stage=balance')
  await page.getByRole('switch', { name: 'Monochrome picture' }).click()
  const grey = await settled(page)
  await page.keyboard.press('l')
  await page.getByLabel('Name of the look').fill('Mill in grey')
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save .cube' }).click(),
  ])
  const text = readFileSync(await file.path(), 'utf8')
  expect(file.suggestedFilename()).toBe('Mill in grey.cube')
  expect(text).toContain('LUT_3D_SIZE 33')
  const [r, g, b] = text.trim().split('\n').at(-17)!.split(' ').map(Number)
  expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(0.002)
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('button', { name: /^Mill in grey/ })).toBeVisible()
  await page.keyboard.press('Escape')
  await undone(page)
  await expect.poll(() => settled(page)).not.toEqual(grey)
  await page.keyboard.press('l')
  await page.getByRole('button', { name: /^Mill in grey/ }).click()
  await page.keyboard.press('Escape')
  await expect.poll(() => settled(page)).toEqual(grey)
  await page.keyboard.press('l')
  await page.getByRole('button', { name: 'Remove the look Mill in grey' }).click()
  await expect(page.getByRole('dialog').getByRole('button', { name: /Mill in grey/ })).toHaveCount(0)
  await page.keyboard.press('Escape')
  // what uses it keeps it
  await expect.poll(() => settled(page)).toEqual(grey)
})

test('edges are burned in around a centre that is dragged on the picture', async ({ page, app }) => {
  await fresh(page, app, '?stage=finish')
  const start = await settled(page)
  await put(page, 'Amount', '-3', 'Edge burn')
  await expect.poll(async () => (await settled(page)).mean[1]).toBeLessThan(start.mean[1] - 5)
  const centred = await settled(page)
  await page.getByRole('button', { name: 'Move the centre' }).click()
  await pull(page, { x: 0.5, y: 0.5 }, 150)
  await expect.poll(() => settled(page)).not.toEqual(centred)
  await undone(page)
  await expect.poll(() => settled(page)).toEqual(centred)
  await page.getByLabel('Strength of Edge burn').fill('0')
  await page.keyboard.press('Enter')
  await expect.poll(() => settled(page)).toEqual(start)
})

test('curves by ranges, tints and primaries change what they say; each can be switched off', async ({
  page,
  app,
}) => {
  await fresh(page, app)
  const start = await settled(page)
  await page.getByRole('button', { name: 'Curve by ranges' }).click()
  await put(page, 'Dark range', '100')
  await expect.poll(async () => (await settled(page)).mean[1]).toBeGreaterThan(start.mean[1] + 1)
  await page.getByRole('button', { name: 'Switch Curve by ranges off' }).click()
  await expect.poll(() => settled(page)).toEqual(start)
  await page.getByRole('button', { name: 'Reset Curve by ranges' }).click()

  await page.keyboard.press('Alt+3')
  await page.getByRole('button', { name: 'Tints', exact: true }).click()
  await page.getByRole('button', { name: 'Tint at 25 %' }).click()
  await put(page, 'Strength', '100')
  await expect.poll(async () => (await settled(page)).mean[2]).toBeGreaterThan(start.mean[2] + 2)
  await page.getByRole('button', { name: 'Add a tint' }).click()
  await expect(page.getByRole('button', { name: /^Tint at/ })).toHaveCount(4)
  await page.getByRole('button', { name: 'Reset Tints' }).click()
  await expect.poll(() => settled(page)).toEqual(start)

  await page.getByRole('button', { name: 'Primaries', exact: true }).click()
  await put(page, 'Red turned', '20')
  await expect.poll(() => settled(page)).not.toEqual(start)
  await put(page, 'Red turned', '0')
  await expect.poll(() => settled(page)).toEqual(start)
})

test('two monochrome conversions stand side by side', async ({ page, app }) => {
  await fresh(page, app, '?stage=balance')
  await page.getByRole('switch', { name: 'Monochrome picture' }).click()
  const plain = await settled(page)
  await page.getByLabel('Lens filter').selectOption('red')
  await expect.poll(() => settled(page)).not.toEqual(plain)
  await page.getByRole('button', { name: 'Compare with another conversion' }).click()
  await expect(page).toHaveURL(/compare\?/)
  await expect(page.getByTestId('compare-pane')).toHaveCount(2)
})
