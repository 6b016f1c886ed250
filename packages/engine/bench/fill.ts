import {
  aroundMiddle,
  bulkName,
  ciede2000,
  encodePath,
  PatchSchema,
  readDevelopment,
  regionOf,
  distancesIn,
  toLab,
  working,
  type Patch,
  type Place,
} from '@dunkelkammer/core'
import {
  cableYardBare,
  cameraFile,
  kilnFacade,
  lawnBare,
  mosaicOf,
  plainLight,
  renderCrop,
  sailclothBare,
  veldrom,
} from '@dunkelkammer/demo'
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { builtEngineFiles, createEngine, type Engine, type Picture } from '../src/node'

const CROP = { width: 720, height: 480 }
const FRAME = { width: 1512, height: 1008 }

/** Something that lies over a scene and is to go: corners or a way in pixels of the crop. */
interface Thing {
  shape: 'outline' | 'stroke'
  places: readonly (readonly [number, number])[]
  radius?: number
}

interface Line {
  way: 'across' | 'down'
  from: number
  to: number
  /** The other coordinate, about. */
  near: number
}

interface Case {
  name: string
  scene: Parameters<typeof renderCrop>[0]
  /** Of the crop in the frame. */
  corner: readonly [number, number]
  things: readonly Thing[]
  exposure: number
  /** Straight things that run through what is to go, across or down: between two places, and where across. */
  lines: readonly Line[]
}

const CASES: readonly Case[] = [
  {
    name: 'lawn: hose and barrow',
    scene: lawnBare,
    corner: [330, 380],
    exposure: 0.95,
    things: [
      {
        shape: 'stroke',
        radius: 9,
        places: Array.from({ length: 30 }, (_, i) => [20 + i * 14, 330 + 60 * Math.sin(i / 5)]),
      },
      {
        shape: 'outline',
        places: [
          [480, 90],
          [640, 80],
          [650, 190],
          [560, 230],
          [470, 200],
        ],
      },
    ],
    // the edge of the path
    lines: [{ way: 'down', from: 358, to: 390, near: 50 }],
  },
  {
    name: 'facade: signs',
    scene: cableYardBare,
    corner: [200, 120],
    exposure: 0.72,
    things: [
      {
        shape: 'outline',
        places: [
          [300, 300],
          [400, 300],
          [400, 380],
          [300, 380],
        ],
      },
      {
        shape: 'outline',
        places: [
          [150, 60],
          [240, 60],
          [240, 150],
          [150, 150],
        ],
      },
    ],
    lines: [
      { way: 'across', from: 300, to: 400, near: 345 },
      { way: 'across', from: 150, to: 240, near: 142 },
    ],
  },
  {
    name: 'sailcloth: stains',
    scene: sailclothBare,
    corner: [500, 300],
    exposure: 0.95,
    things: [
      {
        shape: 'outline',
        places: [
          [90, 120],
          [190, 110],
          [200, 210],
          [100, 220],
        ],
      },
      {
        shape: 'outline',
        places: [
          [220, 250],
          [300, 240],
          [310, 330],
          [230, 340],
        ],
      },
    ],
    lines: [{ way: 'down', from: 244, to: 336, near: 250 }],
  },
  {
    name: 'roof against the sky',
    scene: kilnFacade,
    corner: [20, 300],
    exposure: 0.72,
    things: [
      {
        shape: 'outline',
        places: [
          [300, 180],
          [400, 180],
          [400, 290],
          [300, 290],
        ],
      },
    ],
    lines: [{ way: 'down', from: 180, to: 290, near: 348 }],
  },
]

interface Result {
  case: Case
  truth: Float32Array
  found: Float32Array
  inside: Uint8Array
  ms: number
}

const development = (patches: readonly Patch[]) => readDevelopment({ steps: { patches: { patches } } })

async function light(picture: Picture, patches: readonly Patch[]): Promise<Float32Array> {
  const { width, height } = picture
  const bytes = await picture.deliver({
    ...{ development: development(patches), space: 'linear-rec2020', width, height, bits: 16 },
  })
  return Float32Array.from(new Uint16Array(bytes.buffer), (v) => v / 65535)
}

