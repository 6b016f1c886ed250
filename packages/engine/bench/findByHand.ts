import { readDevelopment, type Development, type ShapeSchema } from '@dunkelkammer/core'
import { demoFrames, type DemoFrame } from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import type { z } from 'zod'
import { builtEngineFiles, createEngine, fitInto, type Engine, type Keeper, type Picture } from '../src/node'
import { clock, copyOf, summarise, type Row } from './measure'
import { scores } from './maskScores'
import { shootFile, truthOf, type Plane } from './truths'

/** What takes a few clicks: samples, regions; and what it costs. */

type Written = z.input<typeof ShapeSchema>
const withShapes = (...shapes: Written[]): Development =>
  readDevelopment({ steps: { areas: { areas: [{ id: 'a', mask: { shapes } }] } } })

const frameOf = (number: string) => demoFrames.find(({ fileName }) => fileName.includes(number))!

/** Sensor coordinates of a place, shares of the picture's width and height. */
const placeOf = ({ width, height }: Picture, [u, v]: readonly [number, number]) => {
  const long = Math.max(width, height)
  return { x: (u * width) / long, y: (v * height) / long }
}

/** The mask of some shapes. @param long its long edge; the picture's where missing */
async function maskOf(picture: Picture, development: Development, long?: number): Promise<Plane> {
  const { width, height, grey } = await picture.ask('mask', development, 0, long)
  return { width, height, values: Float32Array.from(grey, (v) => v / 255) }
}

interface Sampled {
  frame: string
  thing: string
  objects: readonly string[]
  asked: number
  likes: readonly (readonly [number, number])[]
  unlike: readonly [number, number]
  /** Of the likes, long edges. */
  reach: number
  tolerance: number
  withoutSky?: boolean
}

/** Two likes and one unlike each, as one would click them; a windmill is of four things. */
const SAMPLED: readonly Sampled[] = [
  {
    ...{ frame: '0527', thing: 'pale sails', objects: ['sails'], asked: 0.92 },
    ...{
      likes: [
        [0.539, 0.139],
        [0.3363, 0.6513],
      ],
      unlike: [0.83, 0.03],
      reach: 0.6,
      tolerance: 0.2,
    },
  },
  {
    ...{ frame: '0521', thing: 'blue boat', objects: ['blue boat'], asked: 0.92 },
    ...{
      likes: [
        [0.6, 0.87],
        [0.62, 0.817],
      ],
      unlike: [0.6, 0.96],
      reach: 0.2,
      tolerance: 0.15,
    },
  },
  {
    ...{ frame: '0488', thing: 'brick wall', objects: ['front'], asked: 0.92 },
    ...{
      likes: [
        [0.3, 0.6],
        [0.6, 0.4],
      ],
      unlike: [0.5, 0.05],
      reach: 1,
      tolerance: 0.5,
    },
  },
  {
    ...{
      frame: '0527',
      thing: 'windmill, four likes, without the sky',
      objects: ['tower', 'sails'],
      asked: 0.96,
    },
    ...{
      likes: [
        [0.45, 0.7],
        [0.41, 0.48],
        [0.539, 0.139],
        [0.3363, 0.6513],
      ],
      unlike: [0.25, 0.7],
    },
    ...{ reach: 0.6, tolerance: 0.35, withoutSky: true },
  },
]

async function opened<T>(
  engine: Engine,
  frame: DemoFrame,
  how: (picture: Picture) => Promise<T>,
): Promise<T> {
  const picture = await engine.open(shootFile(frame))
  try {
    return await how(picture)
  } finally {
    engine.close(picture)
  }
}

/** How close samples come to what they are meant to take. */
export async function* alikeTable(): AsyncGenerator<string> {
  const engine = createEngine(builtEngineFiles())
  yield '| like this, two likes and one unlike | overlap | asked |\n|---|--:|--:|'
  for (const { frame, thing, objects, asked, likes, unlike, reach, tolerance, withoutSky } of SAMPLED)
    yield await opened(engine, frameOf(frame), async (picture) => {
      const samples = [
        ...likes.map((at) => ({ ...placeOf(picture, at), reach })),
        { ...placeOf(picture, unlike), reach: 1, like: false },
      ]
      const shapes: Written[] = [{ id: 's', kind: 'alike', like: { samples, tolerance } }]
      if (withoutSky) shapes.push({ id: 't', kind: 'found', what: 'sky', way: 'take' })
      const mask = await maskOf(picture, withShapes(...shapes))
      const { overlap } = scores(mask, truthOf(frameOf(frame), ...objects))
      return `| ${frame}, ${thing} | ${overlap.toFixed(3)} | ${asked} |`
    })
  engine.stop()
}

const NAMED: readonly (readonly [frame: string, object: string])[] = [
  ['0527', 'tower'],
  ['0527', 'wood'],
  ['0521', 'red boat'],
  ['0521', 'room'],
  ['0488', 'front'],
  ['0477', 'hedge'],
  ['0477', 'barrow'],
]
const COUNTS = [20, 50, 120] as const
const CLICKS = 3
/** Places that are tried, of those well inside an object. */
const TRIED = 5
const SMALL = 504

