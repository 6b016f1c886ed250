import { sql } from 'drizzle-orm'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { root, temporary } from '../../test/server'
import { z } from 'zod'
import { openDatabase, type Db } from '../db/open'
import { defineKind, type JobKinds, type JobOutcome, type JobReport } from './kinds'
import { JobQueue } from './queue'

let place: ReturnType<typeof temporary>
let db: Db
let queue: JobQueue
/** What is done under a name, of the stored requests. */
const works = new Map<string, (report: JobReport) => Promise<JobOutcome>>()
const schema = z.object({ name: z.string() })
const run = ({ name }: { name: string }, report: JobReport) =>
  works.get(name)?.(report) ?? new Promise<JobOutcome>(() => undefined)
const again = vi.fn()
const KINDS: JobKinds = {
  deliver: defineKind({ schema, run, pauses: true, again }),
  import: defineKind({ schema, run, cancelled: (said) => `Cancelled at ${said}. What had come in stays.` }),
  dust: defineKind({ schema, run, stopped: (said) => `Stopped at ${said}.` }),
}
const open = () => {
  db = openDatabase(join(place.path, 'library.db'), join(root, 'packages/server/drizzle'))
  queue = new JobQueue(db)
  queue.start(KINDS)
}
/** Asks for work that is known under a name. */
const add = (kind: 'deliver' | 'import' | 'dust', name: string, how?: Parameters<typeof works.set>[1]) => {
  if (how) works.set(name, how)
  return queue.add(kind, name, { name })
}
beforeEach(() => {
  works.clear()
  again.mockClear()
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
    const first = add('deliver', 'one', one.run)
    const second = add('deliver', 'two', two.run)
    const third = add('import', 'card', card.run)
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
    const ids = all.map((w, i) => add('deliver', `${i}`, w.run).id)
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

  it('takes up after a stop what can be gone on with, and says of the rest what became of it', async () => {
    const never = () => new Promise<JobOutcome>(() => undefined)
    const ids = [
      add('deliver', 'at work', never),
      add('deliver', 'waiting', never),
      add('dust', 'mending', (report) => {
        report.progress(0.2, '2 of 10')
        return never()
      }),
      add('dust', 'not begun', never),
      queue.add('check', 'of a kind that is no more', {}),
      add('import', 'asked otherwise', never),
    ].map((job) => job.id)
    db.run(sql`update jobs set request = '{"path": "/"}' where title = 'asked otherwise'`)
    // killed: nothing is written on the way out
    db.close()
    const [first, second, third] = [work(), work(), work()]
    works.set('at work', first.run).set('waiting', second.run).set('not begun', third.run)
    open()
    await vi.waitFor(() => expect(first.report()?.id).toBe(ids[0]))
    expect(ids.map(state)).toEqual([
      ...['running', 'waiting', 'interrupted', 'running', 'interrupted', 'interrupted'],
    ])
    expect(queue.get(ids[2]).message).toBe('Stopped at 2 of 10.')
    expect(queue.get(ids[5]).message).toBe('The server stopped before this was complete. Start it again.')
    first.end({ message: 'made' })
    await reaches(ids[1], 'running')
    expect(queue.list().map((j) => j.id)).toEqual([...ids].reverse())
  })

  it('holds up a job and goes on with it, and with those that failed in part', async () => {
    const [one, two] = [work(), work()]
    const { id } = add('deliver', 'one', one.run)
    const next = add('deliver', 'two', two.run)
    expect(queue.get(id)).toMatchObject({ state: 'running', pauses: true })
    one.report()!.progress(0.4, '4 of 10')
    queue.pause(id)
    await reaches(id, 'paused')
    expect(queue.get(id)).toMatchObject({ progress: 0.4, message: '4 of 10', retries: true })
    // others go on meanwhile
    await reaches(next.id, 'running')
    queue.pause(next.id)
    await reaches(next.id, 'paused')
    expect(queue.cancel(next.id).state).toBe('cancelled')
    const more = work()
    works.set('one', more.run)
    expect(queue.continue(id).state).toBe('running')
    expect(again).toHaveBeenCalledExactlyOnceWith(id)
    more.end({ message: '9 made, 1 failed.', retries: true })
    await reaches(id, 'done')
    expect(queue.get(id).retries).toBe(true)
    const last = work()
    works.set('one', last.run)
    queue.continue(id)
    await vi.waitFor(() => expect(last.report()).toBeDefined())
    last.end({ message: 'all made' })
    await vi.waitFor(() => expect(queue.get(id)).toMatchObject({ state: 'done', message: 'all made' }))
    expect(() => queue.continue(id)).toThrow('There is nothing left to do in this job.')
    expect(() => queue.pause(id)).toThrow('This job has ended already.')
    const { id: card } = add('dust', 'dust', work().run)
    expect(() => queue.pause(card)).toThrow('This job cannot be paused.')
  })

  it('is asked once under one name, and writes down what belongs to it together with it, or not at all', () => {
    const parts = vi.fn()
    const id = crypto.randomUUID()
    const ask = (how: () => void) => queue.add('deliver', 'one', { name: 'one' }, { id, parts: how })
    expect(() =>
      ask(() => {
        throw new Error('no room')
      }),
    ).toThrow()
    expect(() => queue.get(id)).toThrow('There is no such job.')
    ask(parts)
    ask(parts)
    expect(parts).toHaveBeenCalledTimes(1)
    expect(queue.list()).toHaveLength(1)
    expect(() => queue.add('deliver', 'nothing', {})).toThrow()
  })

  it('tells what became of a job that could not be written down, and writes it when there is room', async () => {
    const one = work()
    const { id } = add('deliver', 'one', one.run)
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
    const next = add('deliver', 'two', two.run)
    two.end({ message: 'made' })
    await reaches(next.id, 'done')
    await vi.waitFor(() => expect(stored()).toEqual(['done', 'done']))
  })

  it('ends what it does when it is closed, and goes on with it later where it can', async () => {
    const [one, two, third] = [work(), work(), work()]
    const first = add('dust', 'card', one.run)
    const second = add('dust', 'next', two.run)
    const files = add('deliver', 'files', third.run)
    one.report()!.progress(0.5, '5 of 10, 3 s left')
    one.report()!.problem('a.dng: damaged')
    await queue.close()
    expect(queue.get(first.id)).toMatchObject({
      state: 'cancelled',
      message: 'Cancelled.',
      problems: ['a.dng: damaged'],
    })
    expect(state(files.id)).toBe('waiting')
    expect(state(second.id)).toBe('waiting')
    expect(two.report()).toBeUndefined()
  })
})
