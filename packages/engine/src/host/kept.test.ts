import { Arena, type Raster } from '@dunkelkammer/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { Cell, Kept } from './kept'
import { Superseded } from './pool'

let arena: Arena
beforeEach(() => {
  arena = new Arena(0, 1 << 20, () => undefined)
})

function kept(bytes = 1000): Kept {
  const block = arena.alloc(bytes)
  return new Kept(arena, block, { offset: block.offset } as Raster)
}

describe('a kept raster', () => {
  it('is freed once, when dropped and no longer read', () => {
    const k = kept()
    k.hold()
    k.hold()
    k.drop()
    expect(arena.usage.used).toBe(1024)
    k.release()
    expect(arena.usage.used).toBe(1024)
    k.release()
    expect(arena.usage.used).toBe(0)
    k.drop()
    expect(arena.usage.used).toBe(0)
  })
})

describe('a cell', () => {
  it('computes a key once, for all who ask', async () => {
    const cell = new Cell()
    let made = 0
    const make = async () => {
      made++
      return kept()
    }
    const [x, y] = await Promise.all([cell.take('a', make), cell.take('a', make)])
    expect(x).toBe(y)
    expect(made).toBe(1)
    expect(await cell.take('a', make)).toBe(x)
    expect(made).toBe(1)
  })

  it('stops and frees what another key supersedes, but not under a reader', async () => {
    const cell = new Cell()
    const first = await cell.take('a', async () => kept())
    let stopped = false
    const slow = cell.take(
      'b',
      (signal) =>
        new Promise((_done, fail) =>
          signal.addEventListener('abort', () => {
            stopped = true
            fail(new Superseded())
          }),
        ),
    )
    const outcome = expect(slow).rejects.toBeInstanceOf(Superseded)
    const third = await cell.take('c', async () => kept())
    await outcome
    expect(stopped).toBe(true)
    expect(arena.usage.used).toBe(2048)
    first.release()
    expect(arena.usage.used).toBe(1024)
    third.release()
    cell.clear()
    await Promise.resolve()
    expect(arena.usage.used).toBe(0)
  })

  it('gives nobody what a maker brings that did not heed the stop, and frees it', async () => {
    const cell = new Cell()
    let bring!: (k: Kept) => void
    const slow = cell.take('a', () => new Promise((done) => (bring = done)))
    const outcome = expect(slow).rejects.toBeInstanceOf(Superseded)
    const next = await cell.take('b', async () => kept())
    bring(kept())
    await outcome
    expect(arena.usage.used).toBe(1024)
    expect(cell.holds('a')).toBe(false)
    expect(cell.holds('b')).toBe(true)
    next.release()
    cell.clear()
    await Promise.resolve()
    expect(arena.usage.used).toBe(0)
  })

  it('forgets a failure, so that it can be tried again', async () => {
    const cell = new Cell()
    await expect(cell.take('a', () => Promise.reject(new Error('no room')))).rejects.toThrow('no room')
    expect(await cell.take('a', async () => kept())).toBeInstanceOf(Kept)
  })
})
