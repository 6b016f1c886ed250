import type { Page } from '@playwright/test'
import { closeSync, fsyncSync, mkdtempSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { projectRoot } from '../src/paths'
import { clock, summarise, type Row } from './measure'
import { controlTimes, serve, startBrowser, watchCanvases } from './page'

const FRAMES = 500
const PREVIEWS = 30
const ROUNDS = 3

/** What a row is measured beside: as many synced writes as the work has transactions, of as many bytes. */
async function syncedWrites(folder: string): Promise<number> {
  const file = openSync(join(folder, 'anchor'), 'w')
  const bytes = new Uint8Array(256 << 10)
  const { median } = await clock(5, () => {
    for (let i = 0; i < Math.ceil(FRAMES / 64); i++) {
      writeSync(file, bytes)
      fsyncSync(file)
    }
  })
  closeSync(file)
  return median
}

const steps = (i: number) => ({
  relief: { fine: 0.1 + i / 20 },
  grain: { strength: 0.2 },
  exposure: { ev: 0.1 * i },
})

/** Milliseconds until so many previews of presets are drawn, from the key that opens them. */
const previewsDrawn = (page: Page, count: number): Promise<number> =>
  page.evaluate(
    (wanted) =>
      new Promise<number>((done) => {
        const since = performance.now()
        const look = () => {
          const drawn = document.querySelectorAll('aside[aria-label="Presets"] [data-look] canvas').length
          if (drawn >= wanted) done(performance.now() - since)
          else requestAnimationFrame(look)
        }
        document.body.dispatchEvent(
          new KeyboardEvent('keydown', {
            key: 'l',
            code: 'KeyL',
            altKey: true,
            bubbles: true,
            cancelable: true,
          }),
        )
        requestAnimationFrame(look)
      }),
    count,
  )

/** Rows of settings that go to many frames at once, and of the previews of presets; a 24-megapixel frame at the bench. */
export async function manyRows(file: string): Promise<Row[]> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-many-'))
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
  const ask = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const headers = { 'Content-Type': 'application/json' }
    const answer = await fetch(url + path, { method, headers, body: JSON.stringify(body) })
    return (await answer.json()) as T
  }
  const upload = async (shoot: string, name: string, body: Uint8Array) => {
    const path = `${url}/api/shoots/${shoot}/frames?name=${name}`
    const answer = await fetch(path, { method: 'POST', body: body as never })
    return ((await answer.json()) as { frame: { id: string } }).frame.id
  }
  try {
    const { id: shoot } = await ask<{ id: string }>('POST', '/api/shoots', { name: 'Many' })
    const small = readFileSync(join(projectRoot(), 'packages/demo/frames/HM0403.dng'))
    const ids: string[] = []
    for (let i = 0; i < FRAMES; i++)
      ids.push(await upload(shoot, `F${i}.dng`, Buffer.concat([small, Buffer.from(`copy ${i}`)])))
    const bench = await upload(shoot, 'bench.dng', readFileSync(file))

    const given: number[] = []
    const back: number[] = []
    const give = async (round: number) => {
      const since = performance.now()
      const what = { kind: 'portion', portion: { steps: steps(round) } }
      const order = { ids, label: `Round ${round}`, give: what }
      const { id } = await ask<{ id: string }>('POST', '/api/settings', order)
      for (;;) {
        const { state } = await ask<{ state: string }>('GET', `/api/jobs/${id}`)
        if (state !== 'waiting' && state !== 'running') break
        await new Promise((r) => setTimeout(r, 15))
      }
      given.push(performance.now() - since)
      const from = performance.now()
      await ask('POST', `/api/jobs/${id}/take-back`, {})
      back.push(performance.now() - from)
    }
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await watchCanvases(page)
    await page.goto(`${url}/shoots/${shoot}/frames/${bench}`)
    await page.waitForSelector('[data-exact=true]', { timeout: 90000 })
    await page.waitForTimeout(4000)
    const alone = summarise((await controlTimes(page, 40)).slice(5))

    const drawn: number[] = []
    for (let i = 0; i < ROUNDS; i++) {
      // previews of settings that were there before would be shown again
      await controlTimes(page, 1)
      await page.waitForTimeout(2500)
      drawn.push(await previewsDrawn(page, PREVIEWS))
      await page.getByRole('button', { name: 'Close the presets' }).click()
    }
    // again while previews are made
    await page.keyboard.press('Alt+l')
    const during = summarise((await controlTimes(page, 40)).slice(5))
    await page.getByRole('button', { name: 'Close the presets' }).click()

    let giving = true
    const meanwhile: number[] = []
    const watch = (async () => {
      while (giving) meanwhile.push(...(await controlTimes(page, 10)))
    })()
    for (let i = 1; i <= ROUNDS; i++) await give(i)
    giving = false
    await watch
    await page.close()
    given.length = back.length = 0
    // thumbnails follow in the background for long after: that is part of it
    for (let i = 1; i <= ROUNDS; i++) await give(ROUNDS + i)
    const anchorMs = await syncedWrites(library)
    const anchor = 'as many synced writes'
    const key = 'the same, nothing else going on, p95'
    return [
      {
        what: `settings given to ${FRAMES} frames`,
        ms: summarise(given).median,
        budget: 2000,
        anchor,
        anchorMs,
      },
      { what: 'the same taken back', ms: summarise(back).median, budget: 2000, anchor, anchorMs },
      {
        ...{ what: 'a tonal control meanwhile, p95 (browser)', ms: summarise(meanwhile).p95, budget: 33 },
        ...{ anchor: key, anchorMs: alone.p95 },
      },
      {
        ...{ what: `${PREVIEWS} previews of presets, from the key (browser)`, ms: summarise(drawn).median },
        ...{ budget: 1500, anchor: 'one tonal control, p95', anchorMs: alone.p95 },
      },
      {
        ...{ what: 'a tonal control while previews are made, p95 (browser)', ms: during.p95, budget: 33 },
        ...{ anchor: key, anchorMs: alone.p95 },
      },
    ]
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
