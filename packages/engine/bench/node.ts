import { bitsOf, DeliverySchema } from '@dunkelkammer/core'
import type { Development } from '@dunkelkammer/core'
import { readDevelopment } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { delivered, encoded, type EncodedPicture } from '../test/delivered'
import { builtEngineFiles, createEngine, fitInto } from '../src/node'
import { clock, copyOf, type Row } from './measure'
import { library } from './quality/library'

const settings = (ev: number): Development =>
  readDevelopment({
    steps: {
      exposure: { ev },
      baseRendering: { grade: 2.5 },
      cameraColour: { source: 'kelvin', kelvin: 5200, tint: 5 },
    },
  })

/** Rows that need no browser: reading, developing, delivering. */
export async function nodeRows(file: string): Promise<Row[]> {
  const rows: Row[] = []
  const bytes = new Uint8Array(readFileSync(file))
  const engine = createEngine(builtEngineFiles())
  const Library = await library()

  const theirs = await clock(3, async () => {
    const raw = new Library()
    await raw.open(bytes, {})
    await raw.imageData()
  })
  let picture = await engine.open(bytes)
  const size = fitInto(picture.width, picture.height, 1280, 800)
  const region = { x: 0, y: 0, ...size }

  const decode = await clock(5, async () => {
    engine.close(picture)
    picture = await engine.open(bytes)
  })
  const copyMosaic = await clock(5, copyOf(picture.width * picture.height * 2))
  rows.push({
    what: 'read the file, decode its mosaic and look it over, 24 MP',
    ms: decode.median,
    anchor: 'copy of the mosaic',
    anchorMs: copyMosaic.median,
  })
  const theirDecode = await clock(3, async () => {
    const raw = new Library()
    await raw.open(bytes, {})
    await raw.rawImageData()
  })
  rows.push({
    what: 'the same beside the raw library’s decoding',
    ms: decode.median,
    anchor: 'the library’s decoding',
    anchorMs: theirDecode.median,
  })

  const exact = await clock(5, async () => {
    engine.close(picture)
    picture = await engine.open(bytes)
    await picture.view({ development: settings(0), ...size, region })
  })
  rows.push({
    what: 'exact fitted picture from the file (Node)',
    ms: exact.median,
    budget: 1500,
    anchor: 'the raw library’s own development',
    anchorMs: theirs.median,
  })

  const develop = await clock(5, async () => {
    picture.shed()
    // to the end in camera colours: all of the mosaic, and nothing after it
    const { width, height } = picture
    await picture.deliver({ development: settings(0), space: 'camera', bits: 16, width, height })
  })
  const copyPicture = await clock(5, copyOf(picture.width * picture.height * 12))
  rows.push({
    what: 'defects, greens, highlights and demosaic handed out, 24 MP',
    ms: develop.median,
    anchor: 'copy of three float planes',
    anchorMs: copyPicture.median,
  })
  rows.push({
    what: 'the same beside the library’s development less its decoding',
    ms: develop.median,
    anchor: 'the library’s processing',
    anchorMs: theirs.median - theirDecode.median,
  })
  const quick = await clock(5, async () => {
    picture.shed()
    await picture.view({ development: settings(0), ...size, region, quick: true })
  })
  rows.push({
    what: 'quick fitted picture while a control before the demosaic moves',
    ms: quick.median,
    anchor: 'copy of three float planes',
    anchorMs: copyPicture.median,
  })

  await picture.view({ development: settings(0), ...size, region })
  const control = await clock(60, (i) =>
    picture.view({ development: settings((i % 20) / 10), ...size, region }),
  )
  const copyView = await clock(20, copyOf(size.width * size.height * 12))
  rows.push({
    what: 'moving a tonal control, fitted 1280 x 800, p95 (Node)',
    ms: control.p95,
    budget: 33,
    anchor: 'copy of three float planes',
    anchorMs: copyView.median,
  })

  const place = { width: 1280, height: 800 }
  const pan = await clock(40, (i) =>
    picture.view({
      development: settings(0),
      width: picture.width,
      height: picture.height,
      region: { x: (i * 613) % (picture.width - 1280), y: (i * 397) % (picture.height - 800), ...place },
    }),
  )
  rows.push({
    what: 'an unseen place at 100 %, 1280 x 800, p95 (Node)',
    ms: pan.p95,
    budget: 120,
    anchor: 'copy of three float planes',
    anchorMs: copyView.median,
  })

  for (const [label, options, budget] of [
    ['export to JPEG, quality 90', { format: { kind: 'jpeg', quality: 90 }, space: 'srgb' }, 4000],
    [
      'export to TIFF, 16 bit, deflate',
      { format: { kind: 'tiff', bits: 16, compression: 'deflate' }, space: 'romm' },
      undefined,
    ],
  ] as const) {
    const full = await clock(5, async () => {
      engine.close(picture)
      picture = await engine.open(bytes)
      await delivered(picture, settings(0.3), options, { metadata: picture.frame.metadata })
    })
    const whole = { width: picture.width, height: picture.height }
    const { format } = DeliverySchema.parse(options) as { format: EncodedPicture['format'] }
    const bits = bitsOf(format)
    const pixels = await picture.deliver({
      development: settings(0.3),
      space: options.space,
      bits,
      ...whole,
    })
    const encoder = await clock(3, () =>
      encoded(pixels, {
        ...{ format, bits, space: options.space, ...whole },
        metadata: picture.frame.metadata,
      }),
    )
    rows.push({
      what: `${label}, from the file`,
      ms: full.median,
      budget,
      anchor: 'the encoder alone',
      anchorMs: encoder.median,
    })
  }
  engine.stop()
  return rows
}

/** Peak resident memory of this process after one piece of work, MB. */
export async function peakOf(work: 'edit' | 'export', file: string): Promise<number> {
  const engine = createEngine(builtEngineFiles())
  const picture = await engine.open(new Uint8Array(readFileSync(file)))
  const size = fitInto(picture.width, picture.height, 1280, 800)
  if (work === 'edit')
    for (let i = 0; i < 10; i++)
      await picture.view({ development: settings(i / 10), ...size, region: { x: 0, y: 0, ...size } })
  else await delivered(picture, settings(0.3), { format: { kind: 'jpeg', quality: 90 } })
  engine.stop()
  return process.resourceUsage().maxRSS / 1024
}
