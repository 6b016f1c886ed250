import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { settings, testEngine } from '../test/engines'
import type { Engine, Keeper, Picture } from './node'
import { projectRoot } from './paths'

/** What was found in a picture is there when it is opened again, and the same. */

let engine: Engine
beforeAll(() => {
  engine = testEngine({ workers: 2 })
})
afterAll(() => engine.stop())

const bytes = new Uint8Array(readFileSync(join(projectRoot(), 'packages/demo/frames/HM0521.dng')))
const sky = { kind: 'found', what: 'sky' } as const
const plain = settings({})
const masked = settings({
  steps: { areas: { areas: [{ id: 'a', mask: { shapes: [{ id: 's', ...sky }] } }] } },
})

/** A keeper of things in memory. @param kept what is there */
function keeperOf(kept: Map<string, Uint8Array<ArrayBuffer>>): Keeper & { settled(): Promise<void> } {
  let put = () => undefined as void
  const written = new Promise<void>((done) => (put = done))
  return {
    get: async (name) => kept.get(name),
    async put(name, made) {
      kept.set(name, made)
      put()
    },
    settled: () => written,
  }
}

async function opened<T>(keeper: Keeper, how: (picture: Picture) => Promise<T>): Promise<T> {
  const picture = await engine.open(bytes, undefined, undefined, keeper)
  try {
    return await how(picture)
  } finally {
    engine.close(picture)
  }
}

const look = (picture: Picture) => picture.ask('found', plain, sky)
const maskOf = (picture: Picture) => picture.ask('mask', masked, 0, 504)

describe('what was found', () => {
  it('is kept, and is the same the next time, without being looked for', async () => {
    const kept = new Map<string, Uint8Array<ArrayBuffer>>()
    const keeper = keeperOf(kept)
    const first = await opened(keeper, async (picture) => ({
      sure: await look(picture),
      mask: await maskOf(picture),
    }))
    await keeper.settled()
    expect(kept.size).toBe(1)
    const [[name, made]] = kept
    expect(made.length).toBeLessThan(400_000)
    const again = await opened(keeperOf(kept), async (picture) => ({
      sure: await look(picture),
      mask: await maskOf(picture),
    }))
    expect(Math.abs(again.sure - first.sure)).toBeLessThan(0.003)
    expect(Buffer.compare(again.mask.grey, first.mask.grey)).toBe(0)

    // that it is not looked for again shows where another confidence was kept
    const other = made.slice()
    other[5] = 51
    const told = await opened(keeperOf(new Map([[name, other]])), look)
    expect(told).toBeCloseTo(0.2, 6)
  })

  it('is not taken for what is found with other settings, or of something else', async () => {
    const names = new Set<string>()
    const keeper: Keeper = {
      get: async (name) => void names.add(name),
      put: async () => undefined,
    }
    await opened(keeper, async (picture) => {
      await look(picture)
      await picture.ask('found', plain, { kind: 'found', what: 'water' })
      await picture.ask('found', settings({ steps: { highlights: { rebuild: 0 } } }), sky)
    })
    expect(names.size).toBe(3)
  })

  it('is found anew where what was kept is damaged, of another size or version, or cannot be had', async () => {
    const kept = new Map<string, Uint8Array<ArrayBuffer>>()
    const keeper = keeperOf(kept)
    const sure = await opened(keeper, look)
    await keeper.settled()
    const [[name, made]] = kept
    const changed = (change: (copy: Uint8Array<ArrayBuffer>) => void) => {
      const copy = made.slice()
      copy[5] = 51
      change(copy)
      return new Map([[name, copy]])
    }
    const bad = [
      changed((c) => (c[0] = 99)),
      changed((c) => (c[2] ^= 1)),
      changed((c) => c.fill(7, 40, 80)),
      new Map([[name, new Uint8Array(3)]]),
    ]
    for (const there of bad) expect(await opened(keeperOf(there), look)).toBe(sure)
    const lost: Keeper = {
      get: () => Promise.reject(new Error('no connection')),
      put: () => Promise.reject(new Error('disk full')),
    }
    expect(await opened(lost, look)).toBe(sure)
  })
})
