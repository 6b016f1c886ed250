import type { Page } from '@playwright/test'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { clock, copyOf, summarise, type Row } from './measure'
import { controlTimes, rendererPeak, serve, startBrowser, watchCanvases } from './page'

/** A frame of the screen at 60 a second, with room for the clock's own rounding. */
const FRAME_MS = 17.5
const FRAMES = 6
const CHANGES = 200

type Move = 'zoom' | 'pan'

/**
 * Milliseconds between the frames of the screen while the picture is zoomed between 25 and 200 %, or pulled about at
 * what it is zoomed to, by one event each frame.
 */
const framesWhile = (page: Page, move: Move, frames: number): Promise<number[]> =>
  page.evaluate(
    ([what, count]) =>
      new Promise<number[]>((done) => {
        const pane = document.querySelector<HTMLElement>('[role=application]')!
        const box = pane.getBoundingClientRect()
        const at = { clientX: box.left + box.width * 0.6, clientY: box.top + box.height * 0.4 }
        const times: number[] = []
        let last = performance.now()
        const pointer = (type: string, x: number, y: number) =>
          pane.dispatchEvent(
            new PointerEvent(type, {
              ...{ clientX: x, clientY: y, button: 0, buttons: 1, pointerId: 1, pointerType: 'mouse' },
              bubbles: true,
            }),
          )
        // there is no real pointer to be captured
        pane.setPointerCapture = () => undefined
        if (what === 'pan') pointer('pointerdown', at.clientX, at.clientY)
        const turn = (now: number) => {
          times.push(now - last)
          last = now
          const i = times.length
          if (what === 'pan') {
            const angle = (i / 120) * 2 * Math.PI
            pointer('pointermove', at.clientX + 180 * Math.sin(angle), at.clientY + 120 * Math.sin(2 * angle))
          } else {
            // from 25 to 200 % in 75 frames, and back
            const deltaY = ((i % 150 < 75 ? -1 : 1) * Math.log(8)) / 75 / 0.002
            pane.dispatchEvent(
              new WheelEvent('wheel', { ...at, deltaY, ctrlKey: true, bubbles: true, cancelable: true }),
            )
          }
          if (i < count) return requestAnimationFrame(turn)
          if (what === 'pan') pointer('pointerup', at.clientX, at.clientY)
          done(times.slice(10))
        }
        requestAnimationFrame(turn)
      }),
    [move, frames] as const,
  )

/** Rows of zooming, panning, controls in both densities, and the page's memory after many frames, 24 megapixels. */
export async function handRows(file: string): Promise<{ rows: Row[]; peaks: readonly number[] }> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-hand-'))
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
  try {
    const json = { 'Content-Type': 'application/json' }
    const shoot = await (
      await fetch(`${url}/api/shoots`, { method: 'POST', headers: json, body: '{"name":"bench"}' })
    ).json()
    const ids: string[] = []
    for (let i = 0; i < FRAMES; i++) {
      const body = readFileSync(file)
      // another file for the library, the same picture to the eye
      body[body.length - 1] ^= i
      const added = await fetch(`${url}/api/shoots/${shoot.id}/frames?name=bench${i}.dng`, {
        method: 'POST',
        body,
      })
      ids.push(((await added.json()) as { frame: { id: string } }).frame.id)
    }
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await watchCanvases(page)
    const rows: Row[] = []
    const copy = await clock(20, copyOf(788 * 526 * 12))
    const row = (what: string, ms: number, budget: number) =>
      rows.push({ what, ms, budget, anchor: 'copy of three float planes', anchorMs: copy.median })
    const open = async (search: string) => {
      await page.goto(`${url}/shoots/${shoot.id}/frames/${ids[0]}${search}`)
      await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
      await page.waitForTimeout(2000)
    }
    await open('?stage=expose')
    await page.waitForTimeout(8000)
    for (const density of ['two-line', 'compact']) {
      if (density === 'compact') await page.keyboard.press('p')
      const times = summarise((await controlTimes(page, 60)).slice(6))
      row(`Exposure, ${density} rows, p95; median ${times.median.toFixed(1)}`, times.p95, 33)
    }
    await open('?zoom=25&at=0.5,0.5')
    const zoomed = summarise(await framesWhile(page, 'zoom', 450))
    row(
      `frame of the screen while zooming 25 to 200 %, p95; median ${zoomed.median.toFixed(1)}`,
      zoomed.p95,
      FRAME_MS,
    )
    for (const zoom of [25, 50, 100, 200]) {
      await open(`?zoom=${zoom}&at=0.5,0.5`)
      const panned = summarise(await framesWhile(page, 'pan', 300))
      row(
        `frame of the screen while panning at ${zoom} %, p95; median ${panned.median.toFixed(1)}`,
        panned.p95,
        FRAME_MS,
      )
    }
    await open('?stage=expose')
    const peaks = [rendererPeak()]
    for (let i = 1; i <= CHANGES; i++) {
      await page.keyboard.press(i % (2 * (FRAMES - 1)) < FRAMES - 1 ? 'PageDown' : 'PageUp')
      // a handle to the element would keep it, and all that it holds
      await page.locator('canvas[aria-label="The developed picture"][data-exact=true]').waitFor()
      if (i % 50 === 0) peaks.push(rendererPeak())
    }
    return { rows, peaks }
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
