import { describe, expect, it, vi } from 'vitest'
import { Latest } from './latest'

describe('the newest request', () => {
  it('stops what has said that it gives way, for any newer request', async () => {
    const seen: string[] = []
    let free!: () => void
    const latest = new Latest<number>(
      async (n, signal, giveWay) => {
        seen.push(`quick ${n}`)
        if (!giveWay()) return
        await new Promise<void>((done) => {
          free = done
          signal.addEventListener('abort', () => done())
        })
        if (!signal.aborted) seen.push(`exact ${n}`)
      },
      () => false,
    )
    latest.push(1)
    latest.push(2)
    await new Promise((done) => setTimeout(done, 5))
    free()
    await new Promise((done) => setTimeout(done, 5))
    expect(seen).toEqual(['quick 1', 'quick 2', 'exact 2'])
  })

  it('is the one that runs next, and stops what it makes useless', async () => {
    const ran: number[] = []
    const stopped: number[] = []
    const ends: (() => void)[] = []
    const latest = new Latest<number>(
      (n, signal) =>
        new Promise((done) => {
          ran.push(n)
          signal.addEventListener('abort', () => {
            stopped.push(n)
            done()
          })
          ends.push(done)
        }),
      (running, next) => next - running >= 10,
    )
    latest.push(1)
    latest.push(2)
    latest.push(3)
    expect([ran, stopped]).toEqual([[1], []])
    ends[0]()
    await vi.waitFor(() => expect(ran).toEqual([1, 3]))
    latest.push(20)
    await vi.waitFor(() => expect(ran).toEqual([1, 3, 20]))
    expect(stopped).toEqual([3])
  })
})
