import { createHash } from 'node:crypto'
import { readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { cameraFile, veldrom } from '@dunkelkammer/demo'
import { demoBytes } from '../packages/server/test/server'
import { developed, expect, fresh, look, openBench, pixels, settled, test } from './app'
import { openDelivering } from './delivered'

test('from the shoots to a finished file, and the file is what the screen showed', async ({ page, app }) => {
  await page.goto(app.server.url)
  await page
    .getByRole('link', { name: /Hollenbeek Mills trust/ })
    .first()
    .click()
  await page.getByRole('gridcell', { name: /HM0417/ }).click()
  await expect(page.getByText('1/320 s')).toBeVisible()
  await page.keyboard.press('Enter')
  await expect(developed(page)).toBeVisible()
  const start = await settled(page)

  const exposure = page.getByLabel('Exposure', { exact: true })
  await exposure.focus()
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowUp')
  await expect(page.getByLabel('Exposure, number')).toHaveValue('+0.40')
  const brighter = await settled(page)
  expect(brighter.mean[1]).toBeGreaterThan(start.mean[1] + 8)
  await expect(page.getByRole('button', { name: /^Expose/ })).toContainText('+0.4 EV')

  // the part on the screen at 100 %, against the file that the server makes
  await page.keyboard.press('1')
  await expect(page).toHaveURL(/zoom=100/)
  const { width, height } = await settled(page)
  const size = [width, height]
  const shown = await pixels(page)
  const dialog = await openDelivering(page, app, { format: { kind: 'png' }, fileName: 'morning' })
  await expect(dialog.getByText('morning.png')).toBeVisible()
  await page.getByRole('dialog').getByRole('button', { name: 'Deliver', exact: true }).click()
  await expect(page.getByText('Saved as morning.png.')).toBeVisible()
  const { data, info } = await sharp(readFileSync(join(app.library, 'deliveries/morning.png')), {
    ignoreIcc: true,
  } as object)
    .raw()
    .toBuffer({ resolveWithObject: true })
  expect([info.width, info.height]).toEqual([2256, 1504])
  const left = Math.round((2256 - size[0]) / 2)
  const top = Math.round((1504 - size[1]) / 2)
  let different = 0
  for (let y = 0; y < size[1]; y++)
    for (let x = 0; x < size[0]; x++)
      for (let c = 0; c < 3; c++)
        if (shown[(y * size[0] + x) * 4 + c] !== data[((top + y) * 2256 + left + x) * 3 + c]) different++
  expect(different).toBe(0)

  // the name is taken now
  await page.getByRole('button', { name: 'Deliver another' }).click()
  await expect(dialog.getByText('morning (2).png')).toBeVisible()
  await expect(dialog.getByText('numbered', { exact: true })).toBeVisible()
  await page.getByRole('dialog').getByRole('button', { name: 'Deliver', exact: true }).click()
  await expect(page.getByText('Saved as morning (2).png.')).toBeVisible()
  await page.getByRole('button', { name: 'Close' }).click()
  await page.goto(`${app.server.url}/deliveries`)
  await expect(page.getByRole('row', { name: /morning \(2\)\.png/ })).toContainText('done')
})

test('undo, redo and a reload keep every step', async ({ page, app }) => {
  await openBench(page, app)
  await page.getByLabel('Exposure, number').fill('0')
  await page.keyboard.press('Enter')
  const neutral = await settled(page)
  const grade = page.getByLabel('Grade, number')
  await grade.fill('4,5')
  await page.keyboard.press('Enter')
  await expect(grade).toHaveValue('4.5')
  const hard = await settled(page)
  expect(hard).not.toEqual(neutral)
  await grade.blur()
  await page.keyboard.press('Control+z')
  await expect(grade).toHaveValue('2.0')
  await expect.poll(() => settled(page)).toEqual(neutral)
  await page.keyboard.press('Control+Shift+Z')
  await expect.poll(() => settled(page)).toEqual(hard)
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await expect(grade).toHaveValue('4.5')
  await expect.poll(() => settled(page)).toEqual(hard)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(grade).toHaveValue('2.0')
  // a double click on the name gives the start back
  await grade.fill('1')
  await page.keyboard.press('Enter')
  await page.getByText('Grade', { exact: true }).dblclick()
  await expect(grade).toHaveValue('2.0')
})

test('a drag moves the picture while it lasts and is one step', async ({ page, app }) => {
  await openBench(page, app)
  await settled(page)
  const number = page.getByLabel('Exposure, number')
  const before = await number.inputValue()
  const box = (await page.getByLabel('Exposure', { exact: true }).boundingBox())!
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  for (let i = 1; i <= 12; i++) await page.mouse.move(box.x + box.width / 2 + i * 5, box.y + box.height / 2)
  await page.mouse.up()
  expect(await number.inputValue()).not.toBe(before)
  await settled(page)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(number).toHaveValue(before)
})

test('white balance by number, and by picking a grey with mouse and with keys', async ({ page, app }) => {
  await openBench(page, app, '?stage=balance')
  const start = await settled(page)
  const kelvin = page.getByLabel('Colour temperature, number')
  await kelvin.fill('9000')
  await page.keyboard.press('Enter')
  const warm = await settled(page)
  expect(warm.mean[0] - warm.mean[2]).toBeGreaterThan(start.mean[0] - start.mean[2] + 10)
  await page.getByRole('radio', { name: 'As shot' }).click()
  await expect.poll(() => settled(page)).toEqual(start)

  // the white band of the mill, in open shade
  const place = { x: 0.742, y: 0.338 }
  const box = (await developed(page).boundingBox())!
  await page.getByRole('button', { name: 'Pick a grey in the picture' }).click()
  await page.mouse.click(box.x + box.width * place.x, box.y + box.height * place.y)
  await expect(page.getByRole('radio', { name: 'Greys' })).toBeChecked()
  const picked = await settled(page)
  const at = (Math.round(picked.height * place.y) * picked.width + Math.round(picked.width * place.x)) * 4
  const rgb = (await pixels(page)).subarray(at, at + 3)
  expect(Math.max(...rgb) - Math.min(...rgb)).toBeLessThan(8)

  // the keys do the same: the cross starts in the middle
  await page.keyboard.press('n')
  for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowUp')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Pick a grey in the picture' })).toHaveAttribute(
    'aria-pressed',
    'false',
  )
  await expect.poll(() => settled(page)).not.toEqual(picked)

  // the sun is clipped and says nothing
  await page.keyboard.press('n')
  await page.mouse.click(box.x + box.width * 0.08, box.y + box.height * 0.18)
  await expect(page.getByRole('alert')).toContainText('clipped')
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: 'As shot' }).click()
})

