import { copyFileSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { CarriedMetadata } from '@dunkelkammer/core'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { cameraFile, veldrom } from '@dunkelkammer/demo'
import { demoFile, fileOf } from '../packages/server/test/server'
import { developed, expect, settled, test } from './app'
import { cells, chosen, demo, frame, NAMES, openSheet, shown, stored } from './sheet'

test('from a card full of files to the few that get work', async ({ page, app }) => {
  await page.goto(app.server.url)
  await page.getByRole('button', { name: 'Bring in' }).click()
  await page.getByLabel('Name of the shoot').fill('The trust, 14 May')
  const mimeType = 'application/octet-stream'
  await page
    .getByLabel('Files to bring in')
    .setInputFiles(NAMES.map((n) => ({ name: `${n}.dng`, mimeType, buffer: demo(n) })))
  await expect(page.getByTestId('chosen-files')).toContainText('7 pictures')
  await page.getByLabel('Creator').fill('Marit Oudendijk')
  await page.getByLabel('Keywords, separated by commas').fill('mill, canal')
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in' }).click()
  await expect(page.getByRole('banner').getByRole('status')).toContainText('7 brought in.')
  await expect(cells(page)).toHaveCount(7)
  const shootId = page.url().match(/shoots\/([^?]+)/)![1]
  expect((await stored(app, shootId)).every((f) => f.text.keywords.join() === 'mill,canal')).toBe(true)

  // rate by keyboard, moving on
  await frame(page, 'HM0403').click()
  await page.keyboard.press('4')
  await page.keyboard.press('2')
  await page.keyboard.press('K')
  await expect(frame(page, 'HM0403')).toHaveAccessibleName(/4 of 5 stars/)
  await expect(frame(page, 'HM0488')).toHaveAccessibleName(/2 of 5 stars/)
  await expect(frame(page, 'HM0502')).toHaveAccessibleName(/keep/)
  await expect.poll(() => chosen(page)).toEqual(['HM0503'])

  // filter: the chip counts, lives in the address, and comes off
  await page.getByRole('button', { name: 'Filter' }).click()
  await page.getByRole('region', { name: 'Stars' }).getByRole('button', { name: /^2/ }).click()
  await page.keyboard.press('Escape')
  await expect.poll(() => shown(page)).toEqual(['HM0403', 'HM0488'])
  await expect(page).toHaveURL(/stars=2%2B/)
  await page.reload()
  await expect(cells(page)).toHaveCount(2)
  await expect(page.getByTestId('counts')).toContainText('2 of 7 frames')
  const chip = page.getByRole('button', { name: 'Remove filter 2 stars or more' })
  await expect(chip).toContainText('2')
  await chip.click()
  await expect(cells(page)).toHaveCount(7)

  // stack the burst, see its frames side by side, take out until one is left
  await page.getByRole('button', { name: 'Stacks' }).click()
  await expect.poll(() => shown(page)).toEqual(['HM0403', 'HM0488', 'HM0502', 'HM0551'])
  await frame(page, 'HM0502').click()
  await page.keyboard.press('C')
  const panes = page.getByTestId('compare-pane')
  await expect(panes).toHaveCount(4)
  await expect(page.locator('[data-exact=true]')).toHaveCount(4)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('5')
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('D')
  await expect(panes).toHaveCount(3)
  await page.keyboard.press('X')
  await expect(panes).toHaveCount(2)
  await page.getByRole('button', { name: 'Take HM0502.dng out' }).click()
  await expect(panes).toHaveCount(1)
  await expect(page.getByRole('button', { name: /^Take .* out$/ })).toBeDisabled()

  // back on the sheet the best of the stack is on top; the dropped one is in the bin
  await page.getByRole('link', { name: 'Back to the contact sheet' }).click()
  await expect(frame(page, 'HM0503')).toHaveAccessibleName(/5 of 5 stars/)
  await expect.poll(() => shown(page)).toEqual(['HM0403', 'HM0488', 'HM0503', 'HM0551'])
  await frame(page, 'HM0551').click()
  await page.keyboard.press('D')
  await expect.poll(() => shown(page)).toEqual(['HM0403', 'HM0488', 'HM0503'])
  await page.keyboard.press('B')
  await expect(cells(page)).toHaveCount(2)
  await page.keyboard.press('Control+Z')
  await expect(cells(page)).toHaveCount(1)
  await page.keyboard.press('B')
  await expect(cells(page)).toHaveCount(4)
  await expect(frame(page, 'HM0551')).toBeVisible()

  // emptied, it is gone for good
  await page.keyboard.press('B')
  await page.getByRole('button', { name: 'Empty the bin' }).click()
  await page.getByRole('button', { name: 'Remove 1 frame' }).click()
  await expect(page.getByText('The bin is empty.')).toBeVisible()
  await expect.poll(() => stored(app, shootId)).toHaveLength(6)
})

test('frames are chosen by click, shift, control, rectangle, all, none and the others', async ({
  page,
  app,
}) => {
  await openSheet(page, app, 'Choosing')
  await frame(page, 'HM0403').click()
  await frame(page, 'HM0502').click({ modifiers: ['Shift'] })
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0488', 'HM0502'])
  await frame(page, 'HM0488').click({ modifiers: ['Control'] })
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0502'])
  await page.keyboard.press('Control+I')
  await expect.poll(() => chosen(page)).toEqual(['HM0488', 'HM0503', 'HM0504', 'HM0505', 'HM0551'])
  await page.keyboard.press('Escape')
  await expect.poll(() => chosen(page)).toEqual([])
  await page.keyboard.press('Control+A')
  await expect.poll(() => chosen(page)).toHaveLength(7)

  const from = (await frame(page, 'HM0488').boundingBox())!
  const to = (await frame(page, 'HM0504').boundingBox())!
  await page.mouse.move(from.x + 40, from.y + 60)
  await page.mouse.down()
  await page.mouse.move(from.x + 80, from.y + 90, { steps: 3 })
  await page.mouse.move(to.x + 20, to.y + 40, { steps: 5 })
  await page.mouse.up()
  const columns = Math.round((await page.getByTestId('grid').boundingBox())!.width / (from.width + 10))
  const inBox = NAMES.filter((_, i) => {
    const [a, b] = [NAMES.indexOf('HM0488'), NAMES.indexOf('HM0504')]
    const [c, c0, c1] = [i % columns, Math.min(a % columns, b % columns), Math.max(a % columns, b % columns)]
    return c >= c0 && c <= c1 && Math.floor(i / columns) <= Math.floor(b / columns)
  })
  await expect.poll(() => chosen(page)).toEqual(inBox)
  // drawn beyond the edge, the sheet follows
  await page.getByLabel('Size of the pictures').fill('420')
  await page.getByTestId('grid').focus()
  await page.keyboard.press('Home')
  await expect(frame(page, 'HM0403')).toBeInViewport({ ratio: 0.9 })
  const first = (await frame(page, 'HM0403').boundingBox())!
  const room = (await page.getByTestId('grid').boundingBox())!
  await page.mouse.move(first.x + 30, first.y + 30)
  await page.mouse.down()
  await page.mouse.move(first.x + 60, first.y + 60, { steps: 2 })
  await page.mouse.move(room.x + room.width - 20, room.y + room.height + 30, { steps: 4 })
  await expect(page.getByTestId('counts')).toContainText('7 chosen')
  await page.mouse.up()
  await page.getByLabel('Size of the pictures').fill('200')
  await page.getByTestId('grid').focus()
  await page.keyboard.press('Home')
  await page.keyboard.press('Shift+ArrowRight')
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0488'])
})

test('a rectangle with Control joins what is chosen, and many are rated at once', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Choosing more')
  await frame(page, 'HM0403').click()
  const box = (await frame(page, 'HM0502').boundingBox())!
  const draw = async () => {
    await page.mouse.move(box.x + 30, box.y + 30)
    await page.mouse.down()
    await page.mouse.move(box.x + 60, box.y + 60, { steps: 4 })
    await page.mouse.up()
  }
  await page.keyboard.down('Control')
  await draw()
  await page.keyboard.up('Control')
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0502'])
  await page.keyboard.press('3')
  await expect(frame(page, 'HM0403')).toHaveAccessibleName(/3 of 5 stars/)
  await expect(frame(page, 'HM0502')).toHaveAccessibleName(/3 of 5 stars/)
  await expect
    .poll(async () => (await stored(app, shootId)).filter((f) => f.rating === 3).map((f) => f.fileName))
    .toEqual(['HM0403.dng', 'HM0502.dng'])
  expect((await stored(app, shootId)).every((f) => f.rating === 3 || f.rating === 0)).toBe(true)
  await page.keyboard.press('Control+Z')
  await expect.poll(async () => (await stored(app, shootId)).filter((f) => f.rating).length).toBe(0)
  // without Control it begins anew
  await draw()
  await expect.poll(() => chosen(page)).toEqual(['HM0502'])
})

