/** `npm run screenshots`: pictures of the main views in docs/screenshots, made from the demo data. */
import { chromium } from '@playwright/test'
import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { installPackages, node, root } from './setup.mjs'

installPackages()
node('scripts/build.mjs')
const out = join(root, 'docs/screenshots')
mkdirSync(out, { recursive: true })
const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-'))
const demo = spawn(process.execPath, [join(root, 'scripts/demo.mjs')], {
  env: { ...process.env, DUNKELKAMMER_LIBRARY: library, DUNKELKAMMER_PORT: '0' },
  stdio: ['ignore', 'pipe', 'inherit'],
})
// also where a step fails
process.on('exit', () => demo.kill())
const url = await new Promise((found) => {
  let text = ''
  demo.stdout.on('data', (chunk) => {
    text += chunk
    const match = text.match(/Open (http:\/\/\S+)/)
    if (match) found(match[1])
  })
})
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
  args: JSON.parse(readFileSync(join(root, 'scripts/chromium.json'), 'utf8')),
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const shot = async (name) => {
  await page.waitForTimeout(700)
  await page.screenshot({ path: join(out, `${name}.png`) })
}
const set = async (label, value, section) => {
  const where = section ? page.getByRole('region', { name: section, exact: true }) : page
  await where.getByLabel(`${label}, number`, { exact: true }).fill(value)
  await page.keyboard.press('Enter')
}
const developed = () => page.getByRole('img', { name: 'The developed picture' }).waitFor()

await page.goto(url)
await page.getByRole('link', { name: /Hollenbeek/ }).waitFor()
await shot('shoots')
await page.getByRole('link', { name: /Hollenbeek/ }).click()
const cell = (name) => page.getByRole('gridcell', { name: new RegExp(name) })
await cell('HM0417').click()
// thumbnails of the developments come by themselves
await page.waitForFunction(
  () => [...document.querySelectorAll('[role=gridcell] img')].every((i) => !i.src.endsWith('of=')),
  undefined,
  { timeout: 120000 },
)
await shot('contact-sheet')
await page.getByRole('button', { name: 'Filter' }).click()
await page.getByRole('region', { name: 'Stars' }).getByRole('button', { name: /^3/ }).click()
await page.getByRole('region', { name: 'Keywords' }).getByRole('button', { name: /^mill/ }).click()
await shot('contact-sheet-filters')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Remove all' }).click()
await page.keyboard.press('Control+B')
await page.getByRole('dialog').getByLabel('Creator').fill('Marit Oudendijk')
await page.getByRole('dialog').getByLabel('Copyright').fill('Hollenbeek Mills trust')
await shot('bring-in')
await page.keyboard.press('Escape')
await cell('HM0502').click()
await cell('HM0504').click({ modifiers: ['Control'] })
await page.keyboard.press('C')
await page.waitForFunction(() => document.querySelectorAll('[data-exact=true]').length === 2)
const pane = await page.getByTestId('compare-pane').first().boundingBox()
await page.mouse.click(pane.x + pane.width * 0.55, pane.y + pane.height * 0.5)
await page.waitForTimeout(800)
await shot('side-by-side')
await page.getByRole('link', { name: 'Back to the contact sheet' }).click()
await cell('HM0551').click()
await page.keyboard.press('L')
await page.locator('[data-exact=true]').waitFor()
await shot('look')
await page.keyboard.press('Escape')
await cell('HM0417').dblclick()
await developed()
await set('Exposure', '0.8')
await set('Grade', '1.6')
await shot('bench')
await set('Shadows', '0.6')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Undo' }).click()
await set('White point', '2.9')
await page.getByRole('button', { name: 'History', exact: true }).click()
await page.getByRole('listitem').filter({ hasText: 'As taken' }).hover()
await page.getByRole('img', { name: 'The picture at that entry' }).waitFor()
await shot('history')
await page.getByRole('button', { name: 'Close the history' }).click()
await page.getByRole('button', { name: 'Undo' }).click()
const shoots = await (await fetch(`${url}/api/shoots`)).json()
const { frames } = await (await fetch(`${url}/api/shoots/${shoots[0].id}`)).json()
/** Opens a frame that the strip may not have in sight. */
const open = async (name, stage) => {
  const { id } = frames.find((f) => f.fileName.startsWith(name))
  await page.goto(`${url}/shoots/${shoots[0].id}/frames/${id}?stage=${stage}`)
  await developed()
}
await open('HM0488', 'square-up')
await page.getByRole('radio', { name: 'Automatic' }).click()
await page.getByRole('button', { name: 'Correct automatically' }).click()
await page.getByRole('button', { name: /^Square up lens, perspective/ }).waitFor()
await page.keyboard.press('m')
await page.getByTestId('crop').waitFor()
await page.getByRole('region', { name: 'Perspective', exact: true }).evaluate((e) => e.scrollIntoView())
await page.waitForTimeout(2500)
await shot('bench-square')
await page.keyboard.press('Enter')
await page.getByRole('button', { name: /^Expose/ }).click()
await open('HM0491', 'mend')
await page.keyboard.press('Alt+z')
const yard = await page.getByRole('img', { name: 'The developed picture' }).boundingBox()
for (const [x, y] of [
  [0.003, 0.011],
  [0.997, 0.138],
  [0.007, 0.228],
  [0.84, 0.004],
]) {
  await page.mouse.click(yard.x + yard.width * x, yard.y + yard.height * y)
  await page.waitForTimeout(500)
  await page.getByRole('progressbar', { name: 'Filling' }).waitFor({ state: 'detached' })
}
await page.keyboard.press('Escape')
await shot('bench-mend')
await page.getByRole('radio', { name: 'Fit', exact: true }).click()
await open('HM0551', 'refine')
await page.getByRole('button', { name: 'Show at 100 %', exact: true }).click()
await page.getByRole('radio', { name: 'Automatic', exact: true }).click()
await page.getByRole('button', { name: 'Divide', exact: true }).click()
await page.waitForTimeout(3000)
await shot('bench-refine')
await page.getByRole('button', { name: 'Divide', exact: true }).click()
await page.getByRole('radio', { name: 'Fit', exact: true }).click()
await open('HM0472', 'refine')
await page.keyboard.press('v')
await page.getByRole('radio', { name: 'Enlargement', exact: true }).click()
await page.getByRole('application', { name: 'Variant 1: arrow keys move it' }).focus()
for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight')
await page.waitForTimeout(4000)
await shot('variants')
await page.keyboard.press('Escape')
await open('HM0417', 'balance')
await set('Colour temperature', '7200')
// tone and colour
await page.getByRole('button', { name: /^Expose/ }).click()
const picture = async () => page.locator('canvas[aria-label="The developed picture"]').boundingBox()
const over = async (x, y) => {
  const box = await picture()
  await page.mouse.move(box.x + box.width * x, box.y + box.height * y)
  return [box.x + box.width * x, box.y + box.height * y]
}
const scrollTo = (name) =>
  page.getByRole('region', { name, exact: true }).evaluate((e) => e.scrollIntoView({ block: 'start' }))
