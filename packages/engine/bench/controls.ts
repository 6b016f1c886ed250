import { changesBetween, readDevelopment, type Development } from '@dunkelkammer/core'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { builtEngineFiles, createEngine, fitInto } from '../src/node'
import { clock, copyOf, summarise, type Row } from './measure'
import { controlTimes, serve, startBrowser, watchCanvases } from './page'

/** An ordinary development with ten steps at work. */
export const ORDINARY = {
  cameraColour: { source: 'kelvin', kelvin: 5200, tint: 5 },
  exposure: { ev: 0.4 },
  tones: { shadows: { lift: 0.8 }, highlights: { lift: -0.5 } },
  points: { black: -8, white: 2.9 },
  baseRendering: { grade: 2.5 },
  curve: {
    luminance: [
      [0, 0],
      [0.3, 0.28],
      [0.7, 0.73],
      [1, 1],
    ],
  },
  hueNodes: { nodes: [30, 90, 150, 210, 270, 330].map((hue, i) => ({ hue, colour: i % 2 ? 0.1 : -0.1 })) },
  colourfulness: { muted: 0.2 },
  tints: {
    stops: [
      { at: 0.25, hue: 250, strength: 0.2 },
      { at: 0.8, hue: 70, strength: 0.2 },
    ],
  },
  edgeBurn: { ev: -0.5 },
}
type Part = Record<string, object>

/** The controls that are moved: where each is from 0 to 1. */
const CONTROLS: readonly { what: string; at(v: number): Part }[] = [
  {
    what: 'colour of the light',
    at: (v) => ({ cameraColour: { source: 'kelvin', kelvin: Math.round(4000 + 2000 * v) } }),
  },
  { what: 'exposure', at: (v) => ({ exposure: { ev: v } }) },
  { what: 'shadows', at: (v) => ({ tones: { shadows: { lift: v } } }) },
  { what: 'highlight recovery', at: (v) => ({ recovery: { amount: 0.1 + 0.8 * v } }) },
  { what: 'even lighting', at: (v) => ({ evenLighting: { amount: 0.1 + 0.8 * v } }) },
  { what: 'white point', at: (v) => ({ points: { white: 2.5 + v } }) },
  { what: 'grade', at: (v) => ({ baseRendering: { grade: 2 + v } }) },
  { what: 'shoulder', at: (v) => ({ baseRendering: { grade: 2.5, shoulder: 0.1 + 0.8 * v } }) },
  {
    what: 'curve',
    at: (v) => ({
      curve: {
        luminance: [
          [0, 0],
          [0.5, 0.4 + 0.2 * v],
          [1, 1],
        ],
      },
    }),
  },
  { what: 'curve by ranges', at: (v) => ({ rangeCurve: { all: { middle: 0.1 + v * 0.8 } } }) },
  { what: 'primaries', at: (v) => ({ primaries: { red: { turn: 1 + 9 * v } } }) },
  {
    what: 'a hue node',
    at: (v) => ({
      hueNodes: { nodes: ORDINARY.hueNodes.nodes.map((n, i) => (i ? n : { ...n, colour: v })) },
    }),
  },
  { what: 'muted colours', at: (v) => ({ colourfulness: { muted: 0.1 + 0.8 * v } }) },
  { what: 'a tint', at: (v) => ({ tints: { stops: [{ at: 0.3, hue: 250, strength: 0.1 + 0.8 * v }] } }) },
  {
    what: 'density of a lens filter',
    at: (v) => ({ monochrome: { on: true, filter: 'red', density: 0.5 + v } }),
  },
  { what: 'toning', at: (v) => ({ toning: { toner: 'sepia', strength: 0.1 + 0.8 * v } }) },
  { what: 'edge burn', at: (v) => ({ edgeBurn: { ev: -0.1 - v } }) },
  { what: 'film grain', at: (v) => ({ grain: { strength: 0.1 + 0.8 * v } }) },
]

