import {
  applyChanges,
  encodePath,
  PatchSchema,
  revertChanges,
  startDevelopment,
  type Development,
  type LogPlace,
} from '@dunkelkammer/core'
import { AppendSchema, VersionViewSchema, type LogEntry, type Version } from '@dunkelkammer/contract'
import 'fake-indexeddb/auto'
import { openDB } from 'idb'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { openDatabase, schema, type Db } from '../../../server/src/db/open'
import { Bulk } from '../../../server/src/library/bulk'
import { News } from '../../../server/src/library/news'
import { Versions } from '../../../server/src/library/versions'
import { toProblem } from '../../../server/src/problem'
import { bulkBytes, dropBulk, keepBulk } from './bulk'
import { VersionDesk } from './versionDesk'

/** The desk and the server's log together, with a bad line between them. */

const SHOOT = '00000000-0000-4000-8000-000000000001'
const FRAME = '00000000-0000-4000-8000-000000000002'
const TIME = '2026-03-01T06:00:00.000Z'

let folder: string
let db: Db
let versions: Versions
/** What the line does with the next request. */
let line: { away: boolean; deaf: number; slow: number }

const answer = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status })

async function fetched(address: string, init: RequestInit = {}): Promise<Response> {
  if (line.away) throw new TypeError('no connection')
  const name = /^\/api\/bulk\/(.+)$/.exec(address)?.[1]
  const [, id, part, entry] = /^\/api\/versions\/([^/?]+)(?:\/(\w+))?(?:\/([\w-]+))?/.exec(address) ?? []
  const respond = () => {
    if (name && init.method === 'PUT') {
      new Bulk(db).put(name, init.body as Uint8Array)
      return answer({ ok: true })
    }
    if (name) return new Response(new Bulk(db).get(name) as Uint8Array<ArrayBuffer>)
    const body: unknown = init.body ? JSON.parse(String(init.body)) : undefined
    if (part === 'log' && init.method === 'POST') return answer(versions.append(id, AppendSchema.parse(body)))
    if (part === 'log' && entry) return answer(versions.at(id, entry === 'begun' ? null : entry))
    if (part === 'log') return answer(versions.log(id, Infinity, 200))
    if (part === 'view') versions.setView(id, VersionViewSchema.parse(body))
    return answer(part ? { ok: true } : versions.get(id))
  }
  let response: Response
  try {
    response = respond()
  } catch (error) {
    const { status, code, message } = toProblem(error)
    response = answer({ code, message }, status)
  }
  if (line.slow) await new Promise((done) => setTimeout(done, line.slow))
  if (line.deaf > 0 && line.deaf--) throw new TypeError('the answer got lost')
  return response
}

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'] })
  vi.setSystemTime(new Date(TIME))
  vi.stubGlobal('fetch', fetched)
  vi.stubGlobal('addEventListener', () => undefined)
  vi.stubGlobal('removeEventListener', () => undefined)
  vi.stubGlobal('localStorage', { length: 0 })
  line = { away: false, deaf: 0, slow: 0 }
  folder = mkdtempSync(join(tmpdir(), 'desk-'))
  db = openDatabase(join(folder, 'library.db'), join(import.meta.dirname, '../../../server/drizzle'))
  // each test makes some hundred small saves; none of them has to outlive the machine
  db.run('PRAGMA synchronous = OFF')
  versions = new Versions(db, new News(db))
  db.insert(schema.shoots).values({ id: SHOOT, name: 'Lock', created: TIME }).run()
  db.insert(schema.originals).values({ hash: 'hash', size: 1 }).run()
  const metadata = { orientation: 1 }
  const size = { width: 2256, height: 1504 }
  db.insert(schema.frames)
    .values({ id: FRAME, shootId: SHOOT, original: 'hash', fileName: 'HM0417.dng', metadata, ...size })
    .run()
  db.transaction((tx) => versions.begin(tx, FRAME, { label: 'As taken', development: startDevelopment() }))
})
afterEach(async () => {
  for (const [on, stop] of leave) {
    stop()
    on.close()
  }
  leave.clear()
  vi.useRealTimers()
  const store = await openDB('dunkelkammer', 1)
  if (store.objectStoreNames.contains('unsaved')) await store.clear('unsaved')
  store.close()
  vi.unstubAllGlobals()
  db.close()
  rmSync(folder, { recursive: true })
})