await set('Exposure', '0.3')
await set('Deep shadows', '0.6')
await set('Shadows', '1.1')
await set('Bright highlights', '-0.8')
await page.keyboard.press('r')
await scrollTo('Tones')
await over(0.2, 0.7)
await shot('bench-tones')
await page.getByRole('button', { name: 'Curve', exact: true }).click()
await page.getByRole('button', { name: 'Adjust on the picture' }).click()
const [x, y] = await over(0.62, 0.32)
await page.mouse.down()
await page.mouse.move(x, y + 10)
await page.waitForTimeout(600)
await page.mouse.move(x, y + 25)
await page.mouse.up()
await page.keyboard.press('Escape')
await scrollTo('Curve')
await over(0.62, 0.32)
await shot('bench-curve')
await page.keyboard.press('r')
await page.getByRole('button', { name: /^Balance/ }).click()
await page.getByRole('button', { name: 'Adjust on the picture' }).click()
await page.getByRole('radio', { name: 'Lightness', exact: true }).click()
const [sx, sy] = await over(0.96, 0.08)
await page.mouse.down()
await page.mouse.move(sx, sy + 20)
await page.waitForTimeout(600)
await page.mouse.move(sx, sy + 90)
await page.mouse.up()
await scrollTo('Hue nodes')
await page.keyboard.press('Escape')
await page.keyboard.press('l')
await page.waitForTimeout(3500)
await page.getByRole('button', { name: /^Oil lamp/ }).hover()
await shot('looks')
await page.keyboard.press('Escape')
await page.getByRole('switch', { name: 'Monochrome picture' }).click()
await page.getByLabel('Lens filter').selectOption('orange')
await page.getByRole('button', { name: 'Toning', exact: true }).click()
await page.getByLabel('Toner').selectOption('selenium')
await page.getByRole('button', { name: /^Finish/ }).click()
await set('Amount', '-1', 'Edge burn')
await set('Amount', '15', 'Film grain')
await page.getByRole('button', { name: /^Balance/ }).click()
await scrollTo('Monochrome')
await shot('bench-monochrome')
await page.getByRole('button', { name: 'Deliver', exact: true }).click()
await shot('deliver')
await page.getByRole('dialog').getByRole('button', { name: 'Deliver', exact: true }).click()
await page.getByText(/^Saved as/).waitFor()
await page.goto(`${url}/lenses`)
await page
  .getByRole('button', { name: /^Veldrom 20 mm/ })
  .first()
  .click()
await page.getByRole('img', { name: /^Fall-off/ }).waitFor()
await shot('lenses')
await page.goto(`${url}/settings`)
await page.getByRole('button', { name: 'Check the originals' }).click()
await page.getByText(/originals checked/).waitFor()
await page.getByRole('button', { name: 'Add a rule' }).click()
await page.getByLabel('ISO from of rule 1').fill('3200')
await page.getByLabel('Look of rule 1').selectOption({ label: 'Plain silver' })
await page.getByRole('button', { name: 'Add a rule' }).click()
await page.getByLabel('Camera of rule 2').fill('Pocket')
await page.getByLabel('Look of rule 2').selectOption({ label: 'Early light' })
await shot('settings')
await browser.close()
demo.kill()
rmSync(library, { recursive: true, force: true })
process.exit(0)
