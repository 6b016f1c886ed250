import type { Locator, Page } from '@playwright/test'
import { expect, fresh, settled, test } from './app'

const drawer = (page: Page) => page.getByRole('complementary', { name: 'Drawer' })
const undo = (page: Page) => page.keyboard.press('Control+z')

/** Opens all that is folded in the drawer. */
async function unfold(page: Page): Promise<void> {
  const closed = drawer(page).locator('.section-head button[aria-expanded=false]')
  while (await closed.count()) await closed.first().click()
  for (const details of await drawer(page).locator('details:not([open]) > summary').all())
    await details.click()
}

/** Takes hold of a slider where it stands and pulls it by some pixels, in several moves. */
async function pull(page: Page, slider: Locator, by: number): Promise<void> {
  const { x, y, width, height } = (await slider.boundingBox())!
  const [value, most] = await slider.evaluate((e: HTMLInputElement) => [Number(e.value), Number(e.max)])
  const at = x + 5 + ((width - 10) * value) / most
  await page.mouse.move(at, y + height / 2)
  await page.mouse.down()
  for (const share of [0.3, 0.6, 1]) await page.mouse.move(at + by * share, y + height / 2)
  await page.mouse.up()
}

const atEnd = (slider: Locator) =>
  slider.evaluate(({ value, min, max }: HTMLInputElement) => value === min || value === max)

/** Does to a number all that a hand does; each time one step back leads to where it was. */
async function work(page: Page, row: Locator): Promise<void> {
  const [slider, number] = [row.getByRole('slider'), row.getByRole('textbox')]
  await row.scrollIntoViewIfNeeded()
  const before = await number.inputValue()
  const low = await slider.evaluate((e: HTMLInputElement) => Number(e.value) < Number(e.max) / 2)
  const ways: Record<string, () => Promise<unknown>> = {
    'its far end': () => slider.press(low ? 'End' : 'Home'),
    // where it is not there already
    ...(!(await atEnd(slider)) && { 'its near end': () => slider.press(low ? 'Home' : 'End') }),
    'a key': () => slider.press(low ? 'ArrowUp' : 'ArrowDown'),
    'the wheel': async () => {
      await slider.focus()
      await slider.hover()
      await page.mouse.wheel(0, low ? -100 : 100)
    },
    'a pull': () => pull(page, slider, low ? 30 : -30),
    'a number': async () => {
      await slider.press(low ? 'End' : 'Home')
      const end = await number.inputValue()
      await undo(page)
      await expect(number).toHaveValue(before)
      await number.fill(end)
      await number.press('Enter')
    },
  }
  for (const [way, go] of Object.entries(ways)) {
    await go()
    await expect(number, way).not.toHaveValue(before)
    await undo(page)
    await expect(number, `back from ${way}`).toHaveValue(before)
  }
  // a double click on its name takes it to its start, where it has one, as a step of its own
  await ways['its far end']()
  const end = await number.inputValue()
  if (await row.locator('label').getAttribute('title')) {
    await row.locator('label').dblclick()
    await expect(number).not.toHaveValue(end)
    await undo(page)
    await expect(number, 'back from a double click').toHaveValue(end)
  }
  await undo(page)
  await expect(number).toHaveValue(before)
}

/**
 * Puts each choice and switch of the drawer to all it can be, and back: by one step where it is a setting of the
 * picture, by itself where it is only about what is shown.
 */
