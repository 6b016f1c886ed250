import { demoFrames, specksOf, veldrom } from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settings, testEngine } from '../test/engines'
import type { Engine } from './node'

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const bytesOf = (name: string) =>
  new Uint8Array(readFileSync(fileURLToPath(new URL(`../../demo/frames/${name}.dng`, import.meta.url))))

/** Specks of a frame where they lie in its developed picture, pixels. */
function truth(name: string) {
  const frame = demoFrames.find((f) => f.fileName === `${name}.dng`)!
  const long = Math.max(frame.width, frame.height)
  return specksOf(frame.camera ?? veldrom).map(({ x, y, radius, depth }) => {
    const at = { x: x * long, y: y * long }
    // a frame taken upright is turned by a quarter
    return { ...(frame.scene.upright ? { x: frame.height - at.y, y: at.x } : at), radius, depth, long }
  })
}

describe('dust', () => {
  it.each([
    // those that lie before a sky, and can be seen
    ['HM0466', 4],
    ['HM0468', 3],
    ['HM0405', 1],
    ['HM0488', 1],
  ])('of %s is found where the camera has it', async (name, count) => {
    const picture = await engine.open(bytesOf(name))
    const found = await picture.ask('dust', settings())
    engine.close(picture)
    const sure = found.filter((d) => d.confidence >= 0.5)
    expect(found.map((d) => d.confidence)).toEqual(found.map((d) => d.confidence).sort((a, b) => b - a))
    const specks = truth(name)
    expect(sure).toHaveLength(count)
    for (const { x, y, radius, depth } of sure) {
      const [long] = specks.map((s) => s.long)
      const speck = specks.find((s) => Math.hypot(s.x - x * long, s.y - y * long) < 2 + s.radius / 5)!
      expect(speck, `${x * long} ${y * long}`).toBeDefined()
      expect(Math.abs(radius * long - 0.85 * speck.radius)).toBeLessThan(2.6)
      expect(Math.abs(depth - speck.depth)).toBeLessThan(0.03)
    }
  })

  it.each(['HM0431', 'HM0502', 'HM0503', 'HM0505', 'HM0551', 'HM0553'])(
    'is not proposed in the fine texture of %s',
    async (name) => {
      const picture = await engine.open(bytesOf(name))
      const found = await picture.ask('dust', settings())
      engine.close(picture)
      const specks = truth(name)
      const wrong = found.filter(
        (d) =>
          d.confidence >= 0.5 &&
          !specks.some((s) => Math.hypot(s.x - d.x * s.long, s.y - d.y * s.long) < s.radius),
      )
      expect(wrong.length).toBeLessThanOrEqual(1)
    },
  )
})