test('what is clipped is marked by pattern and counted by letter', async ({ page, app }) => {
  await openBench(page, app)
  await page.getByLabel('Exposure, number').fill('3')
  await page.keyboard.press('Enter')
  await settled(page)
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: 'Clipped', exact: true }).click()
  await expect(page.locator('canvas.clip-highs')).toBeVisible()
  const animation = await page.locator('canvas.clip-highs').evaluate((c) => getComputedStyle(c).animationName)
  expect(animation).toBe('march')
  await expect(page.getByLabel('Highlights clipped')).toContainText(/B\s*\d+\.\d %/)
  await page.getByRole('button', { name: 'Thresholds of clipping' }).click()
  const highlights = page.getByLabel('Highlights clipped')
  const strict = await highlights.textContent()
  await page.getByLabel('Highlights from, number').fill('240')
  await page.keyboard.press('Enter')
  await expect(highlights).not.toHaveText(strict!)
  await page.keyboard.press('Escape')
  await page.getByLabel('Exposure, number').fill('0')
  await page.keyboard.press('Enter')
})

test('hold for the original, hold a stage off, hide all but the picture', async ({ page, app }) => {
  await openBench(page, app)
  const start = await settled(page)
  await page.getByLabel('Exposure, number').fill('1.5')
  await page.keyboard.press('Enter')
  const changed = await settled(page)
  await page.getByLabel('Exposure, number').blur()
  await page.keyboard.down('o')
  await expect(page.getByRole('img', { name: 'The untouched picture' })).toBeVisible()
  await expect.poll(() => look(page, 'The untouched picture')).toEqual(start)
  await page.keyboard.up('o')
  await expect(page.getByRole('img', { name: 'The untouched picture' })).toBeHidden()

  await page.getByRole('button', { name: 'Switch Expose off for now' }).click()
  await expect.poll(() => settled(page)).toEqual(start)
  await page.getByRole('button', { name: 'Switch Expose off for now' }).click()
  await expect.poll(() => settled(page)).toEqual(changed)

  await page.keyboard.press('q')
  await expect(page.getByRole('navigation', { name: 'Stages' })).toBeHidden()
  await expect(page.getByLabel('Tone rail')).toBeHidden()
  await expect(developed(page)).toBeVisible()
  await page.keyboard.press('q')
  await expect(page.getByLabel('Tone rail')).toBeVisible()
  await page.getByLabel('Exposure, number').fill('0')
  await page.keyboard.press('Enter')
})