const stored = (): Version => versions.of(FRAME)[0]
const leave = new Map<VersionDesk, () => void>()
const desk = () => {
  const made = new VersionDesk(stored())
  leave.set(
    made,
    made.subscribe(() => undefined),
  )
  made.open()
  return made
}
/** A turn of the store, which does not go by the clock that the tests hold. */
const turn = () => new Promise((done) => setImmediate(done))
/** Waits until so many operations of a version are kept in the browser. */
async function kept(operations: number): Promise<void> {
  const store = await openDB('dunkelkammer', 1)
  const count = async () =>
    ((await store.getAll('unsaved')) as { batches: { operations: unknown[] }[] }[])
      .flatMap((r) => r.batches)
      .reduce((n, b) => n + b.operations.length, 0)
  await vi.waitFor(async () => expect(await count()).toBe(operations), { timeout: 20000, interval: 1 })
  store.close()
}
/** The settings at a place, from the beginning on. */
function replayed(begun: Development, entries: readonly LogEntry[], place: LogPlace): Development {
  const entry = entries.find((e) => e.id === place)
  return entry ? applyChanges(replayed(begun, entries, entry.parent), entry.changes) : begun
}
type Steps = Development['steps']
const set = <K extends keyof Steps>(on: VersionDesk, id: K, part: Partial<Steps[K]>, gesture?: string) =>
  on.adjust((d) => ({ ...d, steps: { ...d.steps, [id]: { ...d.steps[id], ...part } } }), id, gesture)
const expose = (on: VersionDesk, ev: number, gesture?: string) => set(on, 'exposure', { ev }, gesture)
const wait = (ms: number) => vi.advanceTimersByTimeAsync(ms)
/** Lets time go on until something is done. */
async function passing<T>(doing: Promise<T>): Promise<T> {
  let over = false
  const end = () => void (over = true)
  doing.then(end, end)
  while (!over) {
    await turn()
    await wait(20)
  }
  return doing
}
const allEntries = (id = stored().id): LogEntry[] => versions.log(id, Infinity, 10000).entries
const exposures = () =>
  allEntries()
    .reverse()
    .map((e) => (e.changes[0].now.settings as { ev: number }).ev)
const ev = () => stored().development.steps.exposure.ev

const patchOf = (id: string, x: number) =>
  PatchSchema.parse({ id, x, y: 0.3, radius: 0.01, source: [0.1, 0] })

describe('the desk', () => {
  it('makes one step of a drag and undoes it as one', async () => {
    const on = desk()
    for (const value of [0.1, 0.2, 0.3]) expose(on, value, 'exposure')
    // part of it is saved while it is dragged on
    await wait(100)
    expose(on, 0.4, 'exposure')
    on.endGesture()
    expose(on, 0.5, 'exposure')
    on.undo()
    expect(on.development.steps.exposure.ev).toBe(0.4)
    on.undo()
    expect(on.development.steps.exposure.ev).toBe(0)
    expect(on.snapshot()).toMatchObject({ undoes: undefined, redoes: 'Exposure 0.00 to +0.40 EV' })
    on.redo()
    expect(on.development.steps.exposure.ev).toBe(0.4)
    expose(on, -1)
    expect(on.snapshot().redoes).toBeUndefined()
    await on.settle()
    expect(exposures()).toEqual([0.3, 0.4, 0.5, -1])
    expect(ev()).toBe(-1)
  })

  it('says nothing of a drag that came back to where it began', async () => {
    const on = desk()
    expose(on, 0.4, 'exposure')
    expose(on, 0, 'exposure')
    set(on, 'level', { angle: 1 })
    await on.settle()
    expect(allEntries().map((e) => [e.label, e.parent])).toEqual([['level', null]])
    expect(on.snapshot().head).toBe(stored().head)
  })

  it('saves at once, and a drag while it goes on', async () => {
    const on = desk()
    expose(on, 0.1, 'exposure')
    expect(on.snapshot().saving).toBe('saving')
    await wait(60)
    expect([ev(), on.snapshot().saving]).toEqual([0.1, 'saved'])
    for (let i = 2; i <= 20; i++) {
      expose(on, i / 10, 'exposure')
      await wait(50)
    }
    // about five saves a second
    expect(allEntries().length).toBeGreaterThan(4)
    expect(allEntries().length).toBeLessThan(8)
    await wait(400)
    expect(ev()).toBe(2)
    on.undo()
    await on.settle()
    expect(ev()).toBe(0)
  })

  it('goes back beyond what came with the page, to the beginning and forward again', async () => {
    const on = desk()
    for (let i = 1; i <= 260; i++) set(on, 'level', { angle: i / 20 })
    await on.settle()
    const fresh = desk()
    for (let i = 259; i >= 0; i--) {
      fresh.undo()
      await wait(0)
      expect(fresh.development.steps.level.angle).toBe(i / 20)
    }
    expect(fresh.snapshot().undoes).toBeUndefined()
    await fresh.settle()
    const third = desk()
    await wait(0)
    await wait(0)
    await wait(0)
    third.redo()
    expect(third.development.steps.level.angle).toBe(1 / 20)
  })

  it('goes anywhere, and keeps the branch that it left', async () => {
    const on = desk()
    for (const value of [1, 2, 3]) expose(on, value)
    await on.settle()
    const [three, two] = allEntries()
    await on.goTo(null)
    expose(on, -2)
    await on.goTo(three.id)
    expect(on.development.steps.exposure.ev).toBe(3)
    await on.goTo(two.id)
    expect(on.snapshot()).toMatchObject({
      undoes: 'Exposure +1.00 to +2.00 EV',
      redoes: 'Exposure +2.00 to +3.00 EV',
    })
    on.nameEntry(two.id, 'Soft')
    await on.settle()
    expect(stored()).toMatchObject({ head: two.id, tip: three.id })
    expect(allEntries().find((e) => e.id === two.id)?.name).toBe('Soft')
    expect(exposures()).toEqual([1, 2, 3, -2])
  })

  it('keeps trying while the server is away, and says so', async () => {
    const on = desk()
    line.away = true
    expose(on, 1)
    await wait(1000)
    expect(on.snapshot()).toMatchObject({
      saving: 'waiting',
      problem: expect.stringMatching(/does not answer/),
    })
    line.away = false
    await wait(4000)
    expect(on.snapshot()).toMatchObject({ saving: 'saved', problem: undefined })
    expect(ev()).toBe(1)
  })

  it('keeps pins beside the history', async () => {
    const on = desk()
    on.setPins([{ x: 0.1, y: 0.2 }])
    await on.settle()
    expect(stored().view.pins).toEqual([{ x: 0.1, y: 0.2 }])
    expect(on.snapshot()).toMatchObject({ saving: 'saved', undoes: undefined })
    expect(desk().snapshot().pins).toEqual([{ x: 0.1, y: 0.2 }])
  })
})