const LONG = Math.max(CROP.width, CROP.height)

/** The patch over a thing, and its path. */
function patchOf({ shape, places, radius = 0 }: Thing, id: string) {
  const { path, ...middle } = aroundMiddle(places.map(([x, y]): Place => ({ x: x / LONG, y: y / LONG })))
  const bytes = encodePath(path)
  const name = bulkName(bytes)
  const patch = PatchSchema.parse({
    ...{ id, kind: 'fill', shape, path: name, softness: 0.05, ...middle },
    radius: (radius || 20) / LONG,
  })
  return { patch, name, bytes, path }
}

const exposed = (one: { exposure: number }) => ({ iso: 100, exposure: one.exposure, seed: 7 })

/** A crop's scene as light, 2 pixels wider to each side. */
const lightOf = ({ scene, corner: [x, y] }: Pick<Case, 'scene' | 'corner'>): Float32Array =>
  renderCrop(scene, FRAME.width, FRAME.height, {
    ...{ x: x - 2, y: y - 2, width: CROP.width + 4, height: CROP.height + 4 },
  })

const MARGIN = 2
/** Where a pixel of the crop lies in that. */
const inLight = (x: number, y: number) => 3 * ((y + MARGIN) * (CROP.width + 2 * MARGIN) + x + MARGIN)

/** The file of a crop. */
function fileOf(rgb: Float32Array, one: { exposure: number }): Uint8Array {
  const crop = { x: 0, y: 0, ...CROP }
  const camera = { ...veldrom, dust: 0, hot: 0, dead: 0 }
  const light = plainLight(rgb, CROP.width, CROP.height)
  return cameraFile(veldrom, crop, mosaicOf(camera, exposed(one), light, crop), [1, 0.985, 0.95])
}

async function truthOf(engine: Engine, rgb: Float32Array, one: { exposure: number }): Promise<Float32Array> {
  const plain = await engine.open(fileOf(rgb, one))
  const truth = await light(plain, [])
  engine.close(plain)
  return truth
}

/** Has a patch filled. */
async function fillIn(
  picture: Picture,
  bulk: Map<string, Uint8Array>,
  patches: readonly Patch[],
  patch: Patch,
) {
  const bytes = await picture.ask('fill', development(patches), patch)
  if (!bytes) return
  patch.filled = bulkName(bytes)
  bulk.set(patch.filled, bytes)
}

/** A crop photographed without and with something on it, and filled. */
async function resultOf(engine: Engine, bulk: Map<string, Uint8Array>, one: Case): Promise<Result> {
  const rendered = lightOf(one)
  const over = new Uint8Array(CROP.width * CROP.height)
  const inside = new Uint8Array(over.length)
  const made = one.things.map((thing, i) => patchOf(thing, `${i}`))
  for (const { patch, name, bytes, path } of made) {
    bulk.set(name, bytes)
    distancesIn(regionOf(patch, LONG, path), { x: 0, y: 0, ...CROP }, 4).forEach((d, i) => {
      if (d <= 0) inside[i] = 1
      if (d <= -3) over[i] = 1
    })
  }
  const truth = await truthOf(engine, rendered, one)
  const covered = rendered.slice()
  for (let j = 0; j < CROP.height; j++)
    for (let i = 0; i < CROP.width; i++)
      if (over[j * CROP.width + i]) covered.set([0.5, 0.06, 0.3], inLight(i, j))
  const picture = await engine.open(fileOf(covered, one))
  try {
    const patches = made.map((m) => m.patch)
    await light(picture, [])
    const start = performance.now()
    for (const patch of patches) await fillIn(picture, bulk, patches, patch)
    const ms = performance.now() - start
    return { case: one, truth, found: await light(picture, patches), inside, ms }
  } finally {
    engine.close(picture)
  }
}

/** Scenes that wires are strung before. */
const WIRED = [
  { name: 'sky', scene: cableYardBare, corner: [620, 2], exposure: 0.72, height: 50 },
  { name: 'brick', scene: cableYardBare, corner: [300, 480], exposure: 0.72, height: 240 },
  { name: 'leaves', scene: lawnBare, corner: [300, 60], exposure: 0.95, height: 110 },
] as const
const WIDTHS = [1, 2, 3, 4]
/** Length of the pieces whose contrast is told, pixels. */
const PIECE = 60

