import { demoFrames } from '@dunkelkammer/demo'
import type { Engine } from '../../src/node'
import { CHART_HEIGHT, CHART_WIDTH, chartErrors, chartFile } from '../../test/chart'
import { LAMPS, type LampName } from '@dunkelkammer/demo'
import { readDevelopment } from '@dunkelkammer/core'
import { byItselfTable } from './byItself'
import { SIX, trueCrops } from './crops'
import { balanceOf, bilinear, cpsnr, ours, theirs } from './demosaic'
import { enlargeTable } from './enlarge'
import { fringesTable } from './fringes'
import { hazeTable } from './haze'
import { clippedPhotograph, clippedScene, highlightErrors } from './highlights'
import { library } from './library'
import { photographs } from './photographs'
import { sharpenTable } from './sharpen'
import { toneTable } from './tones'
import { whiteTable } from './white'

/** Interpolations that the library offers; which one is its best is found out. */
const OFFERED = [0, 1, 2, 3, 4, 11, 12]

const row = (cells: readonly (string | number)[]) =>
  `| ${cells.map((c) => (typeof c === 'number' ? c.toFixed(2) : c)).join(' | ')} |`
const mean = (v: readonly number[]) => v.reduce((s, x) => s + x, 0) / v.length

/** Demosaic against truth, beside the raw decoding library's default and best. */
async function demosaicTable(engine: Engine): Promise<string[]> {
  const Raw = await library()
  const rows: number[][] = []
  const names: string[] = []
  for (const crop of trueCrops()) {
    const balance = balanceOf(crop)
    const each = [cpsnr(bilinear(crop), crop, balance), cpsnr(await theirs(Raw, crop, {}), crop, balance)]
    for (const userQual of OFFERED) each.push(cpsnr(await theirs(Raw, crop, { userQual }), crop, balance))
    each.push(cpsnr(await ours(engine, crop), crop, balance))
    rows.push(each)
    names.push(crop.name)
  }
  const means = rows[0].map((_, k) => mean(rows.map((r) => r[k])))
  const offered = means.slice(2, 2 + OFFERED.length)
  const best = 2 + offered.indexOf(Math.max(...offered))
  const pick = (r: readonly number[]) => [r[0], r[1], r[best], r.at(-1)!, r.at(-1)! - r[best]]
  return [
    `\n| demosaic of 2 x 2, CPSNR in dB | bilinear | library, default | library, best (${OFFERED[best - 2]}) | ours | gain |`,
    '|---|--:|--:|--:|--:|--:|',
    ...rows.map((r, i) => row([names[i], ...pick(r)])),
    row(['mean', ...pick(means)]),
  ]
}

async function largeTable(engine: Engine): Promise<string[]> {
  const rows: string[] = []
  const all: number[][] = []
  for (const crop of trueCrops(SIX)) {
    const balance = balanceOf(crop)
    const each = [cpsnr(bilinear(crop), crop, balance), cpsnr(await ours(engine, crop), crop, balance)]
    all.push(each)
    rows.push(row([crop.name, ...each]))
  }
  return [
    '\n| demosaic of 6 x 6, CPSNR in dB | bilinear | ours |',
    '|---|--:|--:|',
    ...rows,
    row(['mean', mean(all.map((r) => r[0])), mean(all.map((r) => r[1]))]),
  ]
}

/** Scenes, and how often more light they get than their own exposure. */
const EXPOSURES = [
  [2, 2.2],
  [0, 1.2],
  [1, 4],
  [3, 3],
  [5, 3],
] as const
/** Stops by which photographs are overexposed. */
const OVER = 1.5
/** Places of a kind below which a picture says nothing of it. */
const FEW = 100

async function highlightTable(engine: Engine, folder?: string): Promise<string[]> {
  const crops = EXPOSURES.map(([i, exposure]) => {
    const { scene, takenNeutral } = demoFrames[i]
    return { ...clippedScene(scene, exposure, takenNeutral), name: `${scene.title}, exposure ${exposure}` }
  })
  for (const photograph of await photographs(folder)) crops.push(clippedPhotograph(photograph, OVER))
  const out: string[] = []
  const all: number[][] = [[], [], [], [], [], []]
  for (const crop of crops) {
    const plain = await highlightErrors(engine, crop, 0)
    const rebuilt = await highlightErrors(engine, crop, 1)
    const cells = plain.flatMap(({ mean, count }, k) => {
      if (count < FEW) return ['', '', '']
      all[2 * k].push(mean)
      all[2 * k + 1].push(rebuilt[k].mean)
      return [String(count), mean, rebuilt[k].mean]
    })
    out.push(row([crop.name, ...cells]))
  }
  const means = [0, 1, 2].flatMap((k) => ['', mean(all[2 * k]), mean(all[2 * k + 1])])
  return [
    '\n| mean CIEDE2000 by clipped channels: places, cut, rebuilt | one | cut | rebuilt | two | cut | rebuilt | three | cut | rebuilt |',
    '|---|--:|--:|--:|--:|--:|--:|--:|--:|--:|',
    ...out,
    row(['mean', ...means]),
  ]
}

async function chartTable(engine: Engine): Promise<string[]> {
  const out: string[] = []
  for (const lamp of Object.keys(LAMPS) as LampName[]) {
    const picture = await engine.open(chartFile(lamp, 0.5))
    const size = { width: CHART_WIDTH, height: CHART_HEIGHT }
    const development = readDevelopment({})
    const bytes = await picture.deliver({ development, space: 'linear-rec2020', ...size, bits: 16 })
    engine.close(picture)
    const errors = chartErrors(lamp, new Uint16Array(bytes.buffer), 0.5)
    out.push(row([lamp, mean(errors), Math.max(...errors)]))
  }
  return ['\n| chart of 24 patches, CIEDE2000 | mean | largest |', '|---|--:|--:|', ...out]
}

/**
 * How good the pictures are, against the truth of the simulated camera: a table at a time, as they are measured.
 * @param folder with photographs to be photographed by it besides the scenes
 * @param only names of tables; all where missing or empty
 */
export async function* qualityReport(
  engine: Engine,
  folder?: string,
  only: readonly string[] = [],
): AsyncGenerator<string> {
  const tables: Record<string, () => Promise<string[]>> = {
    demosaic: async () => [...(await demosaicTable(engine)), ...(await largeTable(engine))],
    fringes: async () => fringesTable(engine, await photographs(folder, 2 * 360)),
    highlights: () => highlightTable(engine, folder),
    tones: () => toneTable(engine),
    haze: async () => hazeTable(engine, await photographs(folder)),
    enlarge: () => enlargeTable(engine),
    sharpen: () => sharpenTable(engine),
    chart: () => chartTable(engine),
    automatic: () => byItselfTable(engine),
    white: async () => whiteTable(engine, await photographs(folder, 244)),
  }
  for (const [name, table] of Object.entries(tables))
    if (only.length === 0 || only.includes(name)) yield (await table()).join('\n')
}
