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
const set = async (label, value) => {
  await page.getByLabel(`${label}, number`).fill(value)
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
await page.getByRole('button', { name: 'Narrow down' }).click()
await page.getByRole('region', { name: 'Stars' }).getByRole('button', { name: /^3/ }).click()
await page.getByRole('region', { name: 'Keywords' }).getByRole('button', { name: /^mill/ }).click()
await shot('contact-sheet-filters')
await page.keyboard.press('Escape')
await page.getByRole('button', { name: 'Take all off' }).click()
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
await page.getByRole('button', { name: 'Clipped', exact: true }).click()
await set('Exposure', '2')
await shot('bench-clipped')
await page.getByRole('button', { name: 'Clipped', exact: true }).click()
await set('Exposure', '0.8')
await page.getByRole('link', { name: /HM0466/ }).click()
await developed()
await page.getByRole('button', { name: 'Camera', exact: true }).click()
await shot('bench-camera')
await page.getByRole('button', { name: 'Camera', exact: true }).click()
await set('Exposure', '-2')
await shot('bench-highlights')
await page.getByRole('link', { name: /HM0417/ }).click()
await developed()
await page.getByRole('button', { name: /^Balance/ }).click()
await set('Colour of the light', '7200')
await page.getByRole('application').focus()
await page.keyboard.press('1')
await shot('bench-balance-100')
await page.keyboard.press('0')
await page.getByRole('button', { name: 'Deliver', exact: true }).click()
await shot('deliver')
await page.getByRole('button', { name: 'Make the file' }).click()
await page.getByText(/^Saved as/).waitFor()
await page.goto(`${url}/deliveries`)
await page.getByRole('row').nth(1).waitFor()
await shot('deliveries')
await browser.close()
demo.kill()
rmSync(library, { recursive: true, force: true })
process.exit(0)
