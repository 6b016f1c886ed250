import type { Page } from '@playwright/test'
import { fileOf } from '../packages/server/test/server'
import { developed, expect, fresh, look, settled, test, type App } from './app'

const number = (page: Page, label: string) => page.getByLabel(`${label}, number`, { exact: true })
const value = async (page: Page, label: string) =>
  Number((await number(page, label).inputValue()).replace('−', '-'))
const put = async (page: Page, label: string, text: string) => {
  await number(page, label).fill(text)
  await page.keyboard.press('Enter')
}
/** A section of the drawer, by its title. */
const section = (page: Page, title: string) => page.getByRole('region', { name: title, exact: true })
/** Draws a line over the picture, by fractions of it. */
async function draw(
  page: Page,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  const box = (await developed(page).boundingBox())!
  const at = ([x, y]: readonly [number, number]) => [box.x + box.width * x, box.y + box.height * y] as const
  await page.mouse.move(...at(from))
  await page.mouse.down()
  for (let i = 1; i <= 4; i++)
    await page.mouse.move(
      ...at([from[0] + ((to[0] - from[0]) * i) / 4, from[1] + ((to[1] - from[1]) * i) / 4]),
    )
  await page.mouse.up()
}
const undone = (page: Page) => page.getByRole('button', { name: 'Undo' }).click()
const pixelsOf = async (page: Page) =>
  (await page.getByLabel('Size of the crop').locator('dd').first().innerText()).split(' × ').map(Number)
const open = (page: Page, app: App, name?: string) => fresh(page, app, '?stage=square-up', name)

test('the lens is found by its name and taken out, said and undone', async ({ page, app }) => {
  await open(page, app, 'HM0488')
  const start = await look(page)
  await section(page, 'Lens').getByRole('radio', { name: 'Automatic' }).click()
  await expect(section(page, 'Lens').getByRole('status')).toHaveText(
    'Veldrom 20 mm f/4, found by the lens’s name. It knows distortion, fringes and fall-off.',
  )
  await expect.poll(async () => (await settled(page)).sum).not.toBe(start.sum)
  // its fall-off lights the corners up
  expect((await look(page)).mean[1]).toBeGreaterThan(start.mean[1] + 2)
  await expect(page.getByRole('button', { name: 'Square up lens' })).toBeVisible()
  await put(page, 'Fall-off correction', '0')
  await expect.poll(async () => Math.abs((await settled(page)).mean[1] - start.mean[1])).toBeLessThan(3)
  await undone(page)
  await undone(page)
  await expect.poll(async () => (await settled(page)).sum).toBe(start.sum)
  // a profile of another lens, by words of its name
  await section(page, 'Lens').getByRole('radio', { name: 'Profile' }).click()
  await expect(section(page, 'Lens').getByRole('status')).toHaveText('No profile is chosen yet.')
  await page.getByLabel('Search lens profiles').fill('veldrom 35')
  await page.getByRole('list', { name: 'Lens profiles' }).getByRole('button').first().click()
  await expect(section(page, 'Lens').getByRole('status')).toContainText('Veldrom 35 mm f/2, chosen.')
})

test('a leaning canal is levelled by hand, along a line, and by its own lines', async ({ page, app }) => {
  await open(page, app, 'HM0468')
  const start = await look(page)
  await section(page, 'Level').getByRole('button', { name: 'Level automatically' }).click()
  // it was taken leaning by 3.5 degrees
  await expect.poll(() => value(page, 'Rotation')).toBeGreaterThan(3.2)
  expect(await value(page, 'Rotation')).toBeLessThan(3.8)
  await undone(page)
  await expect.poll(() => value(page, 'Rotation')).toBe(0)
  await page.getByRole('button', { name: 'Draw a line' }).click()
  // falls by a tenth of the width: 3.8 degrees on this frame
  await draw(page, [0.2, 0.4], [0.8, 0.46])
  await expect
    .poll(() => value(page, 'Rotation'))
    .toBeCloseTo(-(Math.atan((0.06 * 2) / 3 / 0.6) * 180) / Math.PI, 1)
  await put(page, 'Rotation', '1.25')
  await number(page, 'Rotation').focus()
  await page.keyboard.press('ArrowUp')
  expect(await value(page, 'Rotation')).toBe(1.26)
  // nothing but picture: a frame of the same shape, a little smaller
  const [width, height] = await pixelsOf(page)
  expect(width).toBeLessThan(1512)
  expect(width / height).toBeCloseTo(1.5, 2)
  await put(page, 'Rotation', '0')
  await page.getByRole('button', { name: 'Quarter turn clockwise', exact: true }).click()
  await expect.poll(async () => (await settled(page)).height > (await look(page)).width).toBe(true)
  await page.getByRole('button', { name: 'Quarter turn anticlockwise' }).click()
  await page.getByRole('button', { name: 'Mirror', exact: true }).click()
  await page.getByRole('button', { name: 'Mirror', exact: true }).click()
  await expect.poll(async () => (await settled(page)).sum).toBe(start.sum)
})

