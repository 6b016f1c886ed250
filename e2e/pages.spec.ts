import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { demoBytes, demoFile, fileOf } from '../packages/server/test/server'
import { developed, expect, openBench, settled, test } from './app'

test('every control of the bench can be reached and worked by keyboard', async ({ page, app }) => {
  await openBench(page, app)
  const reached = new Set<string>()
  for (let i = 0; i < 200; i++) {
    await page.keyboard.press('Tab')
    const [name, visible] = await page.evaluate(() => {
      const e = document.activeElement as HTMLElement
      // the focus may have left for the browser's own bar
      if (e === document.body) return ['', true] as const
      const label = (e as HTMLInputElement).labels?.[0]?.textContent
      const name = e.getAttribute('aria-label') ?? label ?? e.textContent?.trim() ?? ''
      return [name, getComputedStyle(e).outlineStyle !== 'none'] as const
    })
    if (name === 'Back to the contact sheet' && reached.has(name)) break
    reached.add(name)
    if (name !== '') expect(visible, `focus on ${name}`).toBe(true)
  }
  for (const name of [
    'Back to the contact sheet',
    'Deliver',
    'Exposure, number',
    'Grade, number',
    'Compared with: Original',
    'Hold',
    'Clipped',
    'Mid grey',
    'List the keys',
  ])
    expect(
      [...reached].some((r) => r.includes(name)),
      name,
    ).toBe(true)

  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Find a command' }).fill('balance')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/stage=balance/)
  await page.keyboard.press('Alt+4')
  await expect(page).toHaveURL(/stage=refine/)
  await page.keyboard.press('Alt+1')
  await expect(page).toHaveURL(/stage=square-up/)
  await page.getByRole('button', { name: 'Hold', exact: true }).focus()
  await page.keyboard.down('Space')
  await expect(page.getByRole('img', { name: 'The untouched picture' })).toBeVisible()
  await page.keyboard.up('Space')
})

test('a new shoot takes files, tells what it cannot read, and what it has already', async ({ page, app }) => {
  await page.goto(app.server.url)
  await page.getByRole('button', { name: 'New shoot' }).click()
  await page.getByLabel('Name of the assignment').fill('The kiln, second visit')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'The kiln, second visit' })).toBeVisible()
  await expect(page.getByText('No frames yet.')).toBeVisible()
  const bring = async (...files: { name: string; mimeType: string; buffer: Buffer }[]) => {
    await page.getByRole('button', { name: 'Bring in' }).last().click()
    await page.getByLabel('Files to bring in').setInputFiles(files)
    await page.getByRole('dialog').getByRole('button', { name: 'Bring in' }).click()
  }
  const mimeType = 'application/octet-stream'
  await bring(
    { name: 'HM0417.dng', mimeType, buffer: readFileSync(demoFile) },
    { name: 'letter.dng', mimeType, buffer: Buffer.from('Dear trust, here are the pictures.') },
  )
  const outcome = page.getByRole('banner').getByRole('status')
  await expect(outcome).toContainText('1 brought in, 1 with problems.')
  await page.getByRole('button', { name: '1 problem' }).click()
  await expect(page.getByText('letter.dng: This is neither a raw file nor a picture')).toBeVisible()
  await expect(page.getByRole('gridcell', { name: /HM0417/ })).toBeVisible()
  await bring({ name: 'twin.dng', mimeType, buffer: readFileSync(demoFile) })
  await expect(outcome).toContainText('1 there already')
})

test('a lost server is said in words, and what was done meanwhile is not lost', async ({ page, app }) => {
  await openBench(page, app)
  await settled(page)
  await page.route('**/api/versions/**', (route) => route.abort())
  await page.getByLabel('Exposure, number').fill('-1')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Not saved')).toBeVisible()
  await expect(page.getByText('Not saved')).toHaveAttribute('title', /does not answer/)
  // the window closes before the server is back
  await page.goto('about:blank')
  await page.unroute('**/api/versions/**')
  await openBench(page, app)
  await expect(page.getByLabel('Exposure, number')).toHaveValue('\u22121.00')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
})