const development = (part: Part): Development => readDevelopment({ steps: { ...ORDINARY, ...part } })

/** Each control of tone and colour moved in an ordinary development, the picture fitted into 1280 x 800. */
export async function controlRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const size = fitInto(picture.width, picture.height, 1280, 800)
  const region = { x: 0, y: 0, ...size }
  const copy = await clock(20, copyOf(size.width * size.height * 12))
  const rows: Row[] = []
  for (const { what, at } of CONTROLS) {
    let reuse: Uint8ClampedArray<ArrayBuffer> | undefined
    const move = async (i: number) => {
      // there and back, as a hand does
      const v = Math.abs(((i % 40) - 20) / 20)
      const view = await picture.view({ development: development(at(v)), ...size, region, reuse })
      reuse = view.rgba
    }
    await clock(6, move)
    const times = await clock(60, (i) => move(i + 6))
    rows.push(
      {
        what: `${what}, p95`,
        ms: times.p95,
        budget: 33,
        anchor: 'copy of three float planes',
        anchorMs: copy.median,
      },
      {
        what: `${what}, median`,
        ms: times.median,
        anchor: 'copy of three float planes',
        anchorMs: copy.median,
      },
    )
  }
  engine.stop()
  return rows
}

/** Controls of the bench that are stepped by key: their stage and label. */
const BY_KEY = [
  ['expose', 'Exposure'],
  ['expose', 'Shadows'],
  ['expose', 'White point'],
  ['expose', 'Grade'],
  ['balance', 'Colour temperature'],
  ['balance', 'Muted colours'],
  ['balance', 'Colourfulness'],
  ['finish', 'Softness'],
] as const

/** Which controls are stepped by key, in which development beside the ordinary one, and how long each may take. */
interface Keyed {
  keys: readonly (readonly [stage: string, label: string])[]
  steps: Part
  budget: number
}

/** The same at the open bench in Chromium, window 1280 x 800, from key to canvas. */
export async function benchControlRows(
  file: string,
  { keys = BY_KEY, steps = {}, budget = 33 }: Partial<Keyed> = {},
): Promise<Row[]> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-bench-'))
  const { url, process: server } = await serve(library)
  const browser = await startBrowser()
  try {
    const send = async (method: string, path: string, body: unknown) =>
      (
        await fetch(`${url}/api${path}`, {
          method,
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify(body),
        })
      ).json()
    const shoot = await send('POST', '/shoots', { name: 'bench' })
    const added = await fetch(`${url}/api/shoots/${shoot.id}/frames?name=bench.dng`, {
      method: 'POST',
      body: readFileSync(file),
    })
    const { frame } = (await added.json()) as { frame: { id: string } }
    const { versions } = await (await fetch(`${url}/api/frames/${frame.id}`)).json()
    const changes = changesBetween(readDevelopment(versions[0].development), development(steps))
    const words = { label: 'Ordinary', time: new Date().toISOString() }
    const operations = [{ kind: 'change', id: randomUUID(), parent: null, changes, ...words }]
    await send('POST', `/versions/${versions[0].id}/log`, { base: null, operations })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await watchCanvases(page)
    const copy = await clock(20, copyOf(788 * 526 * 12))
    const rows: Row[] = []
    for (const [stage, label] of keys) {
      await page.goto(`${url}/shoots/${shoot.id}/frames/${frame.id}?stage=${stage}`)
      await page.waitForSelector('canvas[aria-label="The developed picture"]', { timeout: 60000 })
      // the first time the server makes its thumbnail beside
      await page.waitForTimeout(rows.length === 0 ? 8000 : 800)
      const times = summarise((await controlTimes(page, 60, label)).slice(6))
      rows.push({
        what: `${label}, at the bench (browser), p95; median ${times.median.toFixed(1)}`,
        ms: times.p95,
        budget,
        anchor: 'copy of three float planes',
        anchorMs: copy.median,
      })
    }
    return rows
  } finally {
    await browser.close()
    server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
