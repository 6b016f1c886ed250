import { chromium, type Page } from '@playwright/test'
import { spawn } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { projectRoot } from '../src/paths'
import { clock, copyOf, summarise, type Row } from './measure'

/** Largest peak of resident memory among the browser's renderers, MB. */
function rendererPeak(): number {
  let peak = 0
  for (const pid of readdirSync('/proc').filter((n) => /^\d+$/.test(n)))
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('--type=renderer')) continue
      const [, kb] = readFileSync(`/proc/${pid}/status`, 'utf8').match(/VmHWM:\s+(\d+)/) ?? []
      peak = Math.max(peak, Number(kb) / 1024)
    } catch {
      // a process that has just ended
    }
  return peak
}

/** Time from an input to the canvas that shows its effect. */
async function reaction(page: Page, key: string): Promise<number> {
  await page.evaluate((k) => {
    const w = window as never as { since: number; reacted?: number }
    w.reacted = undefined
    w.since = performance.now()
    document.activeElement!.dispatchEvent(
      new KeyboardEvent('keydown', { key: k, bubbles: true, cancelable: true }),
    )
  }, key)
  return (
    await page.waitForFunction(() => (window as never as { reacted?: number }).reacted, undefined, {
      polling: 5,
    })
  ).jsonValue() as Promise<number>
}

/** Rows measured in the real application in Chromium. */
export async function browserRows(file: string): Promise<{ rows: Row[]; peak: number }> {
  const root = projectRoot()
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-bench-'))
  const server = spawn(process.execPath, [join(root, 'dist/node/server.js')], {
    env: { ...process.env, DUNKELKAMMER_LIBRARY: library, DUNKELKAMMER_PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise<string>((found) => {
    server.stdout.on('data', (chunk: Buffer) => {
      const match = chunk.toString().match(/http:\/\/\S+/)
      if (match) found(match[0])
    })
  })
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
    args: JSON.parse(readFileSync(join(root, 'scripts/chromium.json'), 'utf8')) as string[],
  })
  try {
    const json = { 'Content-Type': 'application/json' }
    const shoot = await (
      await fetch(`${url}/api/shoots`, { method: 'POST', headers: json, body: '{"name":"bench"}' })
    ).json()
    await fetch(`${url}/api/shoots/${shoot.id}/frames?name=bench.dng`, {
      method: 'POST',
      body: readFileSync(file),
    })
    const first: number[] = []
    const exact: number[] = []
    let page!: Page
    for (let i = 0; i < 5; i++) {
      await page?.close()
      page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
      await page.addInitScript(() => {
        const w = window as never as { since: number; reacted?: number; first?: number; exact?: number }
        const put = CanvasRenderingContext2D.prototype.putImageData as (...a: unknown[]) => void
        CanvasRenderingContext2D.prototype.putImageData = function (...a: unknown[]) {
          put.apply(this, a)
          w.exact ??= performance.now()
          w.reacted ??= performance.now() - w.since
        } as never
        document.addEventListener(
          'load',
          (e) => {
            const image = e.target as HTMLImageElement
            if (image.alt?.startsWith('The camera')) w.first ??= performance.now()
          },
          true,
        )
      })
      await page.goto(`${url}/shoots/${shoot.id}`)
      await page.waitForSelector('main li img')
      await page.waitForTimeout(500)
      await page.evaluate(() => ((window as never as { opened: number }).opened = performance.now()))
      await page.click('main li a')
      await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
      const times = await page.evaluate(() => {
        const w = window as never as { first: number; exact: number; opened: number }
        return [w.first - w.opened, w.exact - w.opened]
      })
      first.push(times[0])
      exact.push(times[1])
    }
    await page.waitForTimeout(500)
    await page.getByLabel('Exposure', { exact: true }).focus()
    const control: number[] = []
    for (let i = 0; i < 60; i++) {
      control.push(await reaction(page, i < 30 ? 'ArrowUp' : 'ArrowDown'))
      await page.waitForTimeout(30)
    }
    await page.keyboard.press('1')
    await page.waitForTimeout(1500)
    await page.getByRole('application').focus()
    const pan: number[] = []
    for (let i = 0; i < 30; i++) {
      pan.push(await reaction(page, i % 4 < 2 ? 'ArrowRight' : 'ArrowDown'))
      await page.waitForTimeout(60)
    }
    const bytes = readFileSync(file)
    const copyFile = await clock(5, copyOf(bytes.length))
    const copyView = await clock(20, copyOf(788 * 526 * 12))
    const row = (what: string, ms: number, budget: number, anchor: string, anchorMs: number): Row => ({
      what,
      ms,
      budget,
      anchor,
      anchorMs,
    })
    return {
      rows: [
        row(
          'first picture after choosing a frame (browser)',
          summarise(first).median,
          300,
          'copy of the file',
          copyFile.median,
        ),
        row(
          'exact fitted picture after choosing the first frame (browser)',
          summarise(exact).median,
          1500,
          'copy of the file',
          copyFile.median,
        ),
        row(
          'moving a tonal control at the bench, p95 (browser)',
          summarise(control.slice(5)).p95,
          33,
          'copy of three float planes',
          copyView.median,
        ),
        row(
          'an unseen place at 100 %, p95 (browser)',
          summarise(pan).p95,
          120,
          'copy of three float planes',
          copyView.median,
        ),
      ],
      peak: rendererPeak(),
    }
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
