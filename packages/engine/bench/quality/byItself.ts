import { decode, readDevelopment, srgb, toLab, type Development, type Triple } from '@dunkelkammer/core'
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

/** What each frame of the demo is made into by itself, and how it was before. */
export async function byItselfTable(engine: Engine): Promise<string[]> {
  const folder = join(projectRoot(), 'packages/demo/frames')
  const rows: string[] = []
  for (const name of readdirSync(folder).filter((f) => f.endsWith('.dng'))) {
    const picture = await engine.open(new Uint8Array(readFileSync(join(folder, name))))
    const start = readDevelopment({})
    const found = await automatic(picture, start, ['white', 'exposure', 'points', 'tones'], 1)
    const [before, after] = [await impression(picture, start), await impression(picture, found)]
    engine.close(picture)
    const { cameraColour, exposure } = found.steps
    const white =
      cameraColour.source === 'kelvin' ? `${cameraColour.kelvin} K ${cameraColour.tint}` : 'as taken'
    const moved = Math.hypot(after.lab[1] - before.lab[1], after.lab[2] - before.lab[2])
    const percent = (v: number) => `${(100 * v).toFixed(1)} %`
    rows.push(
      `| ${name} | ${white} | ${exposure.ev.toFixed(2)} | ${before.lab[0].toFixed(1)} | ${after.lab[0].toFixed(1)} | ${(after.chroma / before.chroma).toFixed(2)} | ${moved.toFixed(1)} | ${percent(before.clipped)} | ${percent(after.clipped)} |`,
    )
  }
  return [
    '\n| by itself | white | EV | L* before | after | chroma after over before | colour moved, a*b* | clipped before | after |',
    '|---|---|--:|--:|--:|--:|--:|--:|--:|',
    ...rows,
  ]
}
