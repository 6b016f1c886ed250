import { demoFrames } from '@dunkelkammer/demo'
import { readDng, startDevelopment } from '@dunkelkammer/core'
import type { Page } from '@playwright/test'
import Database from 'libsql'
import { createHash, randomUUID } from 'node:crypto'
import { linkSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'
import { projectRoot } from '../src/paths'
import { clock, copyOf, summarise, type Row } from './measure'
import { controlTimes, panTimes, serve, startBrowser, watchCanvases } from './page'

const FRAMES = 10000
const PICTURES = 60
const FILES = 100
const FIVE_MEGAPIXELS = { width: 2736, height: 1824 }

/** A shoot of many frames, in the database and with thumbnails, without originals. @returns its id */
async function fillLibrary(library: string): Promise<string> {
  // the server lays the database out
  const { process: server } = await serve(library)
  await new Promise((done) => {
    server.on('exit', done)
    server.kill()
  })
  const pictures: string[] = []
  mkdirSync(join(library, 'pictures'))
  for (let i = 0; i < PICTURES; i++) {
    const path = join(library, 'pictures', `${i}.jpg`)
    const { r, g, b } = { r: (i * 37) % 200, g: (i * 59) % 200, b: (i * 83) % 200 }
    const size = i % 3 ? { width: 480, height: 320 } : { width: 320, height: 480 }
    const noise = { type: 'gaussian', mean: 90 + r / 4, sigma: 24 } as const
    const picture = sharp({ create: { ...size, channels: 3, background: { r, g, b }, noise } })
    await picture.tint({ r, g, b }).jpeg({ quality: 75 }).toFile(path)
    pictures.push(path)
  }
  const db = new Database(join(library, 'library.db'))
  const shoot = randomUUID()
  const state = JSON.stringify({
    history: [{ label: 'As taken', development: startDevelopment() }],
    cursor: 0,
  })
  db.exec('BEGIN')
  db.prepare("INSERT INTO shoots (id, name, created, at_import) VALUES (?, 'Ten thousand', ?, '{}')").run(
    shoot,
    new Date().toISOString(),
  )
  const original = db.prepare("INSERT INTO originals (hash, size, ending) VALUES (?, ?, '.dng')")
  const frame = db.prepare(
    `INSERT INTO frames (id, shoot_id, original, file_name, width, height, metadata, taken, format, rating, mark,
     title, caption, creator, copyright, keywords, edited, thumb, changed)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, 'dng', ?, ?, ?, '', 'Marit Oudendijk', 'Hollenbeek Mills trust', ?, ?, 'r0', ?)`,
  )
  const version = db.prepare(
    "INSERT INTO versions (id, frame_id, name, revision, state, changed) VALUES (?, ?, 'First version', 0, ?, '')",
  )
  const words = ['mill', 'canal', 'kiln', 'mist', 'tiles', 'night', 'lock', 'gallery']
  for (let i = 0; i < FRAMES; i++) {
    const id = randomUUID()
    const hash = createHash('sha256').update(String(i)).digest('hex')
    const like = demoFrames[i % demoFrames.length]
    const taken = new Date(Date.UTC(2026, 4, 14, 5) + i * 1700).toISOString().slice(0, -1)
    const upright = i % 3 === 0
    const metadata = {
      make: 'Ostrava & Linde',
      model: i % 4 ? 'Veldrom 3' : 'Veldrom Pocket',
      lens: like.lens.name,
      iso: like.iso,
      exposureTime: 1 / 250,
      fNumber: like.fNumber,
      focalLength: like.focalLength,
      taken,
      orientation: upright ? 6 : 1,
    }
    original.run(hash, 25e6 + i)
    frame.run(
      ...[
        id,
        shoot,
        hash,
        `HM${String(i).padStart(5, '0')}.dng`,
        upright ? 4000 : 6000,
        upright ? 6000 : 4000,
      ],
      ...[JSON.stringify(metadata), taken, (i * 7) % 6, i % 9 ? 'none' : 'keep', `Frame ${i}`],
      ...[JSON.stringify([words[i % 8], words[(i * 3 + 1) % 8]]), i % 5 ? 0 : 1, i + 1],
    )
    version.run(randomUUID(), id, state)
    mkdirSync(join(library, 'thumbs', id.slice(0, 2)), { recursive: true })
    linkSync(pictures[i % PICTURES], join(library, 'thumbs', id.slice(0, 2), `${id}.jpg`))
  }
  // as if the frames had come in one by one
  db.prepare("INSERT OR REPLACE INTO counters (name, value) VALUES ('news', ?)").run(FRAMES)
  db.exec('COMMIT')
  db.close()
  return shoot
}

/** Waits in the page until every cell of the sheet in sight shows its picture. @returns the page's clock then, ms */
const allShown = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done) => {
        const look = () => {
          const images = [...document.querySelectorAll<HTMLImageElement>('[role=gridcell] img')]
          const seen = images.filter((i) => {
            const r = i.getBoundingClientRect()
            return r.bottom > 0 && r.top < innerHeight
          })
          if (seen.length > 0 && seen.every((i) => i.complete && i.naturalWidth > 0)) done(performance.now())
          else requestAnimationFrame(look)
        }
        look()
      }),
  )

