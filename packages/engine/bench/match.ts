import { startDevelopment } from '@dunkelkammer/core'
import { burstFile, chartDistance, chartIn, type BurstShot } from '../test/burst'
import { lightOf, matchLight, withLight, type Engine, type Picture } from '../src/index'

const SHOTS = 24
const SIZE = { width: 360, height: 240 }

/** Shots of one scene whose exposure and balance the simulated camera varied, some with the light itself. */
const shots: BurstShot[] = Array.from({ length: SHOTS }, (_, i) => ({
  ev: 2 * Math.sin(i * 2.4),
  takenFor: 5500 + 1500 * Math.sin(i * 1.7),
  seed: 10 + i,
  shift: 6 * Math.sin(i),
  walked: i * 3,
  ...(i % 4 === 3 && { light: 5500 + 900 * Math.sin(i), brighter: -0.8 }),
}))

/** How far the chart of each shot of a burst is from that of the first, as taken and matched to it, in CIEDE2000. */
export async function matchTable(engine: Engine): Promise<string> {
  const using = async <T>(shot: BurstShot, use: (picture: Picture) => Promise<T>): Promise<T> => {
    const picture = await engine.open(burstFile(shot))
    try {
      return await use(picture)
    } finally {
      engine.close(picture)
    }
  }
  const plain = startDevelopment()
  const chart = async (picture: Picture, shot: BurstShot, development = plain) => {
    const pixels = await picture.deliver({ development, space: 'srgb', bits: 16, ...SIZE })
    return chartIn(new Uint16Array(pixels.buffer), SIZE.width, 65535, shot)
  }
  const first: BurstShot = { ev: 0, takenFor: 5500 }
  const { to, truth } = await using(first, async (p) => ({
    to: await lightOf(p, plain),
    truth: await chart(p, first),
  }))
  const before: number[] = []
  const after: number[] = []
  for (const shot of shots)
    await using(shot, async (p) => {
      const match = matchLight(to, await lightOf(p, plain))
      before.push(chartDistance(await chart(p, shot), truth))
      after.push(chartDistance(await chart(p, shot, withLight(plain, match)), truth))
    })
  const row = (what: string, values: number[]) => {
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    return `| ${what} | ${mean.toFixed(2)} | ${Math.max(...values).toFixed(2)} |`
  }
  return [
    `| chart in ${SHOTS} shots varied by up to 2 EV and 1500 K, CIEDE2000 to the chosen one | mean | worst |`,
    '|---|--:|--:|',
    row('as taken', before),
    row('matched', after),
  ].join('\n')
}