test('words are written on many frames, into sidecars and into deliveries', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Words', ['HM0403', 'HM0488', 'HM0551'])
  await page.keyboard.press('Control+A')
  const about = page.getByRole('complementary', { name: 'About the chosen frames' })
  await about.getByLabel('Title').fill('Hollenbeek & the polder')
  await about.getByLabel('Keywords').fill('früh, 水門')
  await about.getByLabel('Keywords').press('Enter')
  await expect(about.getByRole('button', { name: 'Remove the keyword 水門' })).toBeVisible()
  await frame(page, 'HM0403').click()
  await about.getByLabel('Caption').fill('Mist\nin two lines')
  await about.getByLabel('Creator').click()
  await expect
    .poll(async () => (await stored(app, shootId)).map((f) => f.text.caption))
    .toEqual(['Mist\nin two lines', '', ''])
  const frames = await stored(app, shootId)
  expect(frames.every((f) => f.text.title === 'Hollenbeek & the polder')).toBe(true)

  await page.keyboard.press('Escape')
  await page.getByTestId('grid').focus()
  await page.keyboard.press('Control+A')
  const download = page.waitForEvent('download')
  await about.getByRole('button', { name: 'Write sidecars of 3 frames' }).click()
  const zip = unzipSync(readFileSync(await (await download).path()))
  expect(Object.keys(zip).sort()).toEqual(['HM0403.xmp', 'HM0488.xmp', 'HM0551.xmp'])
  expect(new TextDecoder().decode(zip['HM0403.xmp'])).toContain('Hollenbeek &amp; the polder')

  // brought in elsewhere, the sidecar's words come along
  const card = join(app.library, 'words')
  mkdirSync(card)
  copyFileSync(demoFile.replace('HM0417', 'HM0403'), join(card, 'HM0403.dng'))
  writeFileSync(join(card, 'HM0403.xmp'), zip['HM0403.xmp'])
  const other = (await app.server.send('POST', '/api/shoots', { name: 'Other' })).body as { id: string }
  await app.server.send('POST', `/api/shoots/${other.id}/import`, { path: card })
  await expect.poll(async () => (await stored(app, other.id))[0]?.text.keywords).toEqual(['früh', '水門'])
  expect((await stored(app, other.id))[0].text.caption).toBe('Mist\nin two lines')

  // and into a delivery, with the position or without
  const deliver = async (fileName: string, metadata: CarriedMetadata) => {
    const order = fileOf(frames[0].id, { size: { by: 'long edge', pixels: 64 }, fileName, metadata })
    await app.server.send('POST', '/api/files', order)
    const path = join(app.library, 'deliveries', `${fileName}.jpg`)
    await expect.poll(() => readdirSync(join(app.library, 'deliveries'))).toContain(`${fileName}.jpg`)
    const { exif, xmp } = await sharp(path).metadata()
    return { exif: exif?.toString('latin1') ?? '', xmp: xmp?.toString() ?? '' }
  }
  const all = await deliver('all', 'all')
  expect(all.xmp).toContain('水門')
  expect(all.exif).toContain('Marit Oudendijk')
  expect(all.exif).toContain('Mist')
  const gps = (exif: string) => Buffer.from(exif, 'latin1').includes(Buffer.from([0x25, 0x88]))
  expect(gps(all.exif)).toBe(true)
  const without = await deliver('without', 'no position')
  expect(gps(without.exif)).toBe(false)
  expect(without.xmp).toContain('水門')
  expect(await deliver('bare', 'nothing')).toEqual({ exif: '', xmp: '' })
})