describe('nothing of a save is lost', () => {
  /** The window is gone from one moment to the next; another one opens. */
  const killed = async (on: VersionDesk, unsaved: number) => {
    line.away = true
    leave.get(on)!()
    on.close()
    await kept(unsaved)
    await wait(10000)
    line.away = false
    // what this one has kept is another one's there
    vi.resetModules()
    const { recover } = await import('./recover')
    await passing(recover())
  }

  it('where a change comes while one is on its way, and another frame is gone to and left again', async () => {
    line.slow = 600
    const on = VersionDesk.of(stored())
    on.open()
    expose(on, 1)
    await wait(100)
    expose(on, 2)
    on.close()
    // back at once: what is still being saved is gone on with
    const back = VersionDesk.of(stored())
    expect(back).toBe(on)
    back.open()
    expose(back, 3)
    await wait(3000)
    expect(back.snapshot()).toMatchObject({ saving: 'saved', problem: undefined })
    expect(exposures()).toEqual([1, 2, 3])
    // all of it is saved: the next time it is a desk of its own
    back.close()
    expect(VersionDesk.of(stored())).not.toBe(back)
  })

  it('where answers get lost, and others after them', async () => {
    line.deaf = 2
    const on = desk()
    expose(on, 1)
    await wait(100)
    expect(on.snapshot().saving).toBe('waiting')
    expose(on, 2)
    await wait(9000)
    expect(on.snapshot()).toMatchObject({ saving: 'saved', problem: undefined })
    expect(exposures()).toEqual([1, 2])
  })

  it('where the window is killed before anything was sent', async () => {
    const on = desk()
    expose(on, 1)
    expose(on, 2)
    await killed(on, 2)
    expect(exposures()).toEqual([1, 2])
    expect(ev()).toBe(2)
  })

  it('where it is killed while a save is on its way that arrives', async () => {
    const on = desk()
    line.deaf = 1
    expose(on, 1)
    await wait(100)
    expose(on, 2)
    await killed(on, 2)
    expect(exposures()).toEqual([1, 2])
  })

  /** Paints a stroke; no two are alike. */
  const paint = (on: VersionDesk, id: string) => {
    const path = keepBulk(encodePath([{ x: Math.random() / 10, y: 0 }]) as Uint8Array<ArrayBuffer>)
    const { patches } = on.development.steps.patches
    set(on, 'patches', { patches: [...patches, { ...patchOf(id, 0.5), shape: 'stroke', path }] })
    return path
  }

  it('of what was painted, which is there before the settings that speak of it', async () => {
    const on = desk()
    line.deaf = 1
    const paths = [paint(on, 'a'), paint(on, 'b')]
    await wait(9000)
    await on.settle()
    expect(stored().development.steps.patches.patches.map((p) => p.path)).toEqual(paths)
    for (const path of paths) expect(new Bulk(db).get(path).length).toBeGreaterThan(2)
  })

  it('of what was painted while the server was away, where the window is killed', async () => {
    const on = desk()
    line.away = true
    const path = paint(on, 'a')
    await killed(on, 1)
    expect(stored().development.steps.patches.patches.map((p) => p.path)).toEqual([path])
    expect(new Bulk(db).get(path).length).toBeGreaterThan(2)
  })

  it('of what was painted, where another stroke was the same on its way', async () => {
    const on = desk()
    line.away = true
    const path = paint(on, 'a')
    const same = keepBulk((await bulkBytes(path)) as Uint8Array<ArrayBuffer>)
    expect(same).toBe(path)
    dropBulk(same)
    line.away = false
    await on.settle()
    expect(new Bulk(db).get(path).length).toBeGreaterThan(2)
    // what nothing speaks of is gone
    const other = keepBulk(encodePath([{ x: 0.03, y: 0.04 }]) as Uint8Array<ArrayBuffer>)
    dropBulk(other)
    await turn()
    await expect(bulkBytes(other)).rejects.toThrow()
  })

  it('of what was painted where the library is brought back from before it', async () => {
    const on = desk()
    const path = paint(on, 'a')
    await on.settle()
    on.undo()
    await on.settle()
    db.delete(schema.bulk).run()
    set(on, 'patches', { patches: [{ ...patchOf('b', 0.5), shape: 'stroke', path }] })
    await on.settle()
    expect(new Bulk(db).get(path).length).toBeGreaterThan(2)
  })

  it('where a long history is left unsaved', async () => {
    const on = desk()
    line.away = true
    for (let i = 1; i <= 500; i++) set(on, 'level', { angle: i / 50 })
    await killed(on, 500)
    expect(allEntries()).toHaveLength(500)
    expect(stored().development.steps.level.angle).toBe(10)
  })

  it('where the stale one of two windows is loaded anew', async () => {
    const [one, two] = [desk(), desk()]
    expose(one, 1)
    await one.settle()
    line.away = true
    expose(two, -1)
    set(two, 'level', { angle: 2 })
    await killed(two, 2)
    expect(ev()).toBe(1)
    expect(exposures().slice(0, 2)).toEqual([1, -1])
    expect(allEntries()).toHaveLength(3)
  })
})

