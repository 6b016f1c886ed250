import { bulkName, changesBetween, encodePath, readDevelopment, type LogPlace } from '@dunkelkammer/core'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { projectRoot } from '../src/paths'
import { clock, copyOf, summarise, type Row } from './measure'
import { serve, startBrowser } from './page'

const MANY = 10000
const FEW = 10
const AT_ONCE = 200

/** A stroke of 100,000 places. */
const LONG_PATH = (() => {
  const places = Array.from({ length: 100_000 }, (_, i) => ({ x: i / 1e6, y: Math.sin(i / 500) / 100 }))
  const bytes = encodePath(places) as Uint8Array<ArrayBuffer>
  return { name: bulkName(bytes), bytes }
})()

const MANY_PATCHES = Array.from({ length: 500 }, (_, i) => ({
  ...(i === 1 && { shape: 'stroke' as const, path: LONG_PATH.name }),
  ...{ id: randomUUID(), x: 0.02 + (i % 25) * 0.038, y: 0.02 + Math.floor(i / 25) * 0.03 },
  ...{ radius: 0.004, source: [0.012, 0] as [number, number] },
}))

interface Opened {
  id: string
  versions: { id: string }[]
}

/** What a long history costs: opening a version, going back at the bench, and the size of a change. */
export async function historyRows(): Promise<Row[]> {
  const library = mkdtempSync(join(tmpdir(), 'bench-history-'))
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
  try {
    const send = async (method: string, path: string, body?: unknown) =>
      (
        await fetch(`${url}/api${path}`, {
          method,
          headers: { 'Content-Type': 'application/json' },
          body: body === undefined ? undefined : JSON.stringify(body),
        })
      ).json()
    const shoot = await send('POST', '/shoots', { name: 'bench' })
    const frames: string[] = []
    for (const name of ['HM0417', 'HM0466']) {
      const body = readFileSync(join(projectRoot(), `packages/demo/frames/${name}.dng`))
      const added = await fetch(`${url}/api/shoots/${shoot.id}/frames?name=${name}.dng`, {
        method: 'POST',
        body,
      })
      frames.push(((await added.json()) as { frame: { id: string } }).frame.id)
    }
    const [long, short] = frames
    for (const [frame, count] of [
      [long, MANY],
      [short, FEW],
    ] as const) {
      const { versions } = (await send('GET', `/frames/${frame}`)) as Opened
      let [head, last]: [LogPlace, ReturnType<typeof readDevelopment>] = [null, readDevelopment({})]
      for (let done = 0; done < count; done += AT_ONCE) {
        const base = head
        const operations = Array.from({ length: Math.min(AT_ONCE, count - done) }, (_, i) => {
          const ev = ((done + i) % 100) / 25
          const next = readDevelopment({
            steps: { exposure: { ev: ev === last.steps.exposure.ev ? ev + 0.01 : ev } },
          })
          const changes = changesBetween(last, next)
          const made = { kind: 'change', id: randomUUID(), parent: head, label: 'Exposure', changes }
          head = made.id
          last = next
          return { ...made, time: new Date().toISOString() }
        })
        await send('POST', `/versions/${versions[0].id}/log`, { base, operations })
      }
    }
    const open = (frame: string) => clock(30, () => send('GET', `/frames/${frame}`))
    await open(short)
    const [few, many] = [await open(short), await open(long)]
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const sizes: number[] = []
    page.on('request', (r) => {
      if (r.method() === 'POST' && r.url().endsWith('/log')) sizes.push(r.postData()?.length ?? 0)
    })
    await page.goto(`${url}/shoots/${shoot.id}/frames/${long}`)
    await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
    await page.waitForTimeout(3000)
    const back: number[] = []
    for (let i = 0; i < 40; i++) {
      back.push(await page.evaluate(undoTime))
      await page.waitForTimeout(60)
    }
    await page.getByLabel('Exposure, number').fill('1.23')
    await page.keyboard.press('Enter')
    await page.waitForTimeout(1000)
    const changeSends = Math.max(...sizes)
    // one patch of many is switched off
    const { versions } = (await send('GET', `/frames/${short}`)) as Opened & { versions: { head: string }[] }
    const { head } = versions[0]
    await fetch(`${url}/api/bulk/${LONG_PATH.name}`, { method: 'PUT', body: LONG_PATH.bytes })
    const changes = changesBetween(
      readDevelopment({}),
      readDevelopment({ steps: { patches: { patches: MANY_PATCHES } } }),
    )
    const made = { kind: 'change', id: randomUUID(), parent: head, label: 'Patches', changes }
    await send('POST', `/versions/${versions[0].id}/log`, {
      ...{ base: head, operations: [{ ...made, time: new Date().toISOString() }] },
    })
    sizes.length = 0
    await page.goto(`${url}/shoots/${shoot.id}/frames/${short}`)
    await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
    await page.keyboard.press('Alt+5')
    await page.getByRole('button', { name: 'Patch 2 on' }).click()
    await page.waitForTimeout(1000)
    const copy = await clock(20, copyOf(1 << 20))
    const anchor = { anchor: 'copy of a megabyte', anchorMs: copy.median }
    return [
      { what: `a version with ${FEW} entries, its answer`, ms: few.median, ...anchor },
      { what: `with ${MANY} entries`, ms: many.median, budget: few.median + 100, ...anchor },
      {
        what: 'one step back of these at the bench, until it is said',
        ms: summarise(back).median,
        budget: 16,
        ...anchor,
      },
      { what: 'bytes that a change sends (not ms)', ms: changeSends, budget: 2048, ...anchor },
      {
        what: `bytes that a stroke of 100,000 places, one patch of ${MANY_PATCHES.length}, sends (not ms)`,
        ms: Math.max(...sizes),
        budget: 2048,
        ...anchor,
      },
    ]
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}

/** In the page: from Ctrl+Z to the number that has changed. */
function undoTime(): Promise<number> {
  const field = document.querySelector<HTMLInputElement>('[aria-label="Exposure, number"]')!
  const was = field.value
  const since = performance.now()
  document.body.dispatchEvent(
    new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true, cancelable: true }),
  )
  return new Promise((done) => {
    const look = () => {
      if (field.value !== was) done(performance.now() - since)
      else if (performance.now() - since > 2000) done(2000)
      else queueMicrotask(() => setTimeout(look, 0))
    }
    look()
  })
}