test('the look shows a frame whole and at 100 %, its neighbours without waiting', async ({ page, app }) => {
  await openSheet(page, app, 'Looking', ['HM0403', 'HM0502', 'HM0551'])
  await frame(page, 'HM0502').click()
  await page.keyboard.press('L')
  await expect(page).toHaveURL(/look=/)
  const pane = page.getByTestId('look')
  const exact = pane.locator('[data-exact=true]')
  await expect(exact).toBeVisible()
  const box = (await pane.boundingBox())!
  await page.mouse.move(box.x + 500, box.y + 300)
  await page.mouse.down()
  await expect(page.getByText('100 %', { exact: true })).toBeVisible()
  // one pixel of the picture is one of the screen, to the last
  await expect(exact).toBeVisible()
  const canvas = pane.getByRole('img', { name: 'HM0502.dng' })
  expect((await canvas.boundingBox())!.width).toBe(await canvas.evaluate((c: HTMLCanvasElement) => c.width))
  await page.mouse.up()
  await expect(page.getByText('whole', { exact: true })).toBeVisible()
  await page.keyboard.press('3')
  await expect(
    page.getByRole('main', { name: 'Look' }).getByRole('heading', { name: 'HM0551.dng' }),
  ).toBeAttached()
  const last = new URL(page.url()).searchParams.get('look')!
  await page.keyboard.press('ArrowLeft')
  await expect(page.getByRole('heading', { name: 'HM0502.dng' })).toBeAttached()
  await page.keyboard.press('D')
  await expect(
    page.getByRole('main', { name: 'Look' }).getByRole('heading', { name: 'HM0551.dng' }),
  ).toBeAttached()
  await expect.poll(() => page.url()).toContain(last)
  await page.keyboard.press('Escape')
  await expect(cells(page)).toHaveCount(2)
  await expect.poll(() => shown(page)).toEqual(['HM0403', 'HM0551'])
})