test('zoom, pan and stage live in the address', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine&zoom=200&at=0.7,0.3')
  await expect(page.getByRole('radio', { name: '200 %' })).toBeChecked()
  await expect(page.getByRole('switch', { name: 'Mend hot and dead pixels' })).toBeChecked()
  const first = await settled(page)
  await page.getByRole('application', { name: /^Picture/ }).focus()
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight')
  const moved = await settled(page)
  expect(moved).not.toEqual(first)
  await expect(page).not.toHaveURL(/at=0\.7,0\.3/)
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await expect.poll(() => settled(page)).toEqual(moved)
  await page.keyboard.press('0')
  await expect(page).not.toHaveURL(/zoom/)
  await developed(page).waitFor()
  const box = (await page.getByRole('application', { name: /^Picture/ }).boundingBox())!
  await page.mouse.dblclick(box.x + 300, box.y + 250)
  await expect(page).toHaveURL(/zoom=100/)
})

test('the mending of defects can be switched off', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine&zoom=100')
  const mended = await settled(page)
  await page.getByRole('switch', { name: 'Mend hot and dead pixels' }).click()
  await expect(page.getByRole('button', { name: /^Refine/ })).toContainText('defects not mended')
  await expect.poll(() => settled(page)).not.toEqual(mended)
  await page.getByRole('switch', { name: 'Mend hot and dead pixels' }).click()
  await expect.poll(() => settled(page)).toEqual(mended)
})

test('without isolation one worker does it all, with the same pixels, and says so', async ({ page, app }) => {
  await openBench(page, app)
  const shared = await settled(page)
  await page.route('**/*', async (route) => {
    const response = await route.fetch().catch(() => undefined)
    if (!response) return
    const headers = { ...response.headers() }
    delete headers['cross-origin-embedder-policy']
    await route.fulfill({ response, headers })
  })
  await page.goto(app.benchUrl)
  await expect(developed(page)).toBeVisible()
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(false)
  await expect.poll(() => settled(page)).toEqual(shared)
  await expect(page.getByText('Single worker')).toBeVisible()
})