async function choose(page: Page): Promise<{ settings: number; views: number }> {
  const count = { settings: 0, views: 0 }
  const nothingDone = page.getByRole('button', { name: 'Undo', exact: true })
  const back = async (there: () => Promise<unknown>, again: () => Promise<void>) => {
    if (await nothingDone.isDisabled()) {
      count.views++
      await there()
      return again()
    }
    count.settings++
    await undo(page)
    await again()
    await expect(nothingDone, 'one step').toBeDisabled()
  }
  await expect(nothingDone).toBeDisabled()
  for (const group of await drawer(page).getByRole('radiogroup').all()) {
    const names = await group.getByRole('radio').allInnerTexts()
    const radio = (name: string) => group.getByRole('radio', { name, exact: true })
    const [start] = await group.getByRole('radio', { checked: true }).allInnerTexts()
    // greys are chosen on the picture
    for (const name of names.filter((n) => start && n !== start && n !== 'Greys')) {
      if (await radio(name).isDisabled()) continue
      await radio(name).click()
      await expect(radio(name)).toBeChecked()
      await back(
        () => radio(start).click(),
        () => expect(radio(start), `${start} after ${name}`).toBeChecked(),
      )
    }
  }
  for (const list of await drawer(page).getByRole('combobox').all()) {
    const start = await list.inputValue()
    const values = await list
      .locator('option')
      .evaluateAll((all) => all.map((o) => (o as HTMLOptionElement).value))
    for (const value of values.filter((v) => v !== start)) {
      await list.selectOption(value)
      await back(
        () => list.selectOption(start),
        () => expect(list, `${start} after ${value}`).toHaveValue(start),
      )
    }
  }
  const library = 'Apply to every unedited frame'
  for (const box of await drawer(page).locator('[role=switch], input[type=checkbox]').all()) {
    const about = await box.locator('xpath=..').innerText()
    if (about.includes(library) || (await box.isDisabled())) continue
    const start = await box.isChecked()
    await box.click()
    await expect(box).toBeChecked({ checked: !start })
    await back(
      () => box.click(),
      () => expect(box).toBeChecked({ checked: start }),
    )
  }
  return count
}

/** Has numbers of a section to be set by hand. */
async function manual(page: Page, section: string): Promise<void> {
  const choice = page.getByRole('region', { name: section }).getByRole('radio', { name: 'Manual' })
  await choice.click()
  await expect(choice).toBeChecked()
}

const STAGES: readonly { stage: string; settings: number; prepare?(page: Page): Promise<void> }[] = [
  {
    stage: 'square-up',
    settings: 8,
    prepare: async (page) => {
      for (const section of ['Lens', 'Lateral fringes']) await manual(page, section)
    },
  },
  { stage: 'expose', settings: 0 },
  { stage: 'balance', settings: 4 },
  {
    stage: 'refine',
    settings: 8,
    prepare: (page) => manual(page, 'Noise'),
  },
  {
    stage: 'mend',
    settings: 0,
    prepare: async (page) => {
      await page.getByRole('button', { name: 'Mend spots' }).click()
      const { x, y, width, height } = (await page.getByRole('application').boundingBox())!
      await page.mouse.click(x + width * 0.4, y + height * 0.3)
      await expect(page.getByRole('list', { name: 'Patches' }).getByRole('listitem')).toHaveCount(1)
      await page.keyboard.press('Escape')
    },
  },
  {
    stage: 'shape',
    settings: 9,
    prepare: async (page) => {
      await page.getByRole('button', { name: 'New, full' }).click()
      await page.getByLabel('Add a range of lightness').selectOption({ label: 'Darks, wide' })
      for (const setting of ['exposure', 'light', 'tones', 'sharpen'])
        await page.getByLabel('Add a setting to this area').selectOption(setting)
    },
  },
  { stage: 'finish', settings: 0 },
]

for (const { stage, settings, prepare } of STAGES)
  test(`each control of ${stage} goes there and back by every means, one step for each`, async ({
    page,
    app,
  }) => {
    test.setTimeout(240_000)
    await page.setViewportSize({ width: 1100, height: 700 })
    await fresh(page, app, `?stage=${stage}`)
    await unfold(page)
    const untouched = await settled(page)
    const count = await choose(page)
    expect(count.settings).toBeGreaterThanOrEqual(settings)
    await expect.poll(() => settled(page)).toEqual(untouched)
    await prepare?.(page)
    await unfold(page)
    await expect(page.getByText('Saved', { exact: true })).toBeVisible()
    const start = await settled(page)
    // how strongly the automatics set is no setting of the picture
    const rows = await drawer(page).locator('section:not([aria-label=Automatic]) .number-row').all()
    expect(rows.length).toBeGreaterThanOrEqual(4)
    for (const row of rows) await work(page, row)
    if (stage !== 'refine') return expect.poll(() => settled(page)).toEqual(start)
    // a small view is made of the draft of noise reduction, or of the best once a view at 100 % has that
    const off = async () => {
      const { mean } = await settled(page)
      return Math.max(...mean.map((v, c) => Math.abs(v - start.mean[c])))
    }
    await expect.poll(off).toBeLessThan(0.15)
  })
