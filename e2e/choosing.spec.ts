import { developed, expect, test } from './app'
import { chosen, frame, NAMES, openSheet, shown, stored } from './sheet'

test('a rectangle with Control lets go of what it no longer touches', async ({ page, app }) => {
  await openSheet(page, app, 'Shrinking')
  await frame(page, 'HM0551').click()
  const [first, second] = [
    (await frame(page, 'HM0403').boundingBox())!,
    (await frame(page, 'HM0488').boundingBox())!,
  ]
  await page.keyboard.down('Control')
  await page.mouse.move(first.x + 30, first.y + 30)
  await page.mouse.down()
  await page.mouse.move(second.x + 40, second.y + 60, { steps: 4 })
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0488', 'HM0551'])
  await page.mouse.move(first.x + 60, first.y + 60, { steps: 4 })
  await page.mouse.up()
  await page.keyboard.up('Control')
  await expect.poll(() => chosen(page)).toEqual(['HM0403', 'HM0551'])
})

test('what is taken back comes into the hand, and can be done again', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Back and forth')
  await frame(page, 'HM0502').click()
  await page.keyboard.press('d')
  await expect.poll(() => shown(page)).not.toContain('HM0502')
  await frame(page, 'HM0403').click()
  await page.keyboard.press('Control+z')
  await expect.poll(() => shown(page)).toEqual(NAMES)
  await expect.poll(() => chosen(page)).toEqual(['HM0502'])
  await page.keyboard.press('Control+Shift+z')
  await expect.poll(() => shown(page)).not.toContain('HM0502')
  await page.keyboard.press('Control+z')
  await page.keyboard.press('Control+y')
  const marks = async () =>
    (await stored(app, shootId)).filter((f) => f.mark === 'drop').map((f) => f.fileName)
  await expect.poll(marks).toEqual(['HM0502.dng'])
  // what is done instead leaves nothing to be done again
  await page.keyboard.press('Control+z')
  await expect.poll(() => chosen(page)).toEqual(['HM0502'])
  await page.keyboard.press('2')
  await page.keyboard.press('Control+y')
  await expect(frame(page, 'HM0502')).toHaveAccessibleName(/2 of 5 stars/)
  await expect.poll(marks).toEqual([])
})

test('the frame with the outline takes stars and marks when none is chosen', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Outlined')
  await page.getByRole('button', { name: 'Auto-advance' }).click()
  await frame(page, 'HM0488').click()
  await page.keyboard.press('Escape')
  await expect.poll(() => chosen(page)).toEqual([])
  await page.keyboard.press('4')
  await page.keyboard.press('k')
  const rated = async () =>
    (await stored(app, shootId)).filter((f) => f.rating === 4 && f.mark === 'keep').map((f) => f.fileName)
  await expect.poll(rated).toEqual(['HM0488.dng'])
})

test('words are written once they are meant, and many are not emptied by a touch', async ({ page, app }) => {
  const shootId = await openSheet(page, app, 'Meant', ['HM0403', 'HM0488'])
  const about = page.getByRole('complementary', { name: 'About the chosen frames' })
  const titles = async () => (await stored(app, shootId)).map((f) => f.text.title)
  await frame(page, 'HM0403').click()
  await about.getByLabel('Title').fill('Mist')
  await about.getByLabel('Title').press('Enter')
  await frame(page, 'HM0488').click()
  await about.getByLabel('Title').fill('Kiln')
  await about.getByLabel('Title').press('Escape')
  await expect(about.getByLabel('Title')).toHaveValue('')
  await about.getByLabel('Title').fill('Lock')
  await about.getByLabel('Title').press('Enter')
  await expect.poll(titles).toEqual(['Mist', 'Lock'])
  await page.getByTestId('grid').focus()
  await page.keyboard.press('Control+a')
  await about.getByLabel('Title').fill('x')
  await about.getByLabel('Title').fill('')
  await about.getByLabel('Creator').click()
  await about.getByLabel('Creator').fill('Marit Oudendijk')
  await about.getByLabel('Creator').press('Enter')
  await expect
    .poll(async () => (await stored(app, shootId)).map((f) => f.text.creator))
    .toEqual(['Marit Oudendijk', 'Marit Oudendijk'])
  expect(await titles()).toEqual(['Mist', 'Lock'])
})

test('a folded stack takes stars, words and marks for all of its frames, and says for how many', async ({
  page,
  app,
}) => {
  const shootId = await openSheet(page, app, 'Stacked')
  const burst = ['HM0502', 'HM0503', 'HM0504', 'HM0505']
  await page.keyboard.press('f')
  await expect.poll(() => shown(page)).toHaveLength(4)
  await page.locator('[role=gridcell]', { has: page.getByRole('button', { name: /^Unfold/ }) }).click()
  const about = page.getByRole('complementary', { name: 'About the chosen frames' })
  await expect(about.getByRole('heading', { name: '4 frames' })).toBeVisible()
  await about.getByLabel('Title').fill('Sails turning')
  await about.getByLabel('Title').press('Enter')
  await page.getByTestId('grid').focus()
  await page.keyboard.press('3')
  await expect(page.getByRole('contentinfo').getByRole('status')).toHaveText('3 stars for 4 frames')
  const written = async () =>
    (await stored(app, shootId))
      .filter((f) => f.rating === 3 && f.text.title === 'Sails turning')
      .map((f) => f.fileName.replace('.dng', ''))
  await expect.poll(written).toEqual(burst)
  // one of them, once it stands by itself, is meant alone
  await page
    .locator('[role=gridcell]')
    .getByRole('button', { name: /^Unfold/ })
    .click()
  await frame(page, 'HM0503').click()
  await page.keyboard.press('5')
  await expect
    .poll(async () => (await stored(app, shootId)).filter((f) => f.rating === 5).map((f) => f.fileName))
    .toEqual(['HM0503.dng'])
})

test('the way back leads from the look and from the bench to the frame on the sheet', async ({
  page,
  app,
}) => {
  await openSheet(page, app, 'There and back')
  const sheet = page.url()
  await frame(page, 'HM0488').click()
  await page.keyboard.press('l')
  await expect(page).toHaveURL(/look=/)
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('heading', { name: 'HM0502.dng' })).toBeAttached()
  await page.goBack()
  await expect(page).toHaveURL(sheet)
  await expect.poll(() => chosen(page)).toEqual(['HM0502'])
  await page.keyboard.press('l')
  await expect(page.getByRole('main', { name: 'Look' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page).toHaveURL(sheet)
  await page.keyboard.press('Enter')
  await developed(page).waitFor()
  await page.goBack()
  await expect(page).toHaveURL(sheet)
  await expect.poll(() => chosen(page)).toEqual(['HM0502'])
})

test('keys and commands of the look are listed there', async ({ page, app }) => {
  await openSheet(page, app, 'Listed', ['HM0403', 'HM0488'])
  await frame(page, 'HM0403').click()
  await page.keyboard.press('l')
  await expect(page.getByRole('main', { name: 'Look' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('100 % under the pointer')
  await page.keyboard.press('Escape')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('3 stars')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/look=/)
  await page.keyboard.press('Escape')
  await expect(frame(page, 'HM0403')).toHaveAccessibleName(/3 of 5 stars/)
})