test('the camera’s own picture stands beside, at the same place and size', async ({ page, app }) => {
  await openBench(page, app)
  await settled(page)
  await page.getByRole('button', { name: 'Compared with: Original' }).click()
  await page.getByRole('menuitem', { name: 'Camera’s picture' }).click()
  await page.keyboard.press('j')
  const beside = page.getByRole('region', { name: 'The camera’s own picture' })
  const camera = beside.getByRole('img', { name: 'As the camera developed it' })
  await expect(camera).toBeVisible()
  expect(await camera.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1128)
  await settled(page)
  const same = async () => {
    const pane = (await page.getByRole('application', { name: /^Picture/ }).boundingBox())!
    const other = (await beside.boundingBox())!
    const a = (await developed(page).boundingBox())!
    const b = (await camera.boundingBox())!
    return {
      a: [a.x - pane.x, a.y - pane.y, a.width, a.height],
      b: [b.x - other.x, b.y - other.y, b.width, b.height],
    }
  }
  const fit = await same()
  fit.a.forEach((v, i) => expect(Math.abs(v - fit.b[i])).toBeLessThan(2))
  await page.keyboard.press('2')
  await settled(page)
  // at 200 % only a part is computed; the whole of the camera's picture lies under the same grid
  await expect.poll(async () => Math.round((await same()).b[2])).toBe(2256 * 2)
  await page.getByRole('button', { name: 'Beside', exact: true }).click()
  await expect(beside).toBeHidden()
})

test('exposure and grade follow the camera’s picture, on demand or at the start of a frame', async ({
  page,
  app,
}) => {
  await openBench(page, app)
  const number = page.getByLabel('Exposure, number')
  await settled(page)
  await page.getByRole('button', { name: 'Match brightness and contrast' }).click()
  await expect
    .poll(async () => Number((await number.inputValue()).replace('\u2212', '-')))
    .toBeGreaterThan(0.1)
  await expect(page.getByLabel('Grade, number')).not.toHaveValue('2.0')
  await page.getByRole('button', { name: 'Undo' }).click()

  // off by default: another frame begins as it is
  await page.keyboard.press('PageDown')
  await expect(page.getByRole('heading', { name: 'HM0466.dng' })).toBeVisible()
  await expect(developed(page)).toBeVisible()
  await settled(page)
  await expect(number).toHaveValue('0.00')
  await page.getByRole('switch', { name: 'Apply to every unedited frame' }).click()
  await expect(page.getByLabel('Grade, number')).not.toHaveValue('2.0')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  // what has been worked on stays
  await page.getByLabel('Grade, number').fill('1')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await settled(page)
  await expect(page.getByLabel('Grade, number')).toHaveValue('1.0')
})

test('clipped highlights come back, quickly while dragging and exactly after', async ({ page, app }) => {
  await page.goto(app.benchUrl)
  await expect(developed(page)).toBeVisible()
  await page.keyboard.press('PageDown')
  await expect(page.getByRole('heading', { name: 'HM0466.dng' })).toBeVisible()
  await expect(developed(page)).toBeVisible()
  await page.getByLabel('Exposure, number').fill('-2')
  await page.keyboard.press('Enter')
  const rebuilt = await settled(page)
  const slider = page.getByLabel('Highlight reconstruction', { exact: true })
  const box = (await slider.boundingBox())!
  await page.mouse.move(box.x + box.width - 4, box.y + box.height / 2)
  await page.mouse.down()
  for (let i = 1; i <= 10; i++)
    await page.mouse.move(box.x + box.width * (1 - i / 10), box.y + box.height / 2)
  await page.mouse.up()
  await expect(page.getByLabel('Highlight reconstruction, number')).toHaveValue('0')
  await expect(page.getByRole('button', { name: /^Expose/ })).toContainText('rebuild 0 %')
  // the brightest of the sky lies above the level that cuts it
  await expect.poll(async () => (await settled(page)).mean[1]).toBeLessThan(rebuilt.mean[1])
  await page.getByText('Highlight reconstruction', { exact: true }).dblclick()
  await expect.poll(() => settled(page)).toEqual(rebuilt)
})