test('what an earlier edition left in the browser is taken up and saved, once', async ({ page, app }) => {
  await openBench(page, app)
  const before = await app.server.version(app.frameId)
  // as it was written then: all states, in the format of the time
  const start = { format: 1, held: [], pins: [], steps: {} }
  const development = { ...start, steps: { exposure: { ev: -2 } } }
  const history = [
    { label: 'As taken', development: start },
    { label: 'Exposure', development },
  ]
  const state = { history, cursor: 1 }
  await page.evaluate(([key, text]) => localStorage.setItem(key, text), [
    `unsaved ${before.id}`,
    JSON.stringify({ revision: before.revision, state }),
  ] as const)
  await page.reload()
  await expect(developed(page)).toBeVisible()
  await expect(page.getByLabel('Exposure, number')).toHaveValue('\u22122.00')
  await page.waitForTimeout(1000)
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  const after = await app.server.version(app.frameId)
  expect(after).toMatchObject({
    revision: before.revision + 1,
    development: { steps: { exposure: { ev: -2 } } },
  })
  expect(after.entries[0].label).toBe('Exposure, from an earlier window')
  await page.getByRole('button', { name: 'Undo' }).click()
})

test('an original that is gone or cannot be read is an error in words, with a way on', async ({
  page,
  app,
}) => {
  await page.route('**/original', (route) => route.fulfill({ body: Buffer.from('not a picture') }))
  await page.goto(app.benchUrl)
  await expect(page.getByRole('alert')).toContainText('This is not a raw file in DNG format.')
  await page.unroute('**/original')
  await page.getByRole('button', { name: 'Try again' }).click()
  await expect(developed(page)).toBeVisible()
  await page.goto(`${app.server.url}/shoots/${app.shootId}/frames/00000000-0000-4000-8000-000000000000`)
  await expect(page.getByRole('alert')).toContainText('There is no such frame.')
})

test('a folder of the server is brought in with its problems named, one outside is refused', async ({
  page,
  app,
}) => {
  const { mkdirSync, copyFileSync, writeFileSync } = await import('node:fs')
  const { join } = await import('node:path')
  const card = join(app.library, 'card')
  mkdirSync(card, { recursive: true })
  copyFileSync(demoFile, join(card, 'one.dng'))
  writeFileSync(join(card, 'two.dng'), 'not a picture')
  const shoot = (await app.server.send('POST', '/api/shoots', { name: 'From a card' })).body as { id: string }
  await page.goto(`${app.server.url}/shoots/${shoot.id}`)
  const bring = async (path: string) => {
    await page.getByRole('button', { name: 'Bring in' }).last().click()
    await page.getByRole('radio', { name: 'A path on the server' }).click()
    await page.getByLabel(/Path of a folder/).fill(path)
    await page.getByRole('dialog').getByRole('button', { name: 'Bring in' }).click()
  }
  await bring('/etc')
  await expect(page.getByRole('alert')).toContainText('may not read that folder')
  await page.getByRole('button', { name: 'Cancel' }).click()
  await bring(card)
  await expect(page.getByText('1 frame brought in, 1 not readable.')).toBeVisible()
  await expect(page.getByText(/two\.dng: This is neither a raw file/)).toBeVisible()
  await expect(page.getByRole('gridcell', { name: /one\.dng/ })).toBeVisible()
})