/** Places spread over an object. */
function placesIn({ width, height, values }: Plane): [number, number][] {
  const inside = [...values.keys()].filter((i) => values[i] > 0.95)
  return Array.from({ length: TRIED }, (_, k) => {
    const i = inside[Math.floor(((k + 0.5) / TRIED) * inside.length)]
    const long = Math.max(width, height)
    return [((i % width) + 0.5) / long, (Math.floor(i / width) + 0.5) / long]
  })
}

/** How close one to three clicks on regions come to named objects, as fine as suits each best. */
export async function* regionTable(): AsyncGenerator<string> {
  const engine = createEngine(builtEngineFiles())
  yield '| regions, one to three clicks | overlap (0.92 asked) | clicks | regions |\n|---|--:|--:|--:|'
  const all: number[] = []
  for (const [number, object] of NAMED)
    yield await opened(engine, frameOf(number), async (picture) => {
      const truth = truthOf(frameOf(number), object)
      const small = shrunk(truth, SMALL)
      let best = { overlap: 0, at: [] as [number, number][], count: 0 }
      for (const count of COUNTS) {
        let at: [number, number][] = []
        for (let click = 0; click < CLICKS; click++) {
          let next = { overlap: 0, at }
          for (const place of placesIn(truth)) {
            const tried = [...at, place]
            const mask = await maskOf(
              picture,
              withShapes({ id: 's', kind: 'regions', at: tried, count }),
              SMALL,
            )
            const { overlap } = scores(mask, small)
            if (overlap > next.overlap + 0.005) next = { overlap, at: tried }
          }
          if (next.at === at) break
          at = next.at
          if (next.overlap > best.overlap + 0.005) best = { ...next, count }
        }
      }
      const { at, count } = best
      const mask = await maskOf(picture, withShapes({ id: 's', kind: 'regions', at, count }))
      const { overlap } = scores(mask, truth)
      all.push(overlap)
      return `| ${number}, ${object} | ${overlap.toFixed(3)} | ${at.length} | ${count} |`
    })
  yield `\n${all.filter((v) => v >= 0.92).length} of ${all.length} reach 0.92`
  engine.stop()
}

/** The nearest places of a plane made small. */
function shrunk({ width, height, values }: Plane, long: number): Plane {
  const by = Math.max(width, height) / long
  const size = { width: Math.round(width / by), height: Math.round(height / by) }
  const at = (i: number) => {
    const [x, y] = [(i % size.width) + 0.5, Math.floor(i / size.width) + 0.5]
    return values[Math.floor(y * by) * width + Math.floor(x * by)]
  }
  return { ...size, values: Float32Array.from({ length: size.width * size.height }, (_, i) => at(i)) }
}

/** What regions cost on 24 megapixels, and what was found when a picture is opened again. */
export async function handRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const kept = new Map<string, Uint8Array>()
  let write = () => undefined as void
  const written = new Promise<void>((done) => (write = done))
  const keeper: Keeper = {
    get: async (name) => kept.get(name),
    async put(name, bytes) {
      kept.set(name, bytes)
      write()
    },
  }
  const bytes = new Uint8Array(readFileSync(file))
  const plain = readDevelopment({})
  const seen = async () => {
    const picture = await engine.open(bytes, undefined, undefined, keeper)
    const fit = fitInto(picture.width, picture.height, 1280, 800)
    await picture.view({ development: plain, ...fit, region: { x: 0, y: 0, ...fit } })
    return picture
  }
  const copy = await clock(20, copyOf(1280 * 853 * 12))
  const row = (what: string, ms: number, budget: number): Row => ({
    ...{ what, ms, budget, anchor: 'copy of three float planes', anchorMs: copy.median },
  })
  const timed = async (how: () => Promise<unknown>) => {
    const start = performance.now()
    await how()
    return performance.now() - start
  }
  const [first, hover, again]: number[][] = [[], [], []]
  for (let i = 0; i < 4; i++) {
    const picture = await seen()
    const at = (k: number) =>
      picture.ask('regionAt', plain, 0.1 + 0.025 * k, 0.1 + 0.015 * k, 40 + 10 * (k % 9))
    first.push(await timed(() => at(0)))
    for (let k = 0; k < 30; k++) hover.push(await timed(() => at(k)))
    const sky = () => picture.ask('found', plain, { kind: 'found', what: 'sky' })
    if (i > 0) again.push(await timed(sky))
    else {
      await sky()
      await written
    }
    engine.close(picture)
  }
  engine.stop()
  return [
    row('regions, the first time', summarise(first).median, 2000),
    row('the region under the pointer', summarise(hover).median, 33),
    row('sky, of a picture that is opened again', summarise(again).median, 100),
  ]
}