describe('two windows', () => {
  it('change different parts, and both come to the same', async () => {
    const [one, two] = [desk(), desk()]
    expose(one, 1)
    set(two, 'level', { angle: 2 })
    await one.settle()
    await two.settle()
    expect(two.development.steps).toMatchObject({ exposure: { ev: 1 }, level: { angle: 2 } })
    expect(two.snapshot().aside).toBeUndefined()
    expose(one, 1.5)
    await one.settle()
    expect(one.development).toEqual(stored().development)
    expect(one.development.steps).toMatchObject({ exposure: { ev: 1.5 }, level: { angle: 2 } })
  })

  it('change the same part: the later is told, and can take its own up', async () => {
    const [one, two] = [desk(), desk()]
    expose(one, 1)
    await one.settle()
    expose(two, -1)
    set(two, 'level', { angle: 2 })
    await two.settle()
    expect(two.development.steps).toMatchObject({ exposure: { ev: 1 }, level: { angle: 0 } })
    expect(two.snapshot().aside).toBeDefined()
    await two.takeAside()
    expect(two.snapshot().aside).toBeUndefined()
    await two.settle()
    expect(stored().development.steps).toMatchObject({ exposure: { ev: -1 }, level: { angle: 2 } })
  })

  it('of which one works on while it is told', async () => {
    const [one, two] = [desk(), desk()]
    expose(one, 1)
    await one.settle()
    line.slow = 500
    expose(two, -1)
    await wait(100)
    set(two, 'level', { angle: 2 })
    await wait(3000)
    line.slow = 0
    // what was made on top of it lies aside with it
    expect(two.development.steps).toMatchObject({ exposure: { ev: 1 }, level: { angle: 0 } })
    await two.takeAside()
    await two.settle()
    expect(stored().development.steps).toMatchObject({ exposure: { ev: -1 }, level: { angle: 2 } })
  })
})