test('greens and false colour can be left as read', async ({ page, app }) => {
  await openBench(page, app, '?stage=refine&zoom=100&at=0.7,0.35')
  const start = await settled(page)
  await page.getByLabel('False colour reduction, number').fill('0')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /^Refine/ })).toContainText('false colour 0 %')
  await expect.poll(() => settled(page)).not.toEqual(start)
  await page.getByText('False colour reduction', { exact: true }).dblclick()
  await page.getByRole('switch', { name: 'Equalise the greens' }).click()
  await expect(page.getByRole('button', { name: /^Refine/ })).toContainText('greens not equalised')
  await expect.poll(() => settled(page)).not.toEqual(start)
  await page.getByRole('switch', { name: 'Equalise the greens' }).click()
  await expect.poll(() => settled(page)).toEqual(start)
})

test('a file that brings a rendering of its own can be seen by it', async ({ page, app }) => {
  const size = { width: 96, height: 64 }
  const mosaic = Uint16Array.from({ length: 96 * 64 }, (_, i) => 700 + (i % 96) * 60)
  const values = Float32Array.from({ length: 36 }, (_, i) => [60, 1, 1][i % 3])
  const map = { hues: 6, saturations: 2, levels: 1, encoded: false, values }
  const toneCurve = [
    [0, 0],
    [0.5, 0.2],
    [1, 1],
  ] as const
  const file = cameraFile(veldrom, size, mosaic, [1, 0.9, 0.6], {
    profile: { name: 'Evening', maps: [map], toneCurve },
  })
  const added = await app.server.ask(`/api/shoots/${app.shootId}/frames?name=evening.dng`, {
    method: 'POST',
    body: Buffer.from(file),
  })
  const { frame } = added.body as { frame: { id: string } }
  await page.goto(`${app.server.url}/shoots/${app.shootId}/frames/${frame.id}`)
  await expect(developed(page)).toBeVisible()
  const own = await settled(page)
  await expect(page.getByText('the file brings “Evening”')).toBeVisible()
  await page.getByRole('radio', { name: 'From the file' }).click()
  await expect(page.getByLabel('Grade, number')).toBeDisabled()
  const darker = await settled(page)
  expect(darker.mean[1]).toBeLessThan(own.mean[1])
  await page.getByRole('button', { name: /^Balance/ }).click()
  await page.getByRole('radio', { name: 'Matrix and the file’s tables' }).click()
  await expect(page.getByRole('button', { name: /^Balance/ })).toContainText('file’s tables')
  await expect.poll(() => settled(page)).not.toEqual(darker)
  await page.getByRole('radio', { name: 'Matrix', exact: true }).click()
  await expect.poll(() => settled(page)).toEqual(darker)
})

test('the wheel scrolls the drawer, and steps a control only where it was meant', async ({ page, app }) => {
  await openBench(page, app, '?stage=expose')
  const exposure = page.getByLabel('Exposure, number')
  await expect(exposure).toHaveValue('0.00')
  const drawer = page.getByRole('complementary', { name: 'Drawer' })
  const scrolled = () =>
    drawer.evaluate((e) => [e, ...e.querySelectorAll('*')].reduce((n, x) => n + x.scrollTop, 0))
  const box = (await page.getByLabel('Exposure', { exact: true }).boundingBox())!
  await page.mouse.move(box.x + 60, box.y + box.height / 2)
  await page.mouse.wheel(0, 200)
  await expect.poll(scrolled).toBeGreaterThan(0)
  await expect(exposure).toHaveValue('0.00')
  await page.mouse.wheel(0, -400)
  await expect.poll(scrolled).toBe(0)
  // with Alt held, or with the focus in the control
  await page.keyboard.down('Alt')
  await page.mouse.wheel(0, -100)
  await page.keyboard.up('Alt')
  await expect(exposure).toHaveValue('+0.05')
  await page.getByLabel('Exposure', { exact: true }).focus()
  await page.mouse.wheel(0, -100)
  await expect(exposure).toHaveValue('+0.10')
  await page.mouse.wheel(0, 100)
  await expect(exposure).toHaveValue('+0.05')
  expect(await scrolled()).toBe(0)
})