test('a delivery is described, saved, chosen again, and makes what it says', async ({ page, app }) => {
  await openBench(page, app)
  await page.keyboard.press('Control+Enter')
  const dialog = page.getByRole('dialog', { name: 'Deliver' })
  await dialog.getByRole('button', { name: 'New delivery' }).click()
  const editor = page.getByRole('dialog', { name: 'Delivery' })
  const save = editor.getByRole('button', { name: 'Save' })
  await editor.getByLabel('Name of the delivery').fill('Small')
  await editor.getByLabel('Size').selectOption({ label: 'Long edge' })
  await editor.getByLabel('Pixels', { exact: true }).fill('20,5')
  await editor.getByLabel('Pixels', { exact: true }).blur()
  await expect(editor.getByRole('alert')).toHaveText('“20,5” is not a whole number.')
  await editor.getByLabel('Pixels', { exact: true }).fill('15')
  await editor.getByLabel('Pixels', { exact: true }).blur()
  await expect(editor.getByLabel('Pixels', { exact: true })).toHaveValue('16')
  await editor.getByLabel('Pixels', { exact: true }).fill('48')
  await editor.getByLabel('File name').fill('{nobody}')
  await expect(editor.getByText('{nobody} stands for nothing.')).toBeVisible()
  await expect(save).toBeDisabled()
  await editor.getByLabel('File name').fill('where ')
  await editor.getByLabel('Insert into the name').selectOption({ label: 'Width in pixels' })
  await expect(editor.getByLabel('File name')).toHaveValue('where {width}')
  await editor.getByLabel('Metadata').selectOption({ label: 'All but the position' })
  await save.click()
  await expect(dialog.getByText('where 48.jpg')).toBeVisible()
  // the others are left out
  await dialog.getByRole('checkbox', { name: 'JPEG, full size' }).uncheck()
  await expect(dialog.getByRole('status')).toContainText('1 file of 1 frame')
  await dialog.getByRole('button', { name: 'Deliver', exact: true }).click()
  await expect(dialog.getByRole('link', { name: 'Download' })).toBeVisible()
  const { width, height, exif } = await sharp(join(app.library, 'deliveries', 'where 48.jpg')).metadata()
  expect([width, height]).toEqual([48, 32])
  // the tag that leads to the position (Exif 3, 0x8825)
  expect(exif!.includes(Buffer.from([0x25, 0x88]))).toBe(false)

  await page.keyboard.press('Escape')
  await page.keyboard.press('PageDown')
  await expect(developed(page)).toBeVisible()
  await page.keyboard.press('Control+Enter')
  await expect(dialog.getByRole('checkbox', { name: 'Small' })).toBeChecked()
  await expect(dialog.getByRole('checkbox', { name: 'JPEG, full size' })).not.toBeChecked()
})

test('saved deliveries are copied, changed and removed on their page', async ({ page, app }) => {
  await page.goto(`${app.server.url}/deliveries`)
  const saved = page.getByRole('region', { name: 'Saved deliveries' })
  await saved.getByRole('button', { name: 'Copy Web gallery' }).click()
  const editor = page.getByRole('dialog', { name: 'Delivery' })
  await expect(editor.getByLabel('Name of the delivery')).toHaveValue('Web gallery copy')
  await editor.getByLabel('Name of the delivery').fill('Poster')
  await editor.getByLabel('Format').selectOption({ label: 'TIFF' })
  await editor.getByRole('radio', { name: 'LZW' }).click()
  await editor.getByLabel('Size').selectOption({ label: 'Centimetres on paper' })
  await editor.getByLabel('Colour space').selectOption({ label: 'Display P3' })
  await editor.getByRole('button', { name: 'Save' }).click()
  await expect(saved.getByRole('row', { name: /^Poster/ })).toContainText(
    'TIFF 16 bit, 30 × 20 cm at 96 ppi, sharpened for screen',
  )
  await page.reload()
  await saved.getByRole('button', { name: 'Edit Poster' }).click()
  await expect(editor.getByRole('radio', { name: 'LZW' })).toBeChecked()
  await expect(editor.getByLabel('Colour space')).toHaveValue('display-p3')
  await editor.getByRole('button', { name: 'Cancel' }).click()
  await saved.getByRole('button', { name: 'Remove Poster' }).click()
  await expect(saved.getByRole('row', { name: /^Poster/ })).toHaveCount(0)
  await saved.getByRole('button', { name: 'Undo' }).click()
  await expect(saved.getByRole('row', { name: /^Poster/ })).toHaveCount(1)
})

