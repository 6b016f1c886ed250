import { Arena, rasterBytes, strideFor } from '@dunkelkammer/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { Cache, type Kept, type Section } from './cache'
import { Superseded } from './pool'

const BUDGET = 10_000
let arena: Arena
let cache: Cache
let section: Section
beforeEach(() => {
  arena = new Arena(0, 1 << 20, () => undefined)
  cache = new Cache(arena, BUDGET)
  section = cache.section()
})

/** Room of 1024 bytes. */
const room = () => cache.bytes(1000)
const make = () => Promise.resolve(room())
/** Takes and lets go at once. */
const touch = async (key: string, of = section) => (await of.take(key, make)).release()
const settle = async () => {
  for (let i = 0; i < 4; i++) await Promise.resolve()
}

describe('a kept raster', () => {
  it('is freed once, when dropped and no longer read', () => {
    const kept = room()
    kept.hold()
    kept.hold()
    kept.drop()
    kept.release()
    expect([arena.usage.used, cache.used]).toEqual([1024, 1024])
    kept.release()
    expect([arena.usage.used, cache.used]).toEqual([0, 0])
    kept.drop()
    expect([arena.usage.used, cache.used]).toEqual([0, 0])
  })

  it('has room for lines of the shape that was asked for', () => {
    const { raster, bytes } = cache.room(100, 7, 'f16')
    const shape = { width: 100, height: 7, stride: strideFor(100), planes: 3, format: 'f16' } as const
    expect(raster).toMatchObject(shape)
    expect(bytes).toBeGreaterThanOrEqual(rasterBytes(shape))
  })
})

describe('the cache', () => {
  it('computes a key once, for all who ask', async () => {
    let made = 0
    const counted = () => (made++, make())
    const [a, b] = await Promise.all([section.take('a', counted), section.take('a', counted)])
    expect(a).toBe(b)
    expect(await section.take('a', counted)).toBe(a)
    expect(made).toBe(1)
  })

  it('lets what was used longest ago go where the budget is passed, of whichever picture', async () => {
    const other = cache.section()
    for (let i = 0; i < 9; i++) await touch(`${i}`, i % 2 ? other : section)
    expect(cache.used).toBe(9 * 1024)
    // of those that are there, the first has been used since
    await touch('0')
    await touch('9', other)
    await settle()
    expect(cache.used).toBeLessThanOrEqual(BUDGET)
    expect([section.has('0'), other.has('1'), section.has('2')]).toEqual([true, false, true])
  })

  it('never lets go of what is being read, or waited for', async () => {
    const held = await section.take('held', make)
    let bring!: (k: Kept) => void
    const waited = section.take('waited', () => new Promise<Kept>((done) => (bring = done)))
    for (let i = 0; i < 20; i++) await touch(`${i}`)
    bring(room())
    for (let i = 0; i < 20; i++) await touch(`${i + 20}`)
    const there = await waited
    expect([section.has('held'), section.peek('held')]).toEqual([true, held])
    expect(there.bytes).toBe(1024)
    held.release()
    there.release()
    for (let i = 0; i < 20; i++) await touch(`${i + 40}`)
    expect(section.has('held')).toBe(false)
  })

  it('grows for a picture that needs more', async () => {
    const large = cache.section(30_000)
    for (let i = 0; i < 25; i++) await touch(`${i}`, large)
    expect(cache.used).toBe(25 * 1024)
  })

  it('stops what another of its slot has superseded, and keeps what was there', async () => {
    await touch('apart')
    ;(await section.take('a', make, { slot: 'one' })).release()
    let stopped = false
    const slow = section.take(
      'b',
      (stop) =>
        new Promise<Kept>((_done, fail) =>
          stop.addEventListener('abort', () => {
            stopped = true
            fail(new Superseded())
          }),
        ),
      { slot: 'one' },
    )
    const outcome = expect(slow).rejects.toBeInstanceOf(Superseded)
    ;(await section.take('c', make, { slot: 'one' })).release()
    await outcome
    expect(stopped).toBe(true)
    expect(['apart', 'a', 'b', 'c'].map((k) => section.has(k))).toEqual([true, true, false, true])
  })

  it('keeps the newest of a slot alone where no more is worth it', async () => {
    ;(await section.take('a', make, { slot: 'one', newest: true })).release()
    ;(await section.take('b', make, { slot: 'one', newest: true })).release()
    await settle()
    expect(section.has('a')).toBe(false)
    expect(cache.used).toBe(1024)
  })

  it('gives nobody what a maker brings that did not heed the stop, and frees it', async () => {
    let bring!: (k: Kept) => void
    const slow = section.take('a', () => new Promise<Kept>((done) => (bring = done)), { slot: 'one' })
    const outcome = expect(slow).rejects.toBeInstanceOf(Superseded)
    ;(await section.take('b', make, { slot: 'one' })).release()
    bring(room())
    await outcome
    expect(cache.used).toBe(1024)
  })

  it('forgets a failure, so that it can be tried again', async () => {
    await expect(section.take('a', () => Promise.reject(new Error('no room')))).rejects.toThrow('no room')
    await settle()
    expect((await section.take('a', make)).bytes).toBe(1024)
  })

  it('clears one picture and leaves the others', async () => {
    const other = cache.section()
    await touch('a')
    await touch('a', other)
    section.clear()
    await settle()
    expect([section.has('a'), other.has('a'), cache.used]).toEqual([false, true, 1024])
  })

  it('has what is made at once at once', () => {
    let made = 0
    const now = () => section.takeNow('a', () => (made++, room()))
    const kept = now()
    expect(now()).toBe(kept)
    expect(made).toBe(1)
  })
})
