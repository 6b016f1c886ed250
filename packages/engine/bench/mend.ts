import {
  aroundMiddle,
  bulkName,
  encodePath,
  PatchSchema,
  readDevelopment,
  type Development,
  type Patch,
} from '@dunkelkammer/core'
import { cameraFile, demoFrames, mosaicOf, plainLight, renderCrop, veldrom } from '@dunkelkammer/demo'
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { random } from '../../core/test/bench'
import { builtEngineFiles, createEngine, fitInto, type Engine, type Picture } from '../src/node'
import { projectRoot } from '../src/paths'
import { clock, copyOf, summarise, type Row } from './measure'

const CROP = { width: 600, height: 400 }
const BLEMISHES = 10
/** Grass, water and sky; mist; tiles; a front of bricks. */
const FRAMES = ['HM0417', 'HM0403', 'HM0502', 'HM0488']
/** Of the library's own neighbourhood, pixels. */
const TELEA_RADIUS = 3
/** Mean difference of neighbours, parts of their light, from which on ground counts as textured. */
const TEXTURED = 0.02

interface Disc {
  x: number
  y: number
  radius: number
}
interface Scene {
  name: string
  truth: Float32Array
  blemished: Float32Array
  healed: Float32Array
  discs: readonly Disc[]
}

const development = (patches: readonly Patch[]): Development =>
  readDevelopment({ steps: { patches: { patches } } })

/** A delivered file's linear light, 0..1. */
async function light(picture: Picture, patches: readonly Patch[]): Promise<Float32Array> {
  const { width, height } = picture
  const bytes = await picture.deliver({
    ...{ development: development(patches), space: 'linear-rec2020', width, height, bits: 16 },
  })
  return Float32Array.from(new Uint16Array(bytes.buffer), (v) => v / 65535)
}

/** Places all over a crop, apart from each other. */
function discsOf(seed: number): Disc[] {
  const next = random(seed)
  const out: Disc[] = []
  while (out.length < BLEMISHES) {
    const d = {
      x: 40 + next() * (CROP.width - 80),
      y: 40 + next() * (CROP.height - 80),
      radius: 5 + 9 * next(),
    }
    if (out.every((o) => Math.hypot(o.x - d.x, o.y - d.y) > 60)) out.push(d)
  }
  return out
}

/** The middle of a demo frame, photographed without and with something dark on it, and healed. */
async function sceneOf(engine: Engine, index: number): Promise<Scene> {
  const frame = demoFrames[index]
  const corner = {
    x: Math.floor((frame.width - CROP.width) / 2),
    y: Math.floor((frame.height - CROP.height) / 2),
  }
  const wider = { x: corner.x - 2, y: corner.y - 2, width: CROP.width + 4, height: CROP.height + 4 }
  const rendered = renderCrop(frame.scene, frame.width, frame.height, wider)
  const clean = plainLight(rendered, CROP.width, CROP.height)
  const discs = discsOf(40 + index)
  const dark = clean.map((v, i) => {
    const [x, y] = [Math.floor(i / 3) % CROP.width, Math.floor(i / 3 / CROP.width)]
    return discs.some((d) => Math.hypot(x + 0.5 - d.x, y + 0.5 - d.y) < d.radius - 2) ? v * 0.3 : v
  })
  const crop = { x: 0, y: 0, ...CROP }
  const shot = { iso: 100, exposure: frame.exposure, seed: 7 }
  const file = (rgb: Float32Array) =>
    cameraFile(
      veldrom,
      crop,
      mosaicOf({ ...veldrom, dust: 0, hot: 0, dead: 0 }, shot, rgb, crop),
      frame.takenNeutral,
    )
  const plain = await engine.open(file(clean))
  const truth = await light(plain, [])
  engine.close(plain)
  const picture = await engine.open(file(dark))
  try {
    const patches: Patch[] = []
    for (const [i, d] of discs.entries()) {
      const at = { x: d.x / CROP.width, y: d.y / CROP.width, radius: d.radius / CROP.width }
      const [best] = await picture.ask('sources', development([]), at)
      if (best) patches.push(PatchSchema.parse({ id: `${i}`, ...at, source: [...best.source] }))
    }
    const blemished = await light(picture, [])
    return { name: frame.fileName, truth, blemished, healed: await light(picture, patches), discs }
  } finally {
    engine.close(picture)
  }
}

