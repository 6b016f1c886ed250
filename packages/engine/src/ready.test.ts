import { fits, made, READY_AREAS, READY_NEEDS, type Scene, type Thing } from '@dunkelkammer/core'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settings, testEngine } from '../test/engines'
import { H, truthOf, W } from '../test/truthMask'
import type { Engine, Picture } from './node'
import { projectRoot } from './paths'

/** Ready areas on a demo frame: what they change, and where, in the delivered picture. */

const FRAME = 'HM0527'
const SIZE = { space: 'srgb', width: W, height: H, bits: 8 } as const

let engine: Engine
let picture: Picture
let scene: Scene
let before: Uint8Array

beforeAll(async () => {
  engine = testEngine({ workers: 2 })
  const path = join(projectRoot(), 'packages/demo/frames', `${FRAME}.dng`)
  picture = await engine.open(new Uint8Array(readFileSync(path)))
  const plain = settings({})
  const things = new Set<Thing>()
  for (const thing of READY_NEEDS) {
    const wish = thing === 'distance' ? { kind: thing } : ({ kind: 'found', what: thing } as const)
    if ((await picture.ask('found', plain, wish)) > 0) things.add(thing)
  }
  const at = (u: number, v: number) => [u, (v * H) / W] as const
  scene = { at, tones: await picture.ask('toneSpread', plain), things }
  before = await picture.deliver({ development: plain, ...SIZE })
}, 120_000)
afterAll(() => engine.stop())

/** The picture under a ready area. */
async function under(id: string): Promise<Uint8Array> {
  const area = {
    id: 'a',
    ...made(
      READY_AREAS.find((r) => r.id === id)!,
      scene,
    ),
  }
  return picture.deliver({ development: settings({ steps: { areas: { areas: [area] } } }), ...SIZE })
}

/** The places well inside of some objects: 2 pixels from their border. */
const midst = (truth: Float32Array): Float32Array =>
  truth.map((_, i) => {
    for (const by of [0, -2, 2, -2 * W, 2 * W]) if (!(truth[i + by] > 0.5)) return 0
    return 1
  })
const where = (...objects: string[]) => midst(truthOf(FRAME, ...objects))
const elsewhere = (...objects: string[]) => midst(truthOf(FRAME, ...objects).map((v) => 1 - v))

/** Mean change of a channel in some places, in a part of the height. */
function change(after: Uint8Array, truth: Float32Array, channel = 1, [top, foot] = [0, 1]): number {
  let [sum, n] = [0, 0]
  for (let i = 0; i < truth.length; i++) {
    const v = Math.floor(i / W) / H
    if (truth[i] === 0 || v < top || v >= foot) continue
    sum += after[3 * i + channel] - before[3 * i + channel]
    n++
  }
  return sum / n
}

describe('ready areas', () => {
  it('know how light the picture is: so far apart as the scene was made', async () => {
    const { dark, middle, light } = scene.tones
    // the wood is in the dark half, the sky in the light one
    expect(middle).toBeGreaterThan(dark + 1)
    expect(light).toBeGreaterThan(middle + 0.8)
    const brighter = await picture.ask('toneSpread', settings({ steps: { exposure: { ev: 2 } } }))
    // no setting moves what was taken
    expect(brighter).toEqual(scene.tones)
  })

  it('fit where the picture has what they need', () => {
    const offered = READY_AREAS.filter((r) => fits(r, scene)).map((r) => r.id)
    expect(offered).toContain('sky-top')
    expect(offered).toContain('shade-open')
    const without = { ...scene, things: new Set([...scene.things].filter((t) => t !== 'sky')) }
    expect(READY_AREAS.filter((r) => fits(r, without)).map((r) => r.id)).toEqual(
      offered.filter((id) => !['sky-top', 'sky-colour', 'clouds'].includes(id)),
    )
    const flat = { ...scene, tones: { dark: -0.2, middle: 0, light: 0.2 }, things: new Set<Thing>() }
    expect(READY_AREAS.filter((r) => fits(r, flat)).map((r) => r.id)).toEqual(['edges-calm'])
  })

  it('hold the sky’s top, more the higher, and nothing but the sky', async () => {
    const after = await under('sky-top')
    const sky = where('sky')
    const high = change(after, sky, 1, [0, 0.1])
    expect(high).toBeLessThan(-15)
    expect(change(after, sky, 1, [0.3, 0.4])).toBeGreaterThan(high + 8)
    expect(Math.abs(change(after, where('tower', 'meadow'), 1, [0.6, 1]))).toBeLessThan(0.5)
  })

  it('open the shade without the sky', async () => {
    const after = await under('shade-open')
    const sky = where('sky')
    expect(Math.abs(change(after, sky, 1, [0, 0.4]))).toBeLessThan(1)
    expect(change(after, elsewhere('sky'), 1, [0.6, 0.9])).toBeGreaterThan(6)
  })

  it('warm the lit side, and cool the shade', async () => {
    const redder = (after: Uint8Array, places: Float32Array) =>
      change(after, places, 0) - change(after, places, 2)
    expect(redder(await under('lit-warm'), where('tower'))).toBeGreaterThan(2)
    expect(redder(await under('shade-cool'), elsewhere('sky'))).toBeLessThan(-1)
  })

  it('calm the edges, and leave the middle', async () => {
    const after = await under('edges-calm')
    const part = (inside: (u: number, v: number) => boolean) =>
      Float32Array.from({ length: W * H }, (_, i) => (inside((i % W) / W, Math.floor(i / W) / H) ? 1 : 0))
    const corners = part((u, v) => Math.min(u, 1 - u) < 0.08 && Math.min(v, 1 - v) < 0.08)
    expect(change(after, corners)).toBeLessThan(-8)
    const middle = part((u, v) => Math.hypot(u - 0.5, v - 0.5) < 0.12)
    expect(Math.abs(change(after, middle))).toBeLessThan(0.5)
  })

  it('each change the picture', async () => {
    for (const ready of READY_AREAS.filter((r) => fits(r, scene))) {
      const after = await under(ready.id)
      const sum = after.reduce((s, v, i) => s + Math.abs(v - before[i]), 0)
      expect([ready.id, sum / after.length > 0.02]).toEqual([ready.id, true])
    }
  })
})
