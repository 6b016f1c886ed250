import { RawError, type Task } from '@dunkelkammer/core'
import { beforeEach, describe, expect, it } from 'vitest'
import type { FromWorker, ToWorker, WorkerLink } from '../protocol'
import { Pool, Superseded } from './pool'

/** A worker that answers when the test says so. */
class FakeWorker implements WorkerLink {
  readonly got: { id: number; task: { x: number } }[] = []
  private receive!: (message: FromWorker) => void
  private broken!: (reason: Error) => void
  stopped = false

  post(message: ToWorker) {
    if (message.type === 'task') this.got.push(message as never)
  }
  listen(receive: (message: FromWorker) => void, broken: (reason: Error) => void) {
    this.receive = receive
    this.broken = broken
  }
  stop() {
    this.stopped = true
  }
  finish(index = 0) {
    const { id, task } = this.got.splice(index, 1)[0]
    this.receive({ type: 'done', id, result: task.x * 10 })
  }
  fail(message: string, code?: 'damaged') {
    this.receive({ type: 'failed', id: this.got.shift()!.id, message, code })
  }
  die() {
    this.broken(new Error('the worker is gone'))
  }
}

const task = (x: number) => ({ kind: 'sample', x }) as unknown as Task
const tasks = (n: number) => Array.from({ length: n }, (_, i) => task(i))
const turn = () => new Promise((r) => setTimeout(r, 0))

let a: FakeWorker
let b: FakeWorker
let pool: Pool
beforeEach(() => {
  a = new FakeWorker()
  b = new FakeWorker()
  pool = new Pool([a, b])
})

describe('pool', () => {
  it('keeps both workers busy, two tasks ahead, in order', async () => {
    const all = pool.runAll(tasks(6))
    expect([a.got.length, b.got.length]).toEqual([2, 2])
    expect([...a.got, ...b.got].map((g) => g.task.x).sort()).toEqual([0, 1, 2, 3])
    a.finish()
    expect(a.got.map((g) => g.task.x)).toContain(4)
    while (a.got.length + b.got.length > 0) (a.got.length > 0 ? a : b).finish()
    expect(await all).toEqual([0, 10, 20, 30, 40, 50])
  })

  it('drops on abort what has not started, and settles only when the rest is done', async () => {
    const stop = new AbortController()
    let settled = false
    const all = pool.runAll(tasks(8), stop.signal).finally(() => (settled = true))
    const outcome = expect(all).rejects.toBeInstanceOf(Superseded)
    stop.abort()
    await turn()
    expect(settled).toBe(false)
    expect([a.got.length, b.got.length]).toEqual([2, 2])
    for (const w of [a, a, b, b]) w.finish()
    await outcome
    expect([a.got.length, b.got.length]).toEqual([0, 0])
    await expect(pool.runAll(tasks(1), stop.signal)).rejects.toBeInstanceOf(Superseded)
  })

  it('passes the first failure on with its code and drops the rest of that batch only', async () => {
    const bad = pool.runAll(tasks(5))
    const outcome = expect(bad).rejects.toMatchObject({
      name: 'RawError',
      code: 'damaged',
      message: 'broken tile',
    })
    const good = pool.run(task(7))
    a.fail('broken tile', 'damaged')
    await turn()
    while (a.got.length + b.got.length > 0) {
      ;(a.got.length > 0 ? a : b).finish()
      await turn()
    }
    await outcome
    expect(await good).toBe(70)
    expect(new RawError('damaged', 'x')).toBeInstanceOf(Error)
  })

  it('has as many places for the next tasks after failures as before', async () => {
    for (let round = 0; round < 6; round++) {
      const bad = pool.runAll(tasks(4)).catch((e: Error) => e.message)
      while (a.got.length + b.got.length > 0) {
        ;(a.got.length > 0 ? a : b).fail('broken tile', 'damaged')
        await turn()
      }
      expect(await bad).toBe('broken tile')
    }
    const good = pool.runAll(tasks(6))
    expect([a.got.length, b.got.length]).toEqual([2, 2])
    while (a.got.length + b.got.length > 0) (a.got.length > 0 ? a : b).finish()
    expect(await good).toEqual([0, 10, 20, 30, 40, 50])
  })

  it('counts what is done', async () => {
    const seen: string[] = []
    const all = pool.runAll(tasks(3), undefined, (done, n) => seen.push(`${done}/${n}`))
    while (a.got.length + b.got.length > 0) (a.got.length > 0 ? a : b).finish()
    await all
    expect(seen).toEqual(['1/3', '2/3', '3/3'])
  })

  it('fails everything, now and later, when a worker dies', async () => {
    const all = pool.runAll(tasks(6))
    a.die()
    await expect(all).rejects.toThrow('the worker is gone')
    await expect(pool.run(task(1))).rejects.toThrow('the worker is gone')
    pool.stop()
    expect([a.stopped, b.stopped]).toEqual([true, true])
  })
})