test('the strip at the bench is the sheet, filtered and in its order', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Strip')
  const frames = await stored(app, shootId)
  const ids = frames
    .filter((f) => ['HM0403.dng', 'HM0551.dng', 'HM0488.dng'].includes(f.fileName))
    .map((f) => f.id)
  await app.server.send('PATCH', '/api/frames', { changes: [{ ids, rating: 3 }] })
  await page.goto(`${app.server.url}/shoots/${shootId}?stars=3%2B&order=-taken`)
  await expect(cells(page)).toHaveCount(3)
  await frame(page, 'HM0488').dblclick()
  await expect(developed(page)).toBeVisible()
  const strip = page.getByRole('complementary', { name: 'Strip' })
  await expect(strip.getByRole('list', { name: 'Frames of the sheet' }).getByRole('link')).toHaveText([
    /HM0551/,
    /HM0488/,
    /HM0403/,
  ])
  await page.keyboard.press('PageDown')
  await expect(page.getByRole('heading', { name: 'HM0403.dng' })).toBeAttached()
  await expect(developed(page)).toBeVisible()
  await page.getByRole('button', { name: /mm .* ISO/ }).click()
  await expect(page.getByText('80 mm, as 122 mm (crop 1.52)')).toBeVisible()
  await page.getByRole('link', { name: 'Back to the contact sheet' }).click()
  await expect(cells(page)).toHaveCount(3)
  await expect.poll(() => shown(page)).toEqual(['HM0551', 'HM0488', 'HM0403'])
  // the frame that was at the bench is in hand, and keys reach it
  await expect.poll(() => chosen(page)).toEqual(['HM0403'])
  await page.keyboard.press('ArrowLeft')
  await expect.poll(() => chosen(page)).toEqual(['HM0488'])
})