const within = (d: Disc, from: number, to: number): number[] => {
  const out: number[] = []
  for (let y = Math.floor(d.y - to); y <= d.y + to; y++)
    for (let x = Math.floor(d.x - to); x <= d.x + to; x++) {
      const r = Math.hypot(x + 0.5 - d.x, y + 0.5 - d.y)
      if (r >= from && r <= to) out.push(y * CROP.width + x)
    }
  return out
}

/** Squares of differences within a disc, and how many. */
function error(a: Float32Array, b: Float32Array, d: Disc): { sum: number; n: number } {
  let sum = 0
  const places = within(d, 0, d.radius)
  for (const i of places) for (let c = 0; c < 3; c++) sum += (a[3 * i + c] - b[3 * i + c]) ** 2
  return { sum, n: 3 * places.length }
}

/** How rough the ground around a disc is, against its light. */
function roughness(light: Float32Array, d: Disc): number {
  const places = within(d, d.radius, d.radius * 2)
  let [sum, all] = [0, 0]
  for (const i of places) {
    sum += Math.abs(light[3 * i + 1] - light[3 * (i + 1) + 1])
    all += light[3 * i + 1]
  }
  return sum / all
}

/** The general library's inpainting of the same blemishes; undefined where it is not installed. */
function inpainted(scenes: readonly Scene[]): Float32Array[] | undefined {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-inpaint-'))
  try {
    const lines = scenes.map(({ blemished, discs }, i) => {
      const path = (kind: string) => join(folder, `${i}.${kind}`)
      writeFileSync(path('rgb'), new Uint8Array(blemished.buffer))
      const mask = new Uint8Array(CROP.width * CROP.height)
      for (const d of discs) for (const at of within(d, 0, d.radius)) mask[at] = 255
      writeFileSync(path('mask'), mask)
      return [path('rgb'), path('mask'), path('out'), CROP.width, CROP.height, TELEA_RADIUS].join(' ')
    })
    const script = join(projectRoot(), 'packages/engine/bench/quality/inpaint.py')
    const ran = spawnSync('/usr/bin/python3', [script], { input: lines.join('\n'), encoding: 'utf8' })
    if (ran.status !== 0) return undefined
    return scenes.map(
      (_, i) => new Float32Array(new Uint8Array(readFileSync(join(folder, `${i}.out`))).buffer),
    )
  } finally {
    rmSync(folder, { recursive: true })
  }
}

/** How close healing comes to what lay under blemishes, beside a general library's inpainting; a Markdown table. */
export async function healingTable(): Promise<string> {
  const engine = createEngine(builtEngineFiles())
  const scenes: Scene[] = []
  for (const name of FRAMES)
    scenes.push(
      await sceneOf(
        engine,
        demoFrames.findIndex((f) => f.fileName.startsWith(name)),
      ),
    )
  engine.stop()
  const other = inpainted(scenes)
  const rows = [
    '| ground | blemishes | left as it is, dB | healed, dB | inpainted (Telea), dB | gain | |',
    '|---|--:|--:|--:|--:|--:|---|',
  ]
  for (const [ground, bar] of [
    ['textured', 3],
    ['smooth', 0],
  ] as const) {
    const sums = [0, 0, 0]
    let [n, count] = [0, 0]
    scenes.forEach(({ truth, blemished, healed, discs }, i) => {
      for (const d of discs) {
        if (roughness(truth, d) >= TEXTURED !== (ground === 'textured')) continue
        count++
        n += error(truth, truth, d).n
        for (const [k, of] of [blemished, healed, other?.[i] ?? truth].entries())
          sums[k] += error(of, truth, d).sum
      }
    })
    const [left, ours, theirs] = sums.map((s) => 10 * Math.log10(n / s))
    const gain = ours - theirs
    rows.push(
      other
        ? `| ${ground} | ${count} | ${left.toFixed(1)} | ${ours.toFixed(1)} | ${theirs.toFixed(1)} | ${gain.toFixed(1)} | ${gain >= bar ? 'met' : 'not met'} (${bar}) |`
        : `| ${ground} | ${count} | ${left.toFixed(1)} | ${ours.toFixed(1)} | not installed | | |`,
    )
  }
  return rows.join('\n')
}

