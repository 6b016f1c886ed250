import { readDevelopment, type Development } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { builtEngineFiles, createEngine, type Engine } from '../src/node'
import { clock, copyOf, type Row } from './measure'
import { develop, ISOS, noisyCrops, nonLocalMeans, score, type NoisyCrop, type Score } from './quality/noise'

type Part = Record<string, object>
const only = (steps: Part): Development => readDevelopment({ steps })
const STRENGTHS = [0.8, 1, 1.25]

/** A crop as it is shown while a control moves: the draft. */
async function drafted(
  engine: Engine,
  { dng, width, height }: NoisyCrop,
  strength: number,
): Promise<Uint8Array> {
  const picture = await engine.open(dng)
  try {
    const noise = { mode: 'hand', luminance: strength, colour: strength, blotches: strength }
    const region = { x: 0, y: 0, width, height }
    const { rgba } = await picture.view({ development: only({ noise }), width, height, region, quick: true })
    return Uint8Array.from({ length: width * height * 3 }, (_, i) => rgba[Math.floor(i / 3) * 4 + (i % 3)])
  } finally {
    engine.close(picture)
  }
}

const best = (scores: readonly Score[]) => scores.reduce((a, b) => (b.psnr > a.psnr ? b : a))

/** Noise reduction against truth, beside a general library's non-local means, each at its best strength. */
export async function noiseTable(engine: Engine): Promise<string> {
  const crops = await noisyCrops(engine)
  const noisy: { picture: Uint8Array; crop: NoisyCrop }[] = []
  for (const crop of crops) noisy.push({ picture: await develop(engine, crop.dng), crop })
  const theirs = nonLocalMeans(noisy)
  const rows: { iso: number; cells: number[] }[] = []
  for (const [i, crop] of crops.entries()) {
    const drafts: Score[] = []
    const fines: Score[] = []
    for (const s of STRENGTHS) {
      drafts.push(score(await drafted(engine, crop, s), crop))
      const noise = { mode: 'hand', luminance: s, colour: s, blotches: s }
      fines.push(score(await develop(engine, crop.dng, { noise }), crop))
    }
    const automatic = score(await develop(engine, crop.dng, { noise: { mode: 'automatic' } }), crop)
    const [none, draft, fine] = [score(noisy[i].picture, crop), best(drafts), best(fines)]
    const other = theirs?.[i].score ?? { psnr: NaN, de: NaN, chroma: NaN }
    rows.push({
      iso: crop.iso,
      cells: [
        ...[none.psnr, other.psnr, draft.psnr, fine.psnr, automatic.psnr],
        ...[other.de, draft.de, fine.de, other.chroma, draft.chroma, fine.chroma],
      ],
    })
  }
  const means = ISOS.map((iso) => {
    const some = rows.filter((r) => r.iso === iso)
    const mean = some[0].cells.map((_, k) => some.reduce((s, r) => s + r.cells[k], 0) / some.length)
    return `| ${iso} | ${mean.map((v) => (Number.isNaN(v) ? 'not installed' : v.toFixed(2))).join(' | ')} |`
  })
  return [
    theirs ? '' : 'Debian’s python3-opencv is not installed: non-local means were not run.',
    `| ISO, means of ${crops.length / ISOS.length} crops | PSNR noisy | non-local means | draft | fine | automatic | CIEDE2000 non-local means | draft | fine | chroma error non-local means | draft | fine |`,
    '|--:|--:|--:|--:|--:|--:|--:|--:|--:|--:|--:|--:|',
    ...means,
    theirs
      ? `\nNon-local means took ${(theirs.reduce((s, t) => s + t.ms, 0) / theirs.length).toFixed(0)} ms for each crop of ${crops[0].width} x ${crops[0].height}.`
      : '',
  ].join('\n')
}

/** What refining costs on 24 megapixels. */
export async function refineRows(file: string): Promise<Row[]> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const { width, height } = picture
  const full = { width, height }
  const copy = await clock(5, copyOf(width * height * 4))
  const fit = { width: 1200, height: 800 }
  const whole = { ...fit, region: { x: 0, y: 0, ...fit } }
  const part = { ...full, region: { x: 1400, y: 1100, width: 1280, height: 800 } }
  // every run with settings of its own, so that nothing is at hand already
  let n = 0
  const fresh = (steps: Part = {}) => only({ demosaic: { falseColour: 0.5 + ++n * 1e-4 }, ...steps })
  const noise = { mode: 'automatic' }
  const none = await clock(3, () => picture.view({ development: fresh(), ...whole }))
  const draft = await clock(3, () => picture.view({ development: fresh({ noise }), ...whole }))
  const placeNone = await clock(5, () => picture.view({ development: fresh(), ...part }))
  const placeDraft = await clock(5, () =>
    picture.view({ development: fresh({ noise }), ...part, quick: true }),
  )
  const placeFine = await clock(5, () => picture.view({ development: fresh({ noise }), ...part }))
  const deliver = (steps: Part) => () =>
    picture.deliver({ development: fresh(steps), space: 'srgb', ...full, bits: 8 })
  const plain = await clock(3, deliver({}))
  const fine = await clock(3, deliver({ noise }))
  const sharp = await clock(3, deliver({ sharpen: { amount: 1 } }))
  const relief = await clock(
    3,
    deliver({ relief: { fine: 0.3, medium: 0.3, broad: 0.3 }, haze: { strength: 0.5 } }),
  )
  const softness = await clock(2, () => picture.ask('softness', fresh()))
  const anchor = { anchor: 'copy of four bytes a pixel', anchorMs: copy.median }
  const beside = { anchor: 'the same without', anchorMs: plain.median }
  const row = (what: string, ms: number, budget?: number) => ({ what, ms, budget, ...anchor })
  return [
    row(
      'draft noise reduction of 24 megapixels, by what a fitted view takes longer',
      draft.median - none.median,
      1000,
    ),
    row(
      'fine noise reduction of 24 megapixels, by what a delivery takes longer',
      fine.median - plain.median,
      20000,
    ),
    row('an unseen place of 1280 x 800 at 100 %, without noise reduction', placeNone.median),
    row('the same in draft', placeDraft.median),
    row('the same in fine', placeFine.median, 400),
    { what: 'delivery with sharpening', ms: sharp.median, ...beside },
    { what: 'delivery with relief and haze', ms: relief.median, ...beside },
    { what: 'delivery with fine noise reduction', ms: fine.median, ...beside },
    row('measuring how soft a picture is', softness.median),
    row(
      `memory of the engine at most, MB (${(process.memoryUsage().rss / 1e6).toFixed(0)} the process)`,
      engine.usage.peak / 1e6,
    ),
  ]
}