test('frames are delivered from the sheet by several deliveries, some left out', async ({ page, app }) => {
  const { shootId } = app
  await page.goto(`${app.server.url}/shoots/${shootId}`)
  await page.getByTestId('grid').getByRole('gridcell').first().click()
  await page.keyboard.press('Control+a')
  const small = (name: string, part: object) =>
    app.server.send('POST', '/api/deliveries', { name, size: { by: 'long edge', pixels: 64 }, ...part })
  await small('Pictures', { place: { in: 'library', subfolder: 'pictures' } })
  await small('Prints', { format: { kind: 'tiff' }, place: { in: 'library', subfolder: 'prints' } })
  await page
    .getByRole('complementary')
    .getByRole('button', { name: /^Deliver \d+ frames$/ })
    .click()
  const dialog = page.getByRole('dialog', { name: 'Deliver' })
  await dialog.getByRole('checkbox', { name: 'JPEG, full size' }).uncheck()
  await dialog.getByRole('checkbox', { name: 'Pictures' }).check()
  await dialog.getByRole('checkbox', { name: 'Prints' }).check()
  const { frames } = await app.server.page(shootId)
  const [first] = frames
  await dialog
    .getByRole('button', { name: `Leave out ${first.fileName}` })
    .first()
    .click()
  const count = 2 * (frames.length - 1)
  await expect(dialog.getByRole('status')).toContainText(`${count} files`)
  await dialog.getByRole('button', { name: 'Deliver', exact: true }).click()
  await expect(dialog.getByRole('status')).toHaveText(`${count} files made.`, { timeout: 60_000 })
  for (const [folder, format] of [
    ['pictures', 'jpeg'],
    ['prints', 'tiff'],
  ]) {
    const names = readdirSync(join(app.library, 'deliveries', folder))
    expect(names).toHaveLength(frames.length - 1)
    expect(names.some((name) => name.startsWith(first.fileName.replace(/\..*/, '')))).toBe(false)
    for (const name of names) {
      const {
        width,
        height,
        format: found,
      } = await sharp(join(app.library, 'deliveries', folder, name)).metadata()
      expect([found, Math.max(width, height)]).toEqual([format, 64])
    }
  }
  await dialog.getByRole('link', { name: 'Show the queue' }).click()
  const row = page.getByRole('row', { name: /Pictures, Prints/ })
  await expect(row).toContainText('done')
  await row.getByRole('button', { expanded: false }).click()
  const files = page.getByRole('list', { name: /^Files of Pictures, Prints/ }).getByRole('listitem')
  await expect(files).toHaveCount(count)
  const download = page.waitForEvent('download')
  await row.getByRole('link', { name: /^Download Pictures/ }).click()
  const zip = unzipSync(readFileSync(await (await download).path()))
  expect(Object.keys(zip)).toHaveLength(count)
})

test('a delivery can be cancelled from the queue', async ({ page, app }) => {
  for (const fileName of ['first', 'second', 'third'])
    await app.server.send(
      'POST',
      '/api/files',
      fileOf(app.frameId, { name: fileName, format: { kind: 'tiff' }, fileName }),
    )
  await page.goto(`${app.server.url}/deliveries`)
  await page
    .getByRole('row', { name: /^third:/ })
    .getByRole('button', { name: /^Cancel/ })
    .click()
  await expect(page.getByRole('row', { name: /^third:/ })).toContainText('cancelled')
  await expect(page.getByRole('row', { name: /^first:/ })).toContainText('done')
  await expect(page.getByRole('row', { name: /^second:/ })).toContainText('done')
})

test('files that the library does not know are said, brought in, or set aside', async ({ page, app }) => {
  const bytes = Buffer.concat([demoBytes(), Buffer.from('unknown')])
  const stray = join(app.library, 'originals', 'found.dng')
  writeFileSync(stray, bytes)
  writeFileSync(join(app.library, 'originals', 'letter.txt'), 'Dear trust')
  await page.goto(app.server.url)
  await page.getByText('Found 2 originals that the library does not know.').waitFor()
  await page.getByRole('link', { name: 'Bring in or set aside' }).click()
  const section = page.getByRole('region', { name: 'Library' })
  await expect(section).toContainText('2 files in the library’s folder are not known to the library')
  await section.getByRole('button', { name: 'Bring in' }).click()
  await page.getByRole('link', { name: /Open the shoot Found/ }).click()
  await expect(page.getByTestId('grid').getByRole('gridcell')).toHaveCount(1)
  await page.getByRole('link', { name: 'Settings' }).click()
  await expect(section).toContainText('1 file in the library’s folder is not known')
  await section.getByRole('button', { name: 'Set aside' }).click()
  await expect(section).not.toContainText('not known')
  expect(readFileSync(join(app.library, 'set-aside', 'letter.txt'), 'utf8')).toBe('Dear trust')
  expect(existsSync(stray)).toBe(false)
  await section.getByRole('button', { name: 'Check the originals' }).click()
  await expect(section.getByRole('status')).toContainText(/originals checked, all as brought in\./)
})

