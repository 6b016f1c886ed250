import { readDevelopment, SHIPPED_LENSES, type Development } from '@dunkelkammer/core'
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { builtEngineFiles, createEngine, findFringes, findLevel, fitInto, type Picture } from '../src/node'
import { benchControlRows } from './controls'
import { clock, copyOf, type Row } from './measure'
import { serve } from './page'

/** Everything that squaring up can do, at once. */
const ALL = {
  lens: { choice: 'automatic' },
  level: { angle: 2.3 },
  perspective: { tilt: -5, swing: 3, squeeze: 0.04, soften: 0.3 },
  fallOff: { ev: 0.3 },
}
/** Moved by a fraction of a pixel, and nothing else. */
const PLAIN = { perspective: { size: 1.0003 } }
/** Where Debian's package puts the open lens database. */
const INSTALLED = '/usr/share/lensfun/version_1'
type Part = Record<string, object>

const MOVED: readonly { what: string; at(v: number): Part }[] = [
  { what: 'level', at: (v) => ({ level: { angle: 1 + v } }) },
  { what: 'tilt', at: (v) => ({ perspective: { ...ALL.perspective, tilt: -6 + v } }) },
  { what: 'squeeze', at: (v) => ({ perspective: { ...ALL.perspective, squeeze: 0.1 * v } }) },
  { what: 'softened stretching', at: (v) => ({ perspective: { ...ALL.perspective, soften: v } }) },
  { what: 'distortion taken out', at: (v) => ({ lens: { choice: 'automatic', distortion: v } }) },
  { what: 'light in the corners', at: (v) => ({ fallOff: { ev: v } }) },
  {
    what: 'the frame’s middle',
    at: (v) => ({ crop: { rect: { centre: [0.4 + 0.1 * v, 0.3], width: 0.5, height: 0.33 } } }),
  },
]
const development = (part: Part): Development => readDevelopment({ steps: { ...ALL, ...part } })
const only = (steps: Part) => readDevelopment({ steps })

async function full(picture: Picture, d: Development) {
  const { width, height } = await picture.square(d)
  return {
    width,
    height,
    run: () => picture.deliver({ development: d, space: 'camera', bits: 8, width, height }),
  }
}

/** One resampling for all corrections, and each control of geometry as it is dragged. */
export async function squareRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  engine.lensSource = () => Promise.resolve({ id: 'wide', profile: SHIPPED_LENSES[0] })
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const rows: Row[] = []
  const still = await full(picture, only({}))
  const plain = await full(picture, only(PLAIN))
  const all = await full(picture, development({}))
  await still.run()
  const [a, b, c] = [await clock(5, still.run), await clock(5, plain.run), await clock(5, all.run)]
  // the same share of every one goes into reading the kept picture and packing the bytes
  const pixels = still.width * still.height
  const each = (t: number, { width, height }: { width: number; height: number }) =>
    (t * pixels) / (width * height) - a.median
  rows.push({
    what: 'all corrections at once on 24 megapixels; budget 3 times the anchor',
    ms: each(c.median, all),
    budget: Math.round(3 * each(b.median, plain)),
    anchor: 'one plain resampling by the same kernel',
    anchorMs: each(b.median, plain),
  })
  const level = await clock(5, () => findLevel(picture, only({})).catch(() => undefined))
  const fringes = await clock(5, () => findFringes(picture).catch(() => undefined))
  const size = fitInto(picture.width, picture.height, 1280, 800)
  const copy = await clock(20, copyOf(size.width * size.height * 12))
  const anchor = { anchor: 'copy of three float planes', anchorMs: copy.median }
  rows.push({ what: 'lines looked for, 24 megapixels', ms: level.median, ...anchor })
  rows.push({ what: 'fringes measured, 24 megapixels', ms: fringes.median, ...anchor })
  for (const { what, at } of MOVED) {
    let reuse: Uint8ClampedArray<ArrayBuffer> | undefined
    const move = async (i: number) => {
      const d = development(at(Math.abs(((i % 40) - 20) / 20)))
      const frame = await picture.square(d)
      const fit = fitInto(frame.width, frame.height, 1280, 800)
      const region = { x: 0, y: 0, ...fit }
      reuse = (await picture.view({ development: d, ...fit, region, reuse, quick: true })).rgba
    }
    await clock(6, move)
    const times = await clock(60, (i) => move(i + 6))
    rows.push({
      what: `${what}, p95; median ${times.median.toFixed(1)}`,
      ms: times.p95,
      budget: 50,
      ...anchor,
    })
  }
  engine.stop()
  return rows
}

/** The same at the open bench in Chromium. */
export const benchSquareRows = (file: string): Promise<Row[]> =>
  benchControlRows(file, {
    budget: 50,
    steps: {
      ...ALL,
      lens: { choice: 'hand', bend: -0.03, edge: 0.01 },
      fringes: { source: 'own', redEdge: 0.0005 },
    },
    keys: [
      ['square-up', 'Rotation'],
      ['square-up', 'Tilt'],
      ['square-up', 'Vertical stretch'],
      ['square-up', 'Bend'],
    ],
  })

/** The lens database of this machine taken in whole, and a lens found in it; nothing where there is none. */
export async function lensRows(): Promise<Row[]> {
  if (!existsSync(INSTALLED)) return []
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-bench-'))
  const { url, process: server } = await serve(library)
  const post = async (path: string, body: unknown) =>
    (
      await fetch(`${url}/api${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json()
  try {
    const imported = await clock(5, () => post('/lenses/import-installed', {}))
    const { lenses } = (await (await fetch(`${url}/api/lenses?search=24 70`)).json()) as {
      lenses: { model: string; maker: string }[]
    }
    const find = () => post('/lenses/find', { make: lenses[0].maker, lens: lenses[0].model, focal: 35 })
    const first = await clock(1, find)
    const found = await clock(20, find)
    const copy = await clock(20, copyOf(3.7e6))
    const anchor = { anchor: 'copy of its bytes', anchorMs: copy.median }
    return [
      { what: 'whole lens database imported', ms: imported.median, budget: 5000, ...anchor },
      { what: 'a lens found, the first time', ms: first.median, budget: 50, ...anchor },
      { what: 'a lens found', ms: found.median, budget: 50, ...anchor },
    ]
  } finally {
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