/** Time from a click to the frame of the screen that shows another number of frames. */
const answered = (page: Page, selector: string): Promise<number> =>
  page.evaluate(
    (s) =>
      new Promise<number>((done) => {
        const counts = document.querySelector('[data-testid=counts]')!
        const before = counts.textContent
        const since = performance.now()
        const look = () => {
          if (counts.textContent === before) requestAnimationFrame(look)
          // the frame in which the new count stands is drawn before the next one begins
          else requestAnimationFrame(() => done(performance.now() - since))
        }
        document.querySelector<HTMLElement>(s)!.click()
        requestAnimationFrame(look)
      }),
    selector,
  )

/** Milliseconds between the frames of the screen while the sheet scrolls at some thousand pixels a second. */
const scrolled = (page: Page): Promise<number[]> =>
  page.evaluate(
    () =>
      new Promise<number[]>((done) => {
        const grid = document.querySelector('[data-testid=grid]')!
        const times: number[] = []
        let last = performance.now()
        const turn = (now: number) => {
          times.push(now - last)
          last = now
          grid.scrollTop += 50
          if (times.length < 300) requestAnimationFrame(turn)
          else done(times.slice(10))
        }
        requestAnimationFrame(turn)
      }),
  )

/** Rows of a sheet of ten thousand frames, in the real application in Chromium. */
export async function sheetRows(): Promise<Row[]> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-sheet-'))
  const shoot = await fillLibrary(library)
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
  try {
    const opened: number[] = []
    let page!: Page
    for (let i = 0; i < 6; i++) {
      await page?.close()
      page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
      await page.goto(`${url}/shoots/${shoot}`, { waitUntil: 'commit' })
      opened.push(await allShown(page))
    }
    // the engine of the bench starts behind the sheet
    await page.waitForTimeout(3000)
    const idle = await page.evaluate(
      () =>
        new Promise<number>((done) => {
          const times: number[] = []
          let last = performance.now()
          const turn = (now: number) => {
            times.push(now - last)
            last = now
            if (times.length < 60) requestAnimationFrame(turn)
            else done(times.sort((a, b) => a - b)[30])
          }
          requestAnimationFrame(turn)
        }),
    )
    const between = await scrolled(page)
    await page.getByRole('button', { name: 'Filter' }).click()
    const option = (part: string, n: number) => `section[aria-label="${part}"] button:nth-of-type(${n})`
    const filtered: number[] = []
    for (const [part, n] of [
      ['Stars', 4],
      ['Orientation', 1],
      ['Camera', 1],
      ['Keywords', 2],
    ] as const)
      for (let i = 0; i < 4; i++) {
        filtered.push(await answered(page, option(part, n)))
        await page.waitForTimeout(120)
      }
    const json = Buffer.from(await (await fetch(`${url}/api/shoots/${shoot}`)).arrayBuffer())
    const parse = await clock(5, () => JSON.parse(json.toString()) as unknown)
    const spread = summarise(between)
    return [
      {
        what: 'contact sheet of 10,000 frames, from the address to all pictures in sight',
        ms: summarise(opened.slice(1)).median,
        budget: 1000,
        anchor: `parsing its list (${(json.length / 1e6).toFixed(1)} MB)`,
        anchorMs: parse.median,
      },
      {
        what: 'its filters, p95 of a click to the drawn answer',
        ms: summarise(filtered).p95,
        budget: 150,
        anchor: 'one frame of the screen',
        anchorMs: idle,
      },
      {
        what: 'its scrolling at 3000 pixels a second, mean time of a frame',
        ms: between.reduce((a, b) => a + b, 0) / between.length,
        budget: 16.9,
        anchor: 'one frame of the screen',
        anchorMs: idle,
      },
      { what: 'the same, p95', ms: spread.p95, anchor: 'one frame of the screen', anchorMs: idle },
    ]
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}

