import { SHIPPED_LENSES } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFile, settings, testEngine, withoutAlpha } from '../test/engines'
import type { Engine, Picture } from './index'

// what is kept between views must go when what it was made of changes: each view is compared with one of a picture
// that has never shown anything else
const bytes = () => new Uint8Array(readFileSync(demoFile.replace('HM0417', 'HM0403')))
let engine: Engine
let picture: Picture
beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  picture = await engine.open(bytes())
})
afterAll(() => engine.stop())

const view = async (p: Picture, part: object) => {
  const development = settings(part)
  const frame = await p.square(development)
  const long = 420 / Math.max(frame.width, frame.height)
  const size = { width: Math.round(frame.width * long), height: Math.round(frame.height * long) }
  return withoutAlpha((await p.view({ development, ...size, region: { x: 0, y: 0, ...size } })).rgba)
}
const fresh = async (part: object) => {
  const other = await engine.open(bytes())
  try {
    return await view(other, part)
  } finally {
    engine.close(other)
  }
}
const differs = (a: Uint8Array, b: Uint8Array) => Buffer.compare(a, b) !== 0

/** Shows one development after the other; each as it is when nothing was shown before. */
async function inTurn(parts: readonly object[]): Promise<void> {
  const shown: Uint8Array[] = []
  for (const part of parts) shown.push(await view(picture, part))
  for (const [i, part] of parts.entries()) expect(differs(shown[i], await fresh(part))).toBe(false)
  // and they are pictures of different things
  for (let i = 1; i < parts.length; i++) expect(differs(shown[i], shown[i - 1])).toBe(true)
}

describe('what is kept between views goes when it no longer holds', () => {
  const crop = (x: number, y: number) => ({ crop: { rect: { centre: [x, y], width: 0.35, height: 0.25 } } })
  it('maps of surveys, when the crop moves', async () => {
    const tones = { tones: { shadows: { lift: 1.5 } }, relief: { medium: 0.6 }, haze: { strength: 0.5 } }
    const parts = [
      [0.3, 0.2],
      [0.7, 0.45],
      [0.5, 0.3],
    ]
    await inTurn(parts.map(([x, y]) => ({ steps: { ...tones, ...crop(x, y) } })))
  })

  it('the air of the haze, when another place is picked', async () => {
    const haze = (picked: number[], air = 'picked') => ({ steps: { haze: { strength: 0.8, air, picked } } })
    await inTurn([haze([0.9, 0.6, 0.5]), haze([0.5, 0.7, 0.95]), haze([0.5, 0.7, 0.95], 'found')])
  })

  it('the frame, when lens profiles are asked for anew', async () => {
    const [one, two] = SHIPPED_LENSES.map((profile, i) => ({ id: `lens ${i}`, profile }))
    const part = { steps: { lens: { choice: 'profile', profile: 'mine' } } }
    const shown: Uint8Array[] = []
    for (const answer of [one, two]) {
      engine.lensSource = () => Promise.resolve(answer as never)
      engine.forgetLenses()
      shown.push(await view(picture, part))
      expect(differs(shown.at(-1)!, await fresh(part))).toBe(false)
    }
    expect(differs(shown[0], shown[1])).toBe(true)
  })
})