test('sidecars are kept on demand or always, and a folder goes back into the shoots that they name', async ({
  page,
  app,
}) => {
  const card = join(app.library, 'set-aside', 'walk')
  mkdirSync(card, { recursive: true })
  writeFileSync(join(card, 'walk.dng'), Buffer.concat([demoBytes(), Buffer.from('walk')]))
  const { id } = await app.server.newShoot({ name: 'Walk along the dyke' })
  await app.server.importFolder(id, card, { keep: 'in place' })
  const [frame] = (await app.server.page(id)).frames
  await app.server.expose(await app.server.version(frame.id), 0.7)
  await page.goto(`${app.server.url}/shoots/${id}`)
  await page.getByTestId('grid').getByRole('gridcell').first().click()
  await page.getByRole('button', { name: 'Write sidecars of 1 frame' }).click()
  await expect(page.getByText('Sidecars: 1 written beside their originals.')).toBeVisible()
  await app.server.ask(`/api/shoots/${id}`, { method: 'DELETE' })

  await page.goto(`${app.server.url}/settings`)
  const section = page.getByRole('region', { name: 'Sidecars' })
  await section.getByLabel('Path of a folder').fill('/nowhere')
  await section.getByRole('button', { name: 'Rebuild' }).click()
  await expect(section.getByRole('alert')).toHaveText('There is no such folder on the server.')
  await section.getByLabel('Path of a folder').fill(card)
  await section.getByRole('button', { name: 'Rebuild' }).click()
  await expect(section.getByText('1 frame brought in.')).toBeVisible()
  await section.getByRole('link', { name: 'Open the shoots' }).click()
  await page
    .getByRole('link', { name: /Walk along the dyke/ })
    .first()
    .click()
  await expect(page.getByTestId('grid').getByRole('gridcell', { name: /walk/ })).toBeVisible()
  const [again] = (await app.server.page(id)).frames
  expect(again.id).toBe(frame.id)
  expect((await app.server.version(again.id)).development.steps.exposure.ev).toBe(0.7)

  await page.goto(`${app.server.url}/settings`)
  const always = section.getByRole('switch', { name: 'Write them with every change' })
  await expect(section).toContainText('They are written when you ask for it')
  await always.click()
  await expect(section).toContainText(/to be written|up to date/)
  await page.reload()
  await expect(always).toBeChecked()
  await always.click()
  await expect(always).not.toBeChecked()
})

test('an original that was left where it is can be copied into the library', async ({ page, app }) => {
  const { id } = await app.server.newShoot({ name: 'From a card' })
  const bytes = Buffer.concat([demoBytes(), Buffer.from('in place')])
  const card = join(app.library, 'set-aside', 'card')
  mkdirSync(card, { recursive: true })
  writeFileSync(join(card, 'card.dng'), bytes)
  await app.server.importFolder(id, card, { keep: 'in place' })
  await page.goto(`${app.server.url}/shoots/${id}`)
  await page.getByTestId('grid').getByRole('gridcell').first().click()
  const about = page.getByRole('complementary', { name: 'About the chosen frames' })
  await expect(about).toContainText(join(card, 'card.dng'))
  await about.getByRole('button', { name: 'Copy 1 original into the library' }).click()
  await expect(about.getByRole('button', { name: /into the library/ })).toBeHidden()
  const [frame] = (await app.server.page(id)).frames
  expect(frame.inPlace).toBeUndefined()
})
