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
await page.getByRole('link', { name: /HM0417/ }).waitFor()
await shot('contact-sheet')
await page.getByRole('link', { name: /HM0417/ }).click()
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
