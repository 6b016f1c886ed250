import { chromium, type Browser, type Page } from '@playwright/test'
import { spawn, type ChildProcess } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { projectRoot } from '../src/paths'

/** Largest peak of resident memory among the browser's renderers, MB. */
export function rendererPeak(): number {
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
export async function reaction(page: Page, key: string): Promise<number> {
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

/** Starts the built server on a library. */
export async function serve(
  library: string,
  roots = library,
): Promise<{ url: string; process: ChildProcess }> {
  const server = spawn(process.execPath, [join(projectRoot(), 'dist/node/server.js')], {
    env: {
      ...process.env,
      DUNKELKAMMER_LIBRARY: library,
      DUNKELKAMMER_PORT: '0',
      DUNKELKAMMER_ROOTS: roots,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise<string>((found) => {
    server.stdout.on('data', (chunk: Buffer) => {
      const match = chunk.toString().match(/http:\/\/\S+/)
      if (match) found(match[0])
    })
  })
  return { url, process: server }
}

export const startBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
    args: JSON.parse(readFileSync(join(projectRoot(), 'scripts/chromium.json'), 'utf8')) as string[],
  })

/** Notes in the page when its canvases show something: first of all, and after an input. */
export const watchCanvases = (page: Page): Promise<unknown> =>
  page.addInitScript(() => {
    const w = window as never as { since: number; reacted?: number; first?: number; exact?: number }
    const put = CanvasRenderingContext2D.prototype.putImageData as (...a: unknown[]) => void
    CanvasRenderingContext2D.prototype.putImageData = function (
      this: CanvasRenderingContext2D,
      ...a: unknown[]
    ) {
      put.apply(this, a)
      w.exact ??= performance.now()
      w.reacted ??= performance.now() - w.since
    } as never
    const draw = CanvasRenderingContext2D.prototype.drawImage as (...a: unknown[]) => void
    CanvasRenderingContext2D.prototype.drawImage = function (
      this: CanvasRenderingContext2D,
      ...a: unknown[]
    ) {
      draw.apply(this, a)
      if (this.canvas.ariaLabel?.startsWith('The camera')) w.first ??= performance.now()
    } as never
  })

/** Times of a tonal control at the open bench, from key to canvas. */
export async function controlTimes(page: Page, count: number, label = 'Exposure'): Promise<number[]> {
  await page.getByRole('slider', { name: label, exact: true }).last().focus()
  const times: number[] = []
  for (let i = 0; i < count; i++) {
    times.push(await reaction(page, i % 12 < 6 ? 'ArrowUp' : 'ArrowDown'))
    await page.waitForTimeout(30)
  }
  return times
}

/** Times of moves to places not seen before, at 100 %: down to the right, or back from there. */
export async function panTimes(page: Page, count: number, back = false): Promise<number[]> {
  const keys = back ? ['ArrowLeft', 'ArrowUp'] : ['ArrowRight', 'ArrowDown']
  await page.keyboard.press('1')
  await page.waitForTimeout(1500)
  await page.getByRole('application').focus()
  const times: number[] = []
  for (let i = 0; i < count; i++) {
    times.push(await reaction(page, keys[i % 4 < 2 ? 0 : 1]))
    await page.waitForTimeout(60)
  }
  return times
}
