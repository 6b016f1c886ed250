import { decode, readDevelopment, srgb, toLab, type Development, type Triple } from '@dunkelkammer/core'
import { cameraFile, demoFrames, levelsOf, noiseOf, photographCrop, veldrom } from '@dunkelkammer/demo'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { automatic, fitLongEdge, projectRoot, type Engine, type Picture } from '../../src/node'

/** Mean colour and clipping of a picture as it would be delivered, small. */
export interface Impression {
  /** Mean L*, a* and b*. */
  lab: Triple
  chroma: number
  /** Share of pixels with a channel at either end. */
  clipped: number
}

export async function impression(picture: Picture, development: Development): Promise<Impression> {
  const { finished } = await picture.square(development)
  const size = fitLongEdge(finished.width, finished.height, 600)
  const bytes = await picture.deliver({ development, space: 'srgb', bits: 8, ...size })
  const lab = [0, 0, 0]
  let [chroma, clipped] = [0, 0]
  for (let i = 0; i < bytes.length; i += 3) {
    const rgb = [bytes[i], bytes[i + 1], bytes[i + 2]]
    const [l, a, b] = toLab(srgb, rgb.map((v) => decode(srgb.curve, v / 255)) as unknown as Triple)
    lab[0] += l
    lab[1] += a
    lab[2] += b
    chroma += Math.hypot(a, b)
    if (Math.max(...rgb) === 255 || Math.min(...rgb) === 0) clipped++
  }
  const n = bytes.length / 3
  return { lab: lab.map((v) => v / n) as unknown as Triple, chroma: chroma / n, clipped: clipped / n }
}

/** Size of a frame that is taken once more. */
const SIZE = { width: 376, height: 250 }
/** Frames that are taken once more by other settings, at other moments of the noise: nothing was tuned on these. */
const AGAIN: readonly { of: number; exposure: number; iso: number; seed: string }[] = [
  { of: 0, exposure: 0.55, iso: 400, seed: 'HM9101' },
  { of: 2, exposure: 1.7, iso: 200, seed: 'HM9102' },
  { of: 4, exposure: 0.7, iso: 1600, seed: 'HM9103' },
  { of: 6, exposure: 1.4, iso: 800, seed: 'HM9104' },
  { of: 8, exposure: 0.6, iso: 3200, seed: 'HM9105' },
  { of: 11, exposure: 1.3, iso: 400, seed: 'HM9106' },
]

/** The frames of the demo, and some taken once more. */
function* files(): Generator<{ name: string; bytes: Uint8Array }> {
  const folder = join(projectRoot(), 'packages/demo/frames')
  for (const name of readdirSync(folder).filter((f) => f.endsWith('.dng')))
    yield { name, bytes: new Uint8Array(readFileSync(join(folder, name))) }
  for (const { of, exposure, iso, seed } of AGAIN) {
    const frame = demoFrames[of % demoFrames.length]
    const upright = frame.height > frame.width
    const size = upright ? { width: SIZE.height, height: SIZE.width } : SIZE
    const taken = { ...frame, ...size, iso, fileName: `${seed}.dng`, exposure: frame.exposure * exposure }
    const { mosaic } = photographCrop(taken, { x: 0, y: 0, ...size })
    const camera = frame.camera ?? veldrom
    const bytes = cameraFile(camera, size, mosaic, frame.takenNeutral, {
      bits: frame.bits ?? 14,
      ...levelsOf(camera, taken),
      noise: noiseOf(camera, taken),
      iso,
    })
    const said = `${frame.fileName} again, ${exposure > 1 ? '+' : ''}${Math.log2(exposure).toFixed(1)} EV`
    yield { name: said, bytes }
  }
}

/** The bars: what a picture set by itself keeps of how it was. */
const BARS = { clipped: 0.005, chroma: [0.85, 1.6], lightness: 9, middle: [38, 62] } as const

/** What each of twenty frames is made into by itself, and how it was before. */
export async function byItselfTable(engine: Engine): Promise<string[]> {
  const rows: string[] = []
  const within = { clipped: 0, chroma: 0, lightness: 0 }
  for (const { name, bytes } of files()) {
    const picture = await engine.open(bytes)
    const start = readDevelopment({})
    const found = await automatic(picture, start, ['white', 'exposure', 'points', 'tones'], 1)
    const [before, after] = [await impression(picture, start), await impression(picture, found)]
    engine.close(picture)
    const { cameraColour, exposure } = found.steps
    const white =
      cameraColour.source === 'kelvin' ? `${cameraColour.kelvin} K ${cameraColour.tint}` : 'as taken'
    const moved = Math.hypot(after.lab[1] - before.lab[1], after.lab[2] - before.lab[2])
    const percent = (v: number) => `${(100 * v).toFixed(1)} %`
    const chroma = after.chroma / before.chroma
    if (after.clipped - before.clipped <= BARS.clipped) within.clipped++
    if (chroma >= BARS.chroma[0] && chroma <= BARS.chroma[1]) within.chroma++
    const middle = before.lab[0] > BARS.middle[0] && before.lab[0] < BARS.middle[1]
    if (!middle || Math.abs(after.lab[0] - before.lab[0]) < BARS.lightness) within.lightness++
    rows.push(
      `| ${name} | ${white} | ${exposure.ev.toFixed(2)} | ${before.lab[0].toFixed(1)} | ${after.lab[0].toFixed(1)} | ${chroma.toFixed(2)} | ${moved.toFixed(1)} | ${percent(before.clipped)} | ${percent(after.clipped)} |`,
    )
  }
  return [
    '\n| by itself | white | EV | L* before | after | chroma after over before | colour moved, a*b* | clipped before | after |',
    '|---|---|--:|--:|--:|--:|--:|--:|--:|',
    ...rows,
    `| of ${rows.length} within the bars | | | | ${within.lightness} | ${within.chroma} | | | ${within.clipped} |`,
  ]
}