/** Rows of the bench in use while a hundred files come in. */
export async function importRows(file: string): Promise<Row[]> {
  const place = mkdtempSync(join(tmpdir(), 'dunkelkammer-import-'))
  const [library, card] = [join(place, 'library'), join(place, 'card')]
  for (const folder of [library, card]) mkdirSync(folder)
  const demo = readFileSync(join(projectRoot(), 'packages/demo/frames/HM0417.dng'))
  const { syntheticDng } = await import('./synthetic')
  const { offset, length, width, height } = readDng(demo).preview!
  const jpeg = demo.subarray(offset, offset + length)
  const one = syntheticDng({ jpeg, width, height }, FIVE_MEGAPIXELS)
  // what follows a file's end belongs to nobody, and makes each another one
  for (let i = 0; i < FILES; i++)
    writeFileSync(join(card, `F${i}.dng`), Buffer.concat([one, Buffer.from(`file ${i}`)]))
  const { url, process: server } = await serve(library, card)
  const browser = await startBrowser()
  const json = { 'Content-Type': 'application/json' }
  const send = async (path: string, body: unknown) =>
    (await (
      await fetch(url + path, { method: 'POST', headers: json, body: JSON.stringify(body) })
    ).json()) as {
      id: string
    }
  try {
    const work = await send('/api/shoots', { name: 'Work' })
    const added = await fetch(`${url}/api/shoots/${work.id}/frames?name=bench.dng`, {
      method: 'POST',
      body: readFileSync(file),
    })
    const { frame } = (await added.json()) as { frame: { id: string } }
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await watchCanvases(page)
    await page.goto(`${url}/shoots/${work.id}/frames/${frame.id}`)
    await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
    await page.waitForTimeout(4000)
    const alone = summarise((await controlTimes(page, 60)).slice(5))
    const still = summarise(await panTimes(page, 30))
    await page.keyboard.press('0')
    await page.waitForTimeout(1500)

    const into = await send('/api/shoots', { name: 'Card' })
    const began = performance.now()
    const job = await send(`/api/shoots/${into.id}/import`, { path: card })
    const state = async () =>
      ((await (await fetch(`${url}/api/jobs/${job.id}`)).json()) as { state: string }).state
    const control: number[] = []
    const pan: number[] = []
    let took = 0
    let back = true
    const finished = (async () => {
      while (['waiting', 'running'].includes(await state())) await new Promise((r) => setTimeout(r, 250))
      took = performance.now() - began
    })()
    // thumbnails are developed in the background for long after: that is part of it
    do {
      control.push(...(await controlTimes(page, 40)).slice(5))
      pan.push(...(await panTimes(page, 16, back)))
      back = !back
      await page.keyboard.press('0')
      await page.waitForTimeout(500)
    } while (took === 0)
    await finished
    const copy = await clock(5, copyOf(one.length * FILES))
    const row = (what: string, ms: number, budget: number, anchor: string, anchorMs: number): Row => ({
      ...{ what, ms, budget, anchor, anchorMs },
    })
    return [
      row(
        'a tonal control while 100 files of 5 MP come in, p95 (browser)',
        summarise(control).p95,
        33,
        'the same, nothing coming in, p95',
        alone.p95,
      ),
      row(
        'an unseen place at 100 % meanwhile, p95 (browser)',
        summarise(pan).p95,
        120,
        'the same, nothing coming in, p95',
        still.p95,
      ),
      {
        what: 'bringing the 100 files in meanwhile, by path',
        ms: took,
        anchor: 'copy of their bytes',
        anchorMs: copy.median,
      },
    ]
  } finally {
    await browser.close()
    server.kill()
    rmSync(place, { recursive: true, force: true })
  }
}