/** Numbers between 0 and 1 by a seed (xorshift). */
function random(seed: number): () => number {
  let x = seed * 2654435761 + 1
  return () => {
    x ^= x << 13
    x ^= x >>> 17
    x ^= x << 5
    return (x >>> 0) / 2 ** 32
  }
}

describe('whatever is done', () => {
  it.each(Array.from({ length: 24 }, (_, i) => i + 1))(
    'no entry is lost, and replay comes to the same: %i',
    async (seed) => {
      const next = random(seed)
      const pick = <T>(from: readonly T[]): T => from[Math.floor(next() * from.length)]
      let windows = [desk(), desk()]
      /** The simple model: every state that a window has shown after a change of its own, by what was set. */
      const made = new Set<string>()
      let count = 0
      const value = () => Math.round((++count / 100) * 100) / 100
      const places = (): LogPlace[] => [null, ...allEntries().map((e) => e.id)]
      const doings: ((on: VersionDesk) => unknown)[] = [
        (on) => {
          const v = value()
          expose(on, Math.min(v, 5))
          made.add(`exposure ${on.development.steps.exposure.ev}`)
        },
        (on) => {
          set(on, 'level', { angle: value() })
          made.add(`level ${on.development.steps.level.angle}`)
        },
        (on) => {
          for (let i = 0; i < 3; i++) set(on, 'colourfulness', { all: Math.min(value() / 10, 1) }, 'drag')
          on.endGesture()
          made.add(`colourfulness ${on.development.steps.colourfulness.all}`)
        },
        // patches come, change and go one by one
        (on) => {
          const id = `patch ${++count}`
          const patches = [...on.development.steps.patches.patches]
          patches.splice(Math.floor(next() * (patches.length + 1)), 0, patchOf(id, next()))
          set(on, 'patches', { patches }, pick(['a drag', undefined]))
          made.add(id)
        },
        (on) => {
          const { patches } = on.development.steps.patches
          if (patches.length === 0) return
          const which = pick(patches)
          const changed = next() < 0.5 ? [] : [{ ...which, opacity: next() }]
          set(on, 'patches', { patches: patches.flatMap((p) => (p === which ? changed : [p])) })
        },
        (on) =>
          on.adjust(
            (d) => ({ ...d, off: d.off.includes('exposure') ? [] : ['exposure'] }),
            'Exposure off and on',
          ),
        (on) => on.undo(),
        (on) => on.redo(),
        (on) => passing(on.goTo(pick(places())).catch(() => undefined)),
        () => void (line.away = next() < 0.5),
        () => void (line.deaf = Math.floor(next() * 3)),
        () => void (line.slow = next() < 0.5 ? 0 : 400),
        () => wait(next() * 1000),
        () => wait(4000),
        // a window that is reloaded
        async (on) => {
          line = { away: false, deaf: 0, slow: 0 }
          await passing(on.settle().catch(() => undefined))
          on.close()
          windows = windows.map((w) => (w === on ? desk() : w))
        },
      ]
      for (let i = 0; i < 60; i++) {
        await pick(doings)(pick(windows))
        if (next() < 0.4) await wait(50)
      }
      line = { away: false, deaf: 0, slow: 0 }
      await wait(10000)
      for (const w of windows) await passing(w.settle())
      const entries = allEntries()
      const said = new Set(
        entries.flatMap((e) =>
          e.changes.flatMap((c) => {
            if (c.part === 'patches') {
              const { changed } = (c.now.settings as { patches: { changed: [number, { id: string }][] } })
                .patches
              return changed.map(([, { id }]) => id)
            }
            const s = c.now.settings as Record<string, number>
            return `${c.part} ${c.part === 'exposure' ? s.ev : c.part === 'level' ? s.angle : s.all}`
          }),
        ),
      )
      expect([...made].filter((m) => !said.has(m))).toEqual([])
      // replay: every entry's settings are its parent's with its changes, and its inverse leads back
      const { id, head, development, begun } = stored()
      expect(replayed(begun, entries, head)).toEqual(development)
      for (const entry of entries) {
        expect(replayed(begun, entries, entry.id)).toEqual(versions.at(id, entry.id).development)
        const after = replayed(begun, entries, entry.id)
        expect(revertChanges(after, entry.changes)).toEqual(replayed(begun, entries, entry.parent))
      }
      expect(windows.filter((w) => w.snapshot().saving !== 'saved')).toEqual([])
    },
  )
})