/** How much of wires is left; a Markdown table. */
export async function wireTable(): Promise<string> {
  const engine = createEngine(builtEngineFiles())
  const bulk = new Map<string, Uint8Array>()
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  const rows = [
    `| wire before | width, px | contrast left, all of it | worst ${PIECE} px | |`,
    '|---|--:|--:|--:|---|',
  ]
  for (const one of WIRED) {
    const rendered = lightOf(one)
    const truth = lightness(await truthOf(engine, rendered, one))
    for (const width of WIDTHS) {
      const yAt = (x: number) => one.height + 0.04 * x + 40 * (x / CROP.width - 0.5) ** 2
      const strung = rendered.slice()
      for (let x = 0; x < CROP.width; x++)
        for (let y = Math.floor(yAt(x)) - 5; y <= yAt(x) + 5; y++) {
          if (y < 0 || y >= CROP.height) continue
          const share = Math.min(Math.max(width / 2 + 0.5 - Math.abs(y - yAt(x)), 0), 1)
          for (let c = 0; c < 3; c++) {
            const at = inLight(x, y) + c
            strung[at] += share * (0.02 - strung[at])
          }
        }
      const picture = await engine.open(fileOf(strung, one))
      const end = (x: number): Place => ({ x: (x + 0.5) / LONG, y: (yAt(x) + 0.5) / LONG })
      const found = await picture.ask('wire', development([]), end(8), end(CROP.width - 9))
      const before = lightness(await light(picture, []))
      let after = before
      if (found) {
        const { path, ...middle } = aroundMiddle(found.places)
        const bytes = encodePath(path)
        bulk.set(bulkName(bytes), bytes)
        const patch = PatchSchema.parse({
          ...{ id: 'wire', kind: 'fill', shape: 'stroke', softness: 0.15, radius: found.radius, ...middle },
          path: bulkName(bytes),
        })
        await fillIn(picture, bulk, [patch], patch)
        after = lightness(await light(picture, [patch]))
      }
      engine.close(picture)
      let [all, left, worst] = [0, 0, 0]
      for (let from = 20; from + PIECE <= CROP.width - 20; from += PIECE) {
        let [was, is] = [0, 0]
        for (let x = from; x < from + PIECE; x++)
          for (let d = -1; d <= 1; d++) {
            const i = Math.round(yAt(x) + d) * CROP.width + x
            was += before[i] - truth[i]
            is += after[i] - truth[i]
          }
        all += was
        left += is
        worst = Math.max(worst, Math.abs(is / was))
      }
      const share = Math.abs(left / all)
      const percent = (v: number) => `${(100 * v).toFixed(0)} %`
      rows.push(
        `| ${one.name} | ${width} | ${percent(share)} | ${percent(worst)} | ${share <= 0.2 ? 'met' : 'not met'} (20 %) |`,
      )
    }
  }
  engine.stop()
  return rows.join('\n')
}

/** Roots of luminance: noise and texture weigh alike in light and shade. */
const lightness = (rgb: Float32Array): Float32Array =>
  Float32Array.from({ length: rgb.length / 3 }, (_, i) =>
    Math.sqrt(0.2627 * rgb[3 * i] + 0.678 * rgb[3 * i + 1] + 0.0593 * rgb[3 * i + 2]),
  )

function blurred(values: Float32Array, radius: number): Float32Array {
  const { width, height } = CROP
  const run = (from: Float32Array, step: number, across: number, lines: number, next: number) => {
    const out = new Float32Array(from.length)
    for (let l = 0; l < lines; l++)
      for (let i = 0; i < across; i++) {
        let sum = 0
        for (let k = -radius; k <= radius; k++)
          sum += from[l * next + Math.min(Math.max(i + k, 0), across - 1) * step]
        out[l * next + i * step] = sum / (2 * radius + 1)
      }
    return out
  }
  return run(run(values, 1, width, height, width), width, height, width, 1)
}