/** What patches cost on 24 megapixels, the picture fitted into 1280 x 800 and at 100 %. */
export async function mendRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const next = random(3)
  const patch = (i: number, radius = 0.004): Patch =>
    PatchSchema.parse({
      ...{ id: `${i}`, x: 0.05 + 0.9 * next(), y: 0.05 + 0.55 * next(), radius },
      source: [0.02, 0.01],
    })
  const fit = fitInto(picture.width, picture.height, 1280, 800)
  const small = { ...fit, region: { x: 0, y: 0, ...fit } }
  const full = {
    width: picture.width,
    height: picture.height,
    region: { x: 2000, y: 1500, width: 788, height: 526 },
  }
  const copy = await clock(20, copyOf(fit.width * fit.height * 12))
  const rows: Row[] = []
  const row = (what: string, ms: number, budget?: number) =>
    rows.push({ what, ms, budget, anchor: 'copy of three float planes', anchorMs: copy.median })
  for (const [name, size] of [
    ['fitted', small],
    ['at 100 %', full],
  ] as const)
    for (const before of [0, 500]) {
      const patches = Array.from({ length: before }, (_, i) => patch(i))
      await picture.view({ development: development(patches), ...size })
      const times: number[] = []
      for (let i = 0; i < 21; i++) {
        const p = patch(1000 + i)
        patches.push(
          size === full
            ? { ...p, x: (2100 + 500 * next()) / picture.width, y: (1600 + 300 * next()) / picture.width }
            : p,
        )
        const start = performance.now()
        await picture.view({ development: development(patches), ...size })
        times.push(performance.now() - start)
      }
      // the first of a picture copies what the view needs of what was developed
      const [first, ...later] = times
      if (before === 0) row(`the first spot, ${name}`, first)
      const { median, p95 } = summarise(later)
      row(`a spot beside ${before} others, ${name}, p95; median ${median.toFixed(1)}`, p95, 100)
    }
  const many = development(Array.from({ length: 500 }, (_, i) => patch(i)))
  const open = async (d: Development) => {
    picture.shed()
    const start = performance.now()
    await picture.view({ development: d, ...small })
    return performance.now() - start
  }
  const [without, with500] = [[], []] as number[][]
  for (let i = 0; i < 5; i++) {
    without.push(await open(development([])))
    with500.push(await open(many))
  }
  row('exact fitted picture without patches', summarise(without).median)
  row('the same with 500', summarise(with500).median, summarise(without).median + 300)
  for (const share of [0.01, 0.05]) {
    const side = Math.sqrt(share * picture.width * picture.height)
    const corners = [
      [0, 0],
      [side, 0],
      [side, side],
      [0, side],
    ].map(([x, y]) => ({ x: (2500 + x) / picture.width, y: (2400 + y) / picture.width }))
    const { path, ...middle } = aroundMiddle(corners)
    const bytes = encodePath(path)
    engine.bulkSource = () => Promise.resolve(bytes)
    const gap = PatchSchema.parse({
      ...{ id: 'gap', kind: 'fill', shape: 'outline', ...middle, path: bulkName(bytes) },
    })
    const first = await clock(3, () => picture.ask('fill', development([]), gap, undefined, true))
    row(`a first look at a fill of ${100 * share} %`, first.median)
    const filled = await clock(3, () => picture.ask('fill', development([]), gap))
    row(`a fill of ${100 * share} %`, filled.median, share === 0.05 ? 5000 : undefined)
  }
  row('its source, found', (await clock(10, (i) => picture.ask('sources', development([]), patch(i)))).median)
  engine.stop()
  return rows
}
