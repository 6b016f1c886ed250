import type { Page } from '@playwright/test'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { clock, copyOf, summarise, type Row } from './measure'
import { controlTimes, panTimes, rendererPeak, serve, startBrowser, watchCanvases } from './page'

/** Rows measured in the real application in Chromium. */
export async function browserRows(file: string): Promise<{ rows: Row[]; peak: number }> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-bench-'))
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
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
      await watchCanvases(page)
      await page.goto(`${url}/shoots/${shoot.id}`)
      await page.waitForSelector('[role=gridcell] img')
      await page.waitForTimeout(500)
      await page.evaluate(() => ((window as never as { opened: number }).opened = performance.now()))
      await page.dblclick('[role=gridcell]')
      await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
      const times = await page.evaluate(() => {
        const w = window as never as { first: number; exact: number; opened: number }
        return [w.first - w.opened, w.exact - w.opened]
      })
      first.push(times[0])
      exact.push(times[1])
    }
    await page.waitForTimeout(500)
    const control = await controlTimes(page, 60)
    const pan = await panTimes(page, 30)
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