/** Energy in three bands, finest first, over marked places. */
function bands(rgb: Float32Array, marks: (i: number) => boolean): number[] {
  const l = lightness(rgb)
  const levels = [l, ...[1, 2, 4].map((r) => blurred(l, r))]
  return [0, 1, 2].map((b) => {
    let [sum, n] = [0, 0]
    for (let i = 0; i < l.length; i++)
      if (marks(i)) {
        sum += (levels[b][i] - levels[b + 1][i]) ** 2
        n++
      }
    return Math.sqrt(sum / n)
  })
}

/** The mean colour of marked places, as Lab. */
function meanLab(rgb: Float32Array, marks: Uint8Array) {
  const sums: [number, number, number] = [0, 0, 0]
  let n = 0
  marks.forEach((m, i) => {
    if (!m) return
    n++
    for (let c = 0; c < 3; c++) sums[c] += rgb[3 * i + c]
  })
  return toLab(working, sums.map((s) => s / n) as [number, number, number])
}

/** Pixels of a line that are compared at once, how far to its sides, and how far off it may be found. */
const ALONG = 8
const ASIDE = 12
const FARTHEST = 6

/** How far lines are off at most where they run through what was filled, pixels. */
function worstLine({ case: { lines }, truth, found }: Result): number {
  const [a, b] = [truth, found].map(lightness)
  const profile = (l: Float32Array, { way, near }: Line, from: number, shift: number) =>
    Array.from({ length: 2 * ASIDE + 1 }, (_, k) => {
      const at = near - ASIDE + k + shift
      const whole = Math.floor(at)
      let sum = 0
      for (let i = from; i < from + ALONG; i++) {
        const value = (v: number) => (way === 'across' ? l[v * CROP.width + i] : l[i * CROP.width + v])
        sum += value(whole) + (at - whole) * (value(whole + 1) - value(whole))
      }
      return sum / ALONG
    })
  let worst = 0
  for (const line of lines)
    for (let from = line.from; from + ALONG <= line.to; from += ALONG) {
      const there = profile(a, line, from, 0)
      let [best, off] = [Infinity, 0]
      for (let shift = -FARTHEST; shift <= FARTHEST; shift += 0.25) {
        const here = profile(b, line, from, shift)
        const sum = here.reduce((s, v, k) => s + (v - there[k]) ** 2, 0)
        if (sum < best) [best, off] = [sum, shift]
      }
      worst = Math.max(worst, Math.abs(off))
    }
  return worst
}

/** How filling continues what is around gaps; a Markdown table. @param folder where pictures of them are written */
export async function fillTable(folder?: string): Promise<string> {
  const engine = createEngine(builtEngineFiles())
  const bulk = new Map<string, Uint8Array>()
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  const rows = [
    '| scene | energy against the truth there, fine, medium, coarse | against the surroundings | lines off at most, px | colour, CIEDE2000 | ms |',
    '|---|---|---|--:|--:|--:|',
  ]
  for (const one of CASES) {
    const result = await resultOf(engine, bulk, one)
    const { truth, found, inside, ms } = result
    const around = blurred(Float32Array.from(inside), 16)
    const own = bands(found, (i) => inside[i] === 1)
    const there = bands(truth, (i) => inside[i] === 1)
    const beside = bands(truth, (i) => !inside[i] && around[i] > 0)
    const share = (of: number[]) => own.map((v, b) => `${Math.round((100 * v) / of[b])} %`).join(', ')
    const colour = ciede2000(meanLab(found, inside), meanLab(truth, inside))
    rows.push(
      `| ${one.name} | ${share(there)} | ${share(beside)} | ${worstLine(result).toFixed(2)} | ${colour.toFixed(2)} | ${ms.toFixed(0)} |`,
    )
    if (folder)
      for (const [kind, rgb] of [
        ['truth', truth],
        ['found', found],
      ] as const)
        writeFileSync(
          join(folder, `${one.name.replace(/\W+/g, '-')}-${kind}.rgb`),
          Uint8Array.from(rgb, (v) => Math.round(255 * Math.min(Math.max(v, 0), 1) ** (1 / 2.2))),
        )
  }
  engine.stop()
  return rows.join('\n')
}