test('a house from below is set upright by its lines; mist is not', async ({ page, app }) => {
  await open(page, app, 'HM0488')
  await section(page, 'Lens').getByRole('radio', { name: 'Automatic' }).click()
  await page.getByRole('button', { name: 'Correct automatically' }).click()
  await expect.poll(() => value(page, 'Tilt')).toBeLessThan(-20)
  // the camera looked up by half a radian
  expect(Math.abs((await value(page, 'Tilt')) + (0.5 * 180) / Math.PI)).toBeLessThan(0.8)
  expect(Math.abs(await value(page, 'Roll'))).toBeLessThan(0.3)
  await page.getByLabel('Strength of Perspective').fill('50')
  await settled(page)
  await open(page, app, 'HM0403')
  await page.getByRole('button', { name: 'Correct automatically' }).click()
  await expect(page.getByRole('alert')).toContainText('No reliable lines were found.')
  expect(await value(page, 'Tilt')).toBe(0)
})

test('lines drawn on the picture say what stands upright, and can be moved and taken away', async ({
  page,
  app,
}) => {
  await open(page, app, 'HM0488')
  await page.getByRole('button', { name: 'Draw verticals' }).click()
  await draw(page, [0.25, 0.2], [0.15, 0.8])
  await expect(page.getByText('1 line drawn')).toBeVisible()
  // one line rolls
  await expect.poll(async () => Math.abs(await value(page, 'Roll'))).toBeGreaterThan(1)
  await settled(page)
  await draw(page, [0.8, 0.2], [0.9, 0.8])
  await expect(page.getByText('2 lines drawn')).toBeVisible()
  await expect.poll(async () => Math.abs(await value(page, 'Tilt'))).toBeGreaterThan(1)
  const tilt = await value(page, 'Tilt')
  await page.getByRole('button', { name: 'Start of Vertical 2' }).focus()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowRight')
  await expect.poll(() => value(page, 'Tilt')).not.toBe(tilt)
  await page.getByRole('button', { name: 'Remove Vertical 2' }).click()
  await expect(page.getByText('1 line drawn')).toBeVisible()
  await page.getByRole('button', { name: 'Remove all' }).click()
  await expect(page.getByText('1 line drawn')).toHaveCount(0)
})

test('edges that should be straight give the lens away, and it is kept as a profile', async ({
  page,
  app,
}) => {
  await open(page, app, 'HM0488')
  await section(page, 'Lens').getByRole('radio', { name: 'Manual' }).click()
  await page.getByRole('button', { name: 'Mark lines' }).click()
  // the bands of stone across the wall
  await draw(page, [0.04, 0.347], [0.96, 0.37])
  await expect(section(page, 'Lens').getByRole('status')).toContainText('1 line marked')
  const bend = await value(page, 'Distortion')
  expect(bend).not.toBe(0)
  await draw(page, [0.04, 0.5], [0.5, 0.48]).catch(() => undefined)
  await expect(section(page, 'Lens').getByRole('status')).toContainText(
    /off by \d+\.\d px, now by \d+\.\d px/,
  )
  await page.getByLabel('Name of the profile').fill('Wide one, by the drying house')
  await page.getByRole('button', { name: 'Save as profile' }).click()
  await expect(section(page, 'Lens').getByRole('status')).toContainText(
    'Wide one, by the drying house, chosen. It knows distortion.',
  )
  await page.goto(`${app.server.url}/lenses`)
  await page.getByLabel('Search lenses').fill('drying')
  await page
    .getByRole('button', { name: /Wide one/, exact: false })
    .first()
    .click()
  await expect(page.getByRole('img', { name: /^Distortion/ })).toBeVisible()
  await page.getByRole('button', { name: 'Remove Wide one, by the drying house' }).click()
  await expect(page.getByText('No lens of that name is known.')).toBeVisible()
})