test('finished pictures are developed like raw files, and look as they came', async ({ page, app }) => {
  const { id } = (await app.server.send('POST', '/api/shoots', { name: 'Pictures' })).body as { id: string }
  const [w, h] = [480, 320]
  const picture = Buffer.alloc(w * h * 3)
  for (let i = 0; i < picture.length; i++) picture[i] = (Math.floor(i / 3 / w) + (i % 3) * 60) & 255
  const source = () => sharp(picture, { raw: { width: w, height: h, channels: 3 } })
  const files: [string, Promise<Buffer>][] = [
    ['ramp.jpg', source().jpeg({ quality: 95 }).toBuffer()],
    ['ramp.png', source().png().toBuffer()],
    ['ramp.tif', source().tiff({ compression: 'lzw' }).toBuffer()],
    ['ramp.webp', source().webp({ lossless: true }).toBuffer()],
    ['ramp.avif', source().avif({ lossless: true, chromaSubsampling: '4:4:4' }).toBuffer()],
  ]
  for (const [name, bytes] of files)
    await app.server.ask(`/api/shoots/${id}/frames?name=${name}`, {
      method: 'POST',
      body: (await bytes) as never,
    })
  await app.server.ask(`/api/shoots/${id}/frames?name=ramp.heic`, {
    method: 'POST',
    body: readFileSync(new URL('../packages/engine/test/files/ramp.heic', import.meta.url)),
  })
  await page.goto(`${app.server.url}/shoots/${id}?order=name`)
  await expect(cells(page)).toHaveCount(6)
  for (const name of ['ramp.avif', 'ramp.heic', 'ramp.jpg', 'ramp.png', 'ramp.tif', 'ramp.webp']) {
    await frame(page, name).dblclick()
    await expect(developed(page), name).toBeVisible()
    const seen = await settled(page)
    const wanted = name === 'ramp.heic' ? [126, 117, 120] : [0, 1, 2].map((c) => mean(picture, c))
    seen.mean.forEach((v, c) => expect(Math.abs(v - wanted[c]), `${name} ${c}`).toBeLessThan(3))
    await page.getByRole('link', { name: 'Back to the contact sheet' }).click()
  }
})

const mean = (rgb: Buffer, channel: number) => {
  let sum = 0
  for (let i = channel; i < rgb.length; i += 3) sum += rgb[i]
  return sum / (rgb.length / 3)
}

test('stacks are joined and split by hand, frames moved, shoots renamed and deleted', async ({
  page,
  app,
}) => {
  const shootId = await openSheet(page, app, 'Manual', ['HM0403', 'HM0405', 'HM0466'])
  await frame(page, 'HM0403').click()
  await frame(page, 'HM0466').click({ modifiers: ['Control'] })
  await page.keyboard.press('j')
  await expect(page.getByTestId('counts')).toContainText('3 frames in 2 places')
  await page.reload()
  await expect(page.getByTestId('counts')).toContainText('3 frames in 2 places')
  await frame(page, 'HM0403').click()
  await page.keyboard.press('p')
  await expect(page.getByTestId('counts')).toHaveText(/^3 frames(, 1 chosen)?$/)
  await page.keyboard.press('Control+z')
  await expect(page.getByTestId('counts')).toContainText('3 frames in 2 places')

  await frame(page, 'HM0405').click()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find a command' }).fill('another shoot')
  await page.keyboard.press('Enter')
  await page.getByLabel('Its name').fill('Mist alone')
  await page.getByRole('button', { name: 'Move 1 frame' }).click()
  await expect(frame(page, 'HM0405')).toBeHidden()
  await expect.poll(async () => (await app.server.page(shootId)).frames.length).toBe(2)

  await page.getByRole('heading', { name: 'Manual' }).dblclick()
  await page.getByLabel('Name of the shoot').fill('Put by hand')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Put by hand' })).toBeVisible()
  await page.goto(`${app.server.url}/`)
  await page.getByRole('button', { name: 'More for Put by hand' }).click()
  await page.getByRole('menuitem', { name: 'Delete' }).click()
  await page.getByRole('button', { name: 'Delete the shoot and 2 frames' }).click()
  await expect(page.getByRole('heading', { name: 'Put by hand', exact: true })).toBeHidden()
  await expect(page.getByRole('heading', { name: 'Mist alone' })).toBeVisible()
  expect((await app.server.ask(`/api/shoots/${shootId}`)).status).toBe(404)
})

