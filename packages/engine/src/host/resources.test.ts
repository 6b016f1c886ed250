import { Arena, type ColourTable } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { Resources } from './resources'
import type { Store } from './store'

/** A table of eight colours takes 128 bytes. */
const table = (title = 'x'): ColourTable => ({
  title,
  size: 2,
  colours: Float32Array.from({ length: 24 }, (_, i) => i),
})

function store() {
  const arena = new Arena(0, 1 << 16, () => undefined)
  const put: Uint8Array[] = []
  return {
    put,
    arena,
    asStore: {
      arena,
      put: (bytes: Uint8Array) => (put.push(bytes), arena.alloc(bytes.length)),
    } as unknown as Store,
  }
}

describe('tables of colours', () => {
  it('are fetched once, and again after a failure; what is missing is said in words', async () => {
    const { put, asStore } = store()
    const resources = new Resources(asStore)
    await expect(resources.get('table', 'x')).rejects.toThrow(/not at hand/)
    let asked = 0
    resources.provide('table', () => {
      asked++
      return asked === 1 ? Promise.reject(new Error('The server does not answer.')) : Promise.resolve(table())
    })
    await expect(resources.get('table', 'x')).rejects.toThrow(/cannot be had: The server does not answer/)
    const [one, two] = await Promise.all([resources.get('table', 'x'), resources.get('table', 'x')])
    expect(one.value).toMatchObject({ width: 2, height: 2 })
    expect(two.value).toBe(one.value)
    expect(asked).toBe(2)
    // four numbers an entry
    expect([...new Float32Array(put[0].buffer).slice(0, 8)]).toEqual([0, 1, 2, 0, 3, 4, 5, 0])
  })

  it('are freed when they are no longer used and there are many, the oldest first', async () => {
    const { arena, asStore } = store()
    const resources = new Resources(asStore, 256)
    const asked: string[] = []
    resources.provide('table', (name) => (asked.push(name), Promise.resolve(table(name))))
    const held = await resources.get('table', 'held')
    for (const name of ['a', 'b', 'c']) (await resources.get('table', name)).release()
    // two that nobody uses, and the one that is in use
    expect(arena.usage.used).toBe(3 * 128)
    for (const name of ['b', 'c', 'held', 'a']) (await resources.get('table', name)).release()
    expect(asked).toEqual(['held', 'a', 'b', 'c', 'a'])
    held.release()
    held.release()
    expect(arena.usage.used).toBe(2 * 128)
  })

  it('that were asked for before another source was named are not given any more, but stay while in use', async () => {
    const { arena, asStore } = store()
    const resources = new Resources(asStore)
    resources.provide('table', () => Promise.resolve(table()))
    const old = await resources.get('table', 'x')
    const before = resources.generation('table')
    resources.provide('table', () => Promise.resolve({ ...table(), size: 2 }))
    expect(resources.generation('table')).not.toBe(before)
    const next = await resources.get('table', 'x')
    expect(next.value).not.toBe(old.value)
    expect(arena.usage.used).toBe(2 * 128)
    old.release()
    expect(arena.usage.used).toBe(128)
  })
})

describe('lens profiles', () => {
  it('are none without a source, and each wish is asked once', async () => {
    const resources = new Resources(store().asStore)
    expect((await resources.get('lens', { make: 'a' })).value).toBeUndefined()
    let asked = 0
    const answer = { id: 'mine' } as never
    resources.provide('lens', () => (asked++, Promise.resolve(answer)))
    for (const make of ['a', 'a', 'b']) expect((await resources.get('lens', { make })).value).toBe(answer)
    expect(asked).toBe(2)
    resources.forget('lens')
    await resources.get('lens', { make: 'a' })
    expect(asked).toBe(3)
  })
})