test('a section of two steps has one strength, in the settings and in the picture', async ({ page, app }) => {
  await openBench(page, app, '?stage=expose')
  const brightness = async () => (await settled(page)).mean[1]
  const taken = await brightness()
  await page.getByLabel('Exposure, number').fill('1.5')
  await page.getByLabel('Exposure, number').press('Enter')
  // the page may rest for a moment before it takes up what was set
  await expect.poll(brightness).toBeGreaterThan(taken)
  const before = await brightness()
  await page.getByLabel('Highlight recovery, number').fill('100')
  await page.getByLabel('Highlight recovery, number').press('Enter')
  await expect.poll(brightness).toBeLessThan(before)
  const full = await brightness()
  await page.getByLabel('Strength of Highlights').fill('50')
  await page.getByLabel('Strength of Highlights').press('Enter')
  await expect.poll(brightness).toBeGreaterThan(full)
  const half = await brightness()
  await page.getByLabel('Strength of Highlights').fill('0')
  await page.getByLabel('Strength of Highlights').press('Enter')
  await expect.poll(brightness).toBeGreaterThan(half)
  await expect
    .poll(async () => (await app.server.version(app.frameId)).development.strength)
    .toEqual({ recovery: 0, highlights: 0 })
})

test('a missing original is said, and put back by choosing the file', async ({ page, app }) => {
  const { inPlace } = (await app.server.page(app.shootId)).frames[0]
  expect(inPlace).toBeUndefined()
  const bytes = Buffer.concat([demoBytes(), Buffer.from('missing')])
  const frameId = await app.server.frame(app.shootId, 'lost.dng', bytes)
  const hash = createHash('sha256').update(bytes).digest('hex')
  rmSync(join(app.library, 'originals', hash.slice(0, 2), `${hash}.dng`))
  await page.goto(`${app.server.url}/shoots/${app.shootId}/frames/${frameId}`)
  await expect(page.getByRole('alert')).toContainText('The original is missing from the library’s folder.')
  const choose = (buffer: Buffer) =>
    page
      .getByLabel('File of the original')
      .setInputFiles({ name: 'found.dng', mimeType: 'application/octet-stream', buffer })
  await choose(demoBytes())
  await expect(page.getByRole('alert')).toContainText(
    'This is another file than the one that was brought in.',
  )
  await choose(bytes)
  await expect(developed(page)).toBeVisible()
  await expect(page.getByRole('alert')).toBeHidden()
})

test('a delivered file that is dropped on the bench gives its settings back', async ({ page, app }) => {
  const frameId = await fresh(page, app)
  const version = await app.server.version(frameId)
  await app.server.expose(version, 1.35)
  const job = await app.server.deliver(frameId, {
    ...{ name: 'Kept', size: { by: 'long edge', pixels: 200 }, keepSettings: true, fileName: 'kept' },
  })
  expect(job.state).toBe('done')
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await settled(page)
  await page.getByLabel('Exposure, number').fill('-0.5')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Exposure, number')).toHaveValue('−0.50')
  const drop = async (name: string, bytes: Buffer) => {
    const transfer = await page.evaluateHandle(
      ({ text, fileName }) => {
        const made = new DataTransfer()
        made.items.add(new File([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], fileName))
        return made
      },
      { text: bytes.toString('base64'), fileName: name },
    )
    await page.getByRole('main').dispatchEvent('drop', { dataTransfer: transfer })
  }
  const path = join(app.library, 'deliveries', 'kept.jpg')
  await drop('kept.jpg', readFileSync(path))
  await expect(page.getByLabel('Exposure, number')).toHaveValue('+1.35')
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('Exposure, number')).toHaveValue('−0.50')
  await drop('other.jpg', Buffer.from('a picture without words'))
  await expect(page.getByText('other.jpg does not say how it was made.')).toBeVisible()
})