test('another version begins as the first stands, goes its own way, and stands beside it', async ({
  page,
  app,
}) => {
  const shootId = await openSheet(page, app, 'Versions', ['HM0403'])
  await frame(page, 'HM0403').dblclick()
  await expect(developed(page)).toBeVisible()
  await page.getByLabel('Exposure, number').fill('0.5')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'New version' }).click()
  await page.getByRole('menuitem', { name: 'From this version' }).click()
  const versions = page.getByRole('complementary', { name: 'Strip' })
  await expect(versions.getByRole('link', { name: 'Version 2' })).toHaveAttribute('aria-current', 'true')
  await expect(page.getByLabel('Exposure, number')).toHaveValue('+0.50')
  await page.getByLabel('Exposure, number').fill('2')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await versions.getByRole('link', { name: 'First version' }).click()
  await expect(page.getByLabel('Exposure, number')).toHaveValue('+0.50')
  await versions.getByRole('link', { name: 'Side by side' }).click()
  await expect(page.locator('[data-exact=true]')).toHaveCount(2)
  const means = await page.getByTestId('compare-pane').evaluateAll((all) =>
    all.map((pane) => {
      const canvas = pane.querySelector('canvas')!
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height)
      return data.reduce((n, v) => n + v, 0) / data.length
    }),
  )
  expect(means[1]).toBeGreaterThan(means[0] + 10)
  await expect(page.getByText('Version 2')).toBeVisible()
  expect((await stored(app, shootId))[0].edited).toBe(true)
})

test('files that are dropped on the sheet come in', async ({ page, app }) => {
  await openSheet(page, app, 'Dropping', ['HM0403'])
  const bytes = demo('HM0405').toString('base64')
  const data = await page.evaluateHandle((text) => {
    const transfer = new DataTransfer()
    const content = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
    transfer.items.add(new File([content], 'HM0405.dng'))
    transfer.items.add(new File(['nothing'], 'notes.txt'))
    return transfer
  }, bytes)
  await page.getByTestId('grid').dispatchEvent('drop', { dataTransfer: data })
  await expect(page.getByTestId('chosen-files')).toContainText('1 picture')
  await page.getByRole('dialog').getByRole('button', { name: 'Bring in' }).click()
  await expect(cells(page)).toHaveCount(2)
})

test('a raw file that only the library reads is developed as our own reader would', async ({ page, app }) => {
  const { id } = (await app.server.send('POST', '/api/shoots', { name: 'Library' })).body as { id: string }
  // stored in one strip without compression, and with a mark that our reader does not know
  const { width, height } = { width: 256, height: 192 }
  const mosaic = Uint16Array.from(
    { length: width * height },
    (_, i) => 900 + ((i % width) * 40 + Math.floor(i / width) * 20),
  )
  const own = cameraFile(veldrom, { width, height }, mosaic, [1, 1, 1], { iso: 100 })
  const strange = Buffer.from(own)
  strange[2] = 0x52
  for (const [name, body] of [
    ['own.dng', own],
    ['strange.raw', strange],
  ] as const)
    expect(
      (await app.server.ask(`/api/shoots/${id}/frames?name=${name}`, { method: 'POST', body: body as never }))
        .status,
    ).toBe(201)
  const frames = await stored(app, id)
  expect(frames.map((f) => f.format).sort()).toEqual(['dng', 'raw'])
  const seen: number[][] = []
  for (const f of frames) {
    await page.goto(`${app.server.url}/shoots/${id}/frames/${f.id}`)
    await expect(developed(page)).toBeVisible()
    seen.push((await settled(page)).mean)
  }
  seen[0].forEach((v, c) => expect(Math.abs(v - seen[1][c])).toBeLessThan(1))
})
