import { Arena } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import { Kept, Shelf } from './kept'
import type { Store } from './store'
import { Tables } from './tables'

const SHAPE = { width: 4, height: 4, stride: 4, planes: 1, format: 'f32' } as const
const make = (arena: Arena) => () => {
  const block = arena.alloc(64)
  return Promise.resolve(new Kept(arena, block, { ...SHAPE, offset: block.offset }))
}

describe('a shelf', () => {
  it('makes a result once, keeps the last few, and frees one when it has gone and nobody reads it', async () => {
    const arena = new Arena(0, 1 << 16, () => undefined)
    const shelf = new Shelf(2)
    let made = 0
    const counted = () => {
      made++
      return make(arena)()
    }
    const [a, again] = await Promise.all([shelf.take('a', counted), shelf.take('a', counted)])
    expect(a).toBe(again)
    expect(made).toBe(1)
    again.release()
    ;(await shelf.take('b', counted)).release()
    ;(await shelf.take('c', counted)).release()
    await Promise.resolve()
    // a is off the shelf, but held here
    const held = arena.usage.used
    a.release()
    expect(arena.usage.used).toBeLessThan(held)
    ;(await shelf.take('b', counted)).release()
    expect(made).toBe(3)
    shelf.clear()
    await Promise.resolve()
    await Promise.resolve()
    expect(arena.usage.used).toBe(0)
  })

  it('forgets what failed', async () => {
    const arena = new Arena(0, 1 << 16, () => undefined)
    const shelf = new Shelf(2)
    await expect(shelf.take('a', () => Promise.reject(new Error('no')))).rejects.toThrow('no')
    await expect(shelf.take('a', make(arena))).resolves.toBeInstanceOf(Kept)
  })
})

describe('tables of colours', () => {
  it('are fetched once, and again after a failure; what is missing is said in words', async () => {
    const put: Uint8Array[] = []
    const store = {
      put: (bytes: Uint8Array) => (put.push(bytes), { offset: 64 * put.length }),
    } as unknown as Store
    const tables = new Tables(store)
    await expect(tables.get('x')).rejects.toThrow(/not at hand/)
    let asked = 0
    tables.source = (name) => {
      asked++
      if (asked === 1) return Promise.reject(new Error('The server does not answer.'))
      return Promise.resolve({
        title: name,
        size: 2,
        colours: Float32Array.from({ length: 24 }, (_, i) => i),
      })
    }
    await expect(tables.get('x')).rejects.toThrow(/cannot be had: The server does not answer/)
    const [one, two] = await Promise.all([tables.get('x'), tables.get('x')])
    expect(one).toEqual({ at: 64, width: 2, height: 2 })
    expect(two).toBe(one)
    expect(asked).toBe(2)
    // four numbers an entry
    expect([...new Float32Array(put[0].buffer).slice(0, 8)]).toEqual([0, 1, 2, 0, 3, 4, 5, 0])
  })
})
