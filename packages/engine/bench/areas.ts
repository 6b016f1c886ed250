import { readDevelopment, type Development } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { builtEngineFiles, createEngine, fitInto } from '../src/node'
import { ORDINARY } from './controls'
import { clock, copyOf, summarise, type Row } from './measure'

/** Of areas, each with three shapes and a few steps; every second one reads the picture. */
export const areasOf = (count: number) =>
  Array.from({ length: count }, (_, i) => {
    const [x, y] = [0.15 + 0.7 * ((i * 0.37) % 1), 0.1 + 0.45 * ((i * 0.61) % 1)]
    const oval = { kind: 'oval', x, y, across: 0.14, down: 0.1, turn: (30 * i) % 180 }
    const ramp = { kind: 'ramp', way: 'take', from: [x, y - 0.1], to: [x, y + 0.02] }
    const second = { kind: 'oval', x: x + 0.08, y, across: 0.08, down: 0.12, softness: 0.9 }
    const tones = { kind: 'tones', way: 'common', range: { from: -4, to: 1 } }
    const shapes = [oval, i % 2 ? second : ramp, i % 2 ? tones : second]
    return {
      id: `${i}`,
      mask: { shapes: shapes.map((s, k) => ({ id: `${k}`, ...s })) },
      steps: { exposure: { ev: 0.3 }, tones: { midTones: { lift: 0.3 } }, colourfulness: { all: 0.2 } },
    }
  })

const withAreas = (count: number, ev = 0.4): Development =>
  readDevelopment({ steps: { ...ORDINARY, exposure: { ev }, areas: { areas: areasOf(count) } } })

/** What areas cost on 24 megapixels: in a view while something moves, and in a delivery. */
export async function areaRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const fit = fitInto(picture.width, picture.height, 1280, 800)
  const small = { ...fit, region: { x: 0, y: 0, ...fit } }
  const rows: Row[] = []
  const copy = await clock(20, copyOf(fit.width * fit.height * 12))
  const row = (what: string, ms: number, budget?: number) =>
    rows.push({ what, ms, budget, anchor: 'copy of three float planes', anchorMs: copy.median })
  const moved = async (what: string, budget: number | undefined, of: (i: number) => Development) => {
    for (let i = 0; i < 3; i++) await picture.view({ development: of(-1 - i), ...small, quick: true })
    const times = await clock(40, (i) => picture.view({ development: of(i), ...small, quick: true }))
    row(`${what}, p95; median ${times.median.toFixed(1)}`, times.p95, budget)
  }
  await picture.view({ development: withAreas(5), ...small })
  await moved('exposure of the picture, no areas', undefined, (i) => withAreas(0, 0.4 + i / 100))
  await moved('exposure of the picture, five areas', 50, (i) => withAreas(5, 0.4 + i / 100))
  const five = withAreas(5)
  const changed = (change: (area: (typeof five.steps.areas.areas)[number]) => object) => {
    const areas = five.steps.areas.areas.map((a, k) => (k === 2 ? { ...a, ...change(a) } : a))
    return { ...five, steps: { ...five.steps, areas: { areas } } } as Development
  }
  await moved('a control of one of five areas', 33, (i) =>
    changed((a) => ({ steps: { ...a.steps, exposure: { ev: 0.3 + i / 100 } } })),
  )
  await moved('a shape of one of five areas', 50, (i) =>
    changed(({ mask }) => ({
      mask: { ...mask, shapes: mask.shapes.map((s, k) => (k === 0 ? { ...s, x: 0.5 + i / 1000 } : s)) },
    })),
  )
  const deliver = async (areas: number) => {
    const start = performance.now()
    const { width, height } = picture
    await picture.deliver({ development: withAreas(areas), space: 'srgb', width, height, bits: 8 })
    return performance.now() - start
  }
  const without: number[] = []
  const with30: number[] = []
  for (let i = 0; i < 2; i++) {
    without.push(await deliver(0))
    with30.push(await deliver(30))
  }
  const [none, thirty] = [summarise(without).median, summarise(with30).median]
  row('a delivery without areas', none)
  row('the same with 30', thirty, none + 12_000)
  const plain = await clock(5, async () => {
    picture.shed()
    await picture.view({ development: withAreas(0), ...small })
  })
  const many = await clock(5, async () => {
    picture.shed()
    await picture.view({ development: withAreas(200), ...small })
  })
  row('opening without areas', plain.median)
  row('the same with 200', many.median, plain.median + 500)
  engine.stop()
  return rows
}
