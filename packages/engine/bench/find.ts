import {
  ciede2000,
  readDevelopment,
  toLab,
  working,
  type Development,
  type FindWish,
  type Triple,
} from '@dunkelkammer/core'
import { demoFrames, type DemoFrame } from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { builtEngineFiles, createEngine, fitInto, type Picture } from '../src/node'
import { clock, copyOf, summarise, type Row } from './measure'
import { scores } from './maskScores'
import { fileOf, shootFile, truthOf, variationOf, type Plane } from './truths'

const found = (what: string, steps: object = {}): Development =>
  readDevelopment({
    steps: { areas: { areas: [{ id: 'a', mask: { shapes: [{ id: 's', kind: 'found', what }] }, steps }] } },
  })

/** The mask of the first area of a development. */
async function maskOf(picture: Picture, development: Development): Promise<Plane> {
  const { width, height, grey } = await picture.ask('mask', development, 0)
  return { width, height, values: Float32Array.from(grey, (v) => v / 255) }
}

/** Frames with a sky; the rest have none. */
const SKIES = ['0403', '0405', '0477', '0488', '0491', '0521', '0527', '0551', '0553', '0468', '0417', '0466']
const skies = SKIES.map((n) => demoFrames.find(({ fileName }) => fileName.includes(n))!)

/** How close the sky that is found comes to that of the renderer; line by line, since truths take minutes. */
export async function* skyTable(): AsyncGenerator<string> {
  const engine = createEngine(builtEngineFiles())
  yield [
    '| sky of | sure | overlap (0.98 asked) | border, 2 px (0.88) | share off near it, of a hard mask’s (half) | rim at +2 EV (1.5) | ms |',
    '|---|--:|--:|--:|--:|--:|--:|',
  ].join('\n')
  const sums = { overlap: 0, border: 0, soft: 0, hard: 0, rim: 0, n: 0 }
  const score = async (frame: DemoFrame, bytes: Uint8Array, name: string) => {
    const picture = await engine.open(bytes)
    const start = performance.now()
    const sure = await picture.ask('found', readDevelopment({}), { kind: 'found', what: 'sky' })
    const ms = performance.now() - start
    const mask = await maskOf(picture, found('sky'))
    const truth = truthOf(frame, 'sky')
    const { overlap, border, soft, hard, rim } = scores(mask, truth)
    const off = await rimOf(picture, truth, rim)
    const row = `| ${name} | ${sure.toFixed(2)} | ${overlap.toFixed(3)} | ${border.toFixed(3)} | ${soft.toFixed(3)} of ${hard.toFixed(3)} | ${off.toFixed(2)} | ${ms.toFixed(0)} |`
    const all = { overlap, border, soft, hard, rim: off, n: 1 }
    for (const key of Object.keys(sums) as (keyof typeof sums)[]) sums[key] += all[key]
    engine.close(picture)
    return row
  }
  for (const frame of skies) {
    yield await score(frame, shootFile(frame), frame.fileName)
    const other = variationOf(frame)
    yield await score(other, fileOf(other), `${frame.fileName}, varied`)
  }
  const mean = (key: keyof typeof sums, digits: number) => (sums[key] / sums.n).toFixed(digits)
  yield `| mean | | ${mean('overlap', 3)} | ${mean('border', 3)} | ${mean('soft', 3)} of ${mean('hard', 3)} | ${mean('rim', 2)} | |`
  const without: string[] = []
  for (const frame of demoFrames.filter((f) => !skies.includes(f))) {
    const picture = await engine.open(shootFile(frame))
    const sure = await picture.ask('found', readDevelopment({}), { kind: 'found', what: 'sky' })
    without.push(`${frame.fileName} ${sure > 0 ? `found, ${sure.toFixed(2)} sure` : 'nothing'}`)
    engine.close(picture)
  }
  yield `\nwithout a sky: ${without.join('; ')}`
  engine.stop()
}
/** Between the light of a rim as it is delivered and as it is looked at. */
const SHOWN = 2

/** Mean difference, CIEDE2000, of a file with +2 EV in the sky that was found to one with the truth's mask. */
async function rimOf(picture: Picture, truth: Plane, rim: Uint8Array): Promise<number> {
  const { width, height } = truth
  // dark, so that nothing clips
  const base = { exposure: { ev: -3 }, highlights: { rebuild: 0 } }
  const deliver = async (development: Development) => {
    const bytes = await picture.deliver({ development, space: 'linear-rec2020', width, height, bits: 16 })
    return new Uint16Array(bytes.buffer, bytes.byteOffset, width * height * 3)
  }
  const dark = await deliver(readDevelopment({ steps: base }))
  const shape = { id: 's', kind: 'found', what: 'sky' }
  const areas = [{ id: 'a', mask: { shapes: [shape] }, steps: { exposure: { ev: 2 } } }]
  const ours = await deliver(readDevelopment({ steps: { ...base, areas: { areas } } }))
  const lab = (at: (k: number) => number): Triple =>
    toLab(working, [0, 1, 2].map((k) => Math.min((at(k) / 65535) * SHOWN, 1)) as unknown as Triple)
  let [sum, n] = [0, 0]
  for (let i = 0; i < rim.length; i++) {
    if (!rim[i]) continue
    const share = truth.values[i]
    const should = lab((k) => dark[3 * i + k] * (1 + 3 * share))
    sum += ciede2000(
      lab((k) => ours[3 * i + k]),
      should,
    )
    n++
  }
  return sum / Math.max(n, 1)
}

/** What it costs to find things on 24 megapixels. */
export async function findRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const fit = fitInto(picture.width, picture.height, 1280, 800)
  const plain = readDevelopment({})
  const view = () => picture.view({ development: plain, ...fit, region: { x: 0, y: 0, ...fit } })
  const copy = await clock(20, copyOf(fit.width * fit.height * 12))
  const rows: Row[] = []
  const row = (what: string, ms: number, budget: number) =>
    rows.push({ what, ms, budget, anchor: 'copy of three float planes', anchorMs: copy.median })
  const wishes: [string, number, FindWish][] = [
    ['sky', 1500, { kind: 'found', what: 'sky' }],
    ['ground', 1500, { kind: 'found', what: 'ground' }],
    ['water', 1500, { kind: 'found', what: 'water' }],
    ['subject', 2000, { kind: 'found', what: 'subject' }],
    ['near and far', 2000, { kind: 'distance' }],
  ]
  for (const [name, budget, wish] of wishes) {
    const first: number[] = []
    const again: number[] = []
    for (let i = 0; i < 5; i++) {
      picture.shed()
      await view()
      for (const times of [first, again]) {
        const start = performance.now()
        await picture.ask('found', plain, wish)
        times.push(performance.now() - start)
      }
    }
    row(`${name}, the first time`, summarise(first).median, budget)
    row(`${name}, again`, summarise(again).median, 100)
  }
  engine.stop()
  return rows
}
