import { sql } from 'drizzle-orm'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { root, temporary } from '../../test/server'
import { openDatabase, type Db } from '../db/open'
import { JobQueue, type JobOutcome, type JobReport } from './queue'

let place: ReturnType<typeof temporary>
let db: Db
let queue: JobQueue
const open = () => {
  db = openDatabase(join(place.path, 'library.db'), join(root, 'packages/server/drizzle'))
  queue = new JobQueue(db)
}
beforeEach(() => {
  place = temporary()
  open()
})
afterEach(() => {
  db.close()
  place.remove()
})

/** Work that ends when the test says so. */
function work() {
  let end!: (outcome: JobOutcome) => void
  let fail!: (error: Error) => void
  let report: JobReport | undefined
  const run = (r: JobReport) => {
    report = r
    return new Promise<JobOutcome>((done, no) => {
      end = done
      fail = no
      r.signal.addEventListener('abort', () => no(new Error('stopped')))
    })
  }
  return { run, end: (o: JobOutcome) => end(o), fail: (e: Error) => fail(e), report: () => report }
}
const state = (id: string) => queue.get(id).state
const reaches = (id: string, wanted: string) => vi.waitFor(() => expect(state(id)).toBe(wanted))

describe('the queue', () => {
  it('does one of a kind after the other, and those of other kinds beside it', async () => {
    const [one, two, card] = [work(), work(), work()]
    const first = queue.add('export', 'one', {}, one.run)
    const second = queue.add('export', 'two', {}, two.run)
    const third = queue.add('import', 'card', {}, card.run)
    expect([first.id, second.id, third.id].map(state)).toEqual(['running', 'waiting', 'running'])
    card.end({ message: 'came in' })
    await reaches(third.id, 'done')
    expect(state(second.id)).toBe('waiting')
    one.end({ message: 'made', fileName: 'one.jpg' })
    await reaches(second.id, 'running')
    expect(queue.get(first.id)).toMatchObject({
      state: 'done',
      progress: 1,
      message: 'made',
      fileName: 'one.jpg',
    })
    two.end({ message: 'made' })
    await reaches(second.id, 'done')
  })

  it('goes on after one that failed, was cancelled at work, or was cancelled before', async () => {
    const all = [work(), work(), work(), work()]
    const ids = all.map((w, i) => queue.add('export', `${i}`, {}, w.run).id)
    all[0].fail(Object.assign(new Error('no'), { code: 'EACCES' }))
    await reaches(ids[0], 'failed')
    expect(queue.get(ids[0]).message).toBe('The server may not read or write there.')
    await reaches(ids[1], 'running')
    expect(queue.cancel(ids[2])).toMatchObject({ state: 'cancelled', message: 'Cancelled before it began.' })
    queue.cancel(ids[1])
    await reaches(ids[1], 'cancelled')
    await reaches(ids[3], 'running')
    expect(all[2].report()).toBeUndefined()
    all[3].end({ message: '' })
    await reaches(ids[3], 'done')
    expect(() => queue.cancel(ids[3])).toThrow('This job has ended already.')
    expect(() => queue.cancel('none')).toThrow('There is no such job.')
  })

  it('says after a stop what became of each that was at work, and of each that waited', () => {
    const ids = [
      queue.add('export', 'at work', {}, work().run).id,
      queue.add('export', 'waiting', {}, work().run).id,
      queue.add('import', 'card', {}, (report) => {
        report.progress(0.2, '2 of 10')
        return new Promise(() => undefined)
      }).id,
      queue.add('import', 'next card', {}, work().run).id,
    ]
    // killed: nothing is written on the way out
    db.close()
    open()
    queue.recover()
    const found = ids.map((id) => queue.get(id))
    expect(found.map((j) => j.state)).toEqual(new Array(4).fill('interrupted'))
    expect(found[0].message).toMatch(/no file was left behind\. Deliver it again\./)
    expect(found[1].message).toMatch(/no file was left behind\. Deliver it again\./)
    expect(found[2].message).toMatch(/stopped on the way \(2 of 10\)/)
    expect(found[3].message).toMatch(/stopped on the way \(nothing brought in yet\)/)
    queue.recover()
    expect(queue.list().map((j) => j.title)).toEqual(['next card', 'card', 'waiting', 'at work'])
  })

  it('tells what became of a job that could not be written down, and writes it when there is room', async () => {
    const one = work()
    const { id } = queue.add('export', 'one', {}, one.run)
    // as on a full disk: no state is taken
    const full = `create trigger full before update on jobs begin select raise(fail, 'full'); end`
    db.run(sql.raw(full))
    one.end({ message: 'x'.repeat(20000), fileName: 'one.jpg' })
    await reaches(id, 'done')
    expect(queue.get(id).message).toHaveLength(20000)
    expect(queue.list()[0].state).toBe('done')
    const stored = () => (db.all(sql`select state from jobs`) as unknown[][]).flatMap((r) => Object.values(r))
    expect(stored()).not.toContain('done')
    // the next job works all the same, and its end is told too
    db.run(sql.raw('drop trigger full'))
    const two = work()
    const next = queue.add('export', 'two', {}, two.run)
    two.end({ message: 'made' })
    await reaches(next.id, 'done')
    await vi.waitFor(() => expect(stored()).toEqual(['done', 'done']))
  })

  it('ends what it does when it is closed', async () => {
    const [one, two] = [work(), work()]
    const first = queue.add('import', 'card', {}, one.run)
    const second = queue.add('import', 'next', {}, two.run)
    one.report()!.progress(0.5, '5 of 10, 3 s left')
    one.report()!.problem('a.dng: damaged')
    await queue.close()
    expect(queue.get(first.id)).toMatchObject({
      state: 'cancelled',
      message: 'Cancelled at 5 of 10. What had come in stays.',
      problems: ['a.dng: damaged'],
    })
    expect(state(second.id)).toBe('waiting')
    expect(two.report()).toBeUndefined()
  })
})