test('the frame is set by handles, ratio and turning; what lies outside is not lost', async ({
  page,
  app,
}) => {
  await open(page, app)
  const start = await look(page)
  expect(await pixelsOf(page)).toEqual([2256, 1504])
  await page.keyboard.press('m')
  await settled(page)
  const corner = page.getByRole('button', { name: /^Lower right corner/ })
  const box = (await corner.boundingBox())!
  await page.mouse.move(box.x + 12, box.y + 12)
  await page.mouse.down()
  await page.mouse.move(box.x - 150, box.y - 60, { steps: 5 })
  await page.mouse.up()
  const [width, height] = await pixelsOf(page)
  expect(width).toBeLessThan(2000)
  expect(width / height).toBeCloseTo(1.5, 2)
  // moved by key, as far as there is picture
  await page.getByRole('button', { name: /^Crop: arrow keys/ }).focus()
  for (let i = 0; i < 60; i++) await page.keyboard.press('Shift+ArrowLeft')
  expect(await pixelsOf(page)).toEqual([width, height])
  await page.getByRole('combobox', { name: /^Ratio/ }).selectOption('1 : 1')
  const [side, other] = await pixelsOf(page)
  expect(Math.abs(side - other)).toBeLessThanOrEqual(1)
  // outside of it the picture is turned
  const area = (await page.getByTestId('crop').boundingBox())!
  await page.mouse.move(area.x + area.width - 40, area.y + area.height / 2)
  await page.mouse.down()
  await page.mouse.move(area.x + area.width - 40, area.y + area.height / 2 + 60, { steps: 4 })
  await page.mouse.up()
  await expect.poll(() => value(page, 'Rotation')).toBeGreaterThan(2)
  await page.getByRole('combobox', { name: /^Guides/ }).selectOption('Golden section')
  await page.getByRole('radio', { name: 'Hidden' }).click()
  await page.getByLabel('Print, longer side, centimetres').fill('10')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Size of the crop')).toContainText('ppi')
  await page.getByRole('button', { name: /^Crop: arrow keys/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByTestId('crop')).toHaveCount(0)
  await expect
    .poll(async () => Math.abs((await settled(page)).width - (await look(page)).height))
    .toBeLessThan(3)
  await page.getByRole('button', { name: 'Reset Crop' }).click()
  await page.getByRole('button', { name: 'Reset Level' }).click()
  await expect.poll(async () => (await settled(page)).sum).toBe(start.sum)
})

test('a delivery has the frame’s own size, and readings stay on their things', async ({ page, app }) => {
  const id = await open(page, app, 'HM0468')
  await page.keyboard.press('r')
  await page.getByRole('button', { name: 'Pin a reading' }).click()
  const box = (await developed(page).boundingBox())!
  // the life-belt
  await page.mouse.click(box.x + box.width * 0.25, box.y + box.height * 0.55)
  await page.keyboard.press('Escape')
  const pinned = page.getByRole('region', { name: 'Readings' }).locator('tbody tr').last()
  // its own number comes first
  const numbers = async () =>
    (await pinned.locator('td').allInnerTexts())
      .filter((t) => /\d/.test(t))
      .slice(-3)
      .map(Number)
  await expect.poll(async () => (await numbers()).length).toBe(3)
  const before = await numbers()
  await put(page, 'Rotation', '3.5')
  await settled(page)
  await page.waitForTimeout(500)
  const after = await numbers()
  before.forEach((v, i) => expect(Math.abs(v - after[i])).toBeLessThan(14))
  const [width, height] = await pixelsOf(page)
  await expect(page.getByText('Saved')).toBeVisible()
  const order = fileOf(id, {
    fileName: `levelled ${Date.now()}`,
    format: { kind: 'png' },
    metadata: 'nothing',
  })
  const job = (await app.server.send('POST', '/api/files', order)).body as { id: string }
  await expect
    .poll(async () => ((await app.server.ask(`/api/jobs/${job.id}`)).body as { state: string }).state, {
      timeout: 20000,
    })
    .toBe('done')
  const file = await page.request.get(`${app.server.url}/api/jobs/${job.id}/files/0`)
  const png = await file.body()
  expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([width, height])
})

test('a lens database is imported from a file; a damaged one is refused with its line', async ({
  page,
  app,
}) => {
  await page.goto(`${app.server.url}/lenses`)
  const xml = (
    inner: string,
  ) => `<lensdatabase version="1">\n<lens><maker>Hadde</maker><model>Tessel 85mm f/2</model>
<mount>Lindemount</mount><cropfactor>1</cropfactor><calibration>\n${inner}\n</calibration></lens></lensdatabase>`
  const send = (text: string) =>
    page.getByLabel('Files of a lens database').setInputFiles({
      name: 'hadde.xml',
      mimeType: 'text/xml',
      buffer: Buffer.from(text),
    })
  await send(xml('<distortion model="poly3" focal="85" k1="a lot"/>'))
  await expect(page.getByRole('alert')).toContainText('hadde.xml: Line 4: k1="a lot" is not a number.')
  await send(
    xml(`<distortion model="poly3" focal="85" k1="0.01"/><tca model="poly3" focal="85" vr="1.0002" vb="0.9999"/>
<vignetting model="pa" focal="85" aperture="2" distance="10" k1="-0.5" k2="0.1" k3="0"/>`),
  )
  await expect(page.getByRole('status')).toContainText('1 profile and 0 cameras imported.')
  await page.getByLabel('Search lenses').fill('tessel 85')
  await page
    .getByRole('button', { name: /Tessel 85mm/ })
    .first()
    .click()
  for (const name of ['Distortion', 'Lateral fringes', 'Fall-off'])
    await expect(page.getByRole('img', { name: new RegExp(`^${name}`) })).toBeVisible()
  await page.getByRole('button', { name: 'Remove Tessel 85mm f/2' }).click()
})
