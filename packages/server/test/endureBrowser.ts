import { chromium, type Page } from '@playwright/test'
import { execFileSync } from 'node:child_process'
import { createServer } from 'node:net'
import { demoBytes, startServer, temporary, randomFrom } from './server'

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/** A port that is free: the page's address must stay the same, or the browser keeps nothing for it. */
const freePort = () =>
  new Promise<number>((found) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number }
      probe.close(() => found(port))
    })
  })

export interface BrowserOutcome {
  kills: number
  changes: number
  /** Changes that were not there again, and how long before the kill they were made, in milliseconds. */
  lost: number[]
  /** How many came back from the browser, since the server did not have them. */
  brought: number
}

/** Kills the browser again and again in the middle of changes at the bench, the server away half of the time. */
export async function endureBrowser(
  kills: number,
  seed: number,
  args: readonly string[],
  report: (line: string) => void,
): Promise<BrowserOutcome> {
  const random = randomFrom(seed)
  const [library, profile] = [temporary(), temporary()]
  const port = await freePort()
  const start = () => startServer(library.path, { env: { DUNKELKAMMER_PORT: String(port) } })
  let server = await start()
  const { id } = await server.newShoot()
  const frameId = await server.frame(id, 'HM0417.dng', demoBytes())
  const address = `${server.url}/shoots/${id}/frames/${frameId}`
  const out: BrowserOutcome = { kills: 0, changes: 0, lost: [], brought: 0 }
  const open = async () => {
    const context = await chromium.launchPersistentContext(profile.path, {
      executablePath: '/usr/bin/chromium',
      args: [...args],
      viewport: { width: 1280, height: 800 },
    })
    const page = context.pages()[0] ?? (await context.newPage())
    await page.goto(address)
    await page.getByLabel('Exposure, number').waitFor()
    return { context, page }
  }
  const shown = (page: Page) => page.getByLabel('Exposure, number').inputValue()
  const stored = async () => (await server.version(frameId)).development.steps.exposure.ev
  const written = (ev: number) => `${ev > 0 ? '+' : ev < 0 ? '\u2212' : ''}${Math.abs(ev).toFixed(2)}`
  let last = 0
  while (out.kills < kills) {
    const { page } = await open()
    const away = random() < 0.5
    if (away) await page.route('**/api/versions/**', (route) => route.abort())
    const field = page.getByLabel('Exposure, number')
    for (let i = 0, n = 1 + Math.floor(random() * 4); i < n; i++) {
      last = Math.round((last + 0.05 + random()) * 20) / 20
      if (last > 4.5) last = -4.5
      await field.fill(String(last))
      await field.press('Enter')
      out.changes++
      if (i < n - 1) await pause(random() * 150)
    }
    const since = performance.now()
    await pause(random() ** 2 * 400)
    const waited = performance.now() - since
    execFileSync('pkill', ['-9', '-f', profile.path])
    out.kills++
    if (random() < 0.2) {
      await server.kill()
      server = await start()
    }
    if ((await stored()) !== last) out.brought++
    await pause(200)
    const again = await open()
    const there = await again.page
      .waitForFunction(
        (wanted) =>
          document.querySelector<HTMLInputElement>('[aria-label="Exposure, number"]')?.value === wanted,
        written(last),
        { timeout: 5000 },
      )
      .then(
        () => true,
        () => false,
      )
    if (!there) {
      out.lost.push(Math.round(waited))
      report(`lost: ${written(last)}, made ${waited.toFixed(0)} ms before; shown ${await shown(again.page)}`)
      last = await stored()
    }
    await again.context.close()
    if (out.kills % 10 === 0)
      report(`${out.kills} kills: ${out.changes} changes, ${out.brought} brought back`)
  }
  await server.stop()
  library.remove()
  profile.remove()
  return out
}
