import {
  applyChanges,
  changesBetween,
  readDevelopment,
  startDevelopment,
  type ChangeOperation,
  type Development,
  type LogPlace,
} from '@dunkelkammer/core'
import type { Version } from '@dunkelkammer/contract'
import { cpSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'libsql'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { root, temporary } from '../../test/server'
import { openDatabase, schema, type Db } from '../db/open'
import { News } from './news'
import { ThumbRows } from './thumbRows'
import { Versions } from './versions'

const SHOOT = '00000000-0000-4000-8000-000000000001'
const FRAME = '00000000-0000-4000-8000-000000000002'
const TIME = '2026-03-01T06:00:00.000Z'
const MIGRATIONS = join(root, 'packages/server/drizzle')

let place: ReturnType<typeof temporary>
let db: Db
let versions: Versions
beforeEach(() => {
  place = temporary()
})
afterEach(() => {
  db?.close()
  place.remove()
})

const file = () => join(place.path, 'library.db')
function open(): Versions {
  db = openDatabase(file(), MIGRATIONS)
  versions = new Versions(db, new News(db))
  return versions
}

const row = {
  ...{ id: FRAME, shootId: SHOOT, original: 'hash', fileName: 'HM0417.dng', width: 2256, height: 1504 },
  metadata: { orientation: 1 },
}
function withFrame(): Version {
  open()
  db.insert(schema.shoots).values({ id: SHOOT, name: 'Lock', created: TIME }).run()
  db.insert(schema.originals).values({ hash: 'hash', size: 1 }).run()
  db.insert(schema.frames).values(row).run()
  db.transaction((tx) => versions.begin(tx, FRAME, { label: 'As taken', development: startDevelopment() }))
  return versions.of(FRAME)[0]
}
const edited = () => db.select().from(schema.frames).get()!.edited

/** A window that works on a version: what it sees, and what it sends. */
class Page {
  head: LogPlace
  development: Development
  constructor(readonly version: Version) {
    this.head = version.head
    this.development = version.development
  }
  /** The next change, as it would be sent. */
  change(steps: object, gesture?: string): ChangeOperation {
    const merged = readDevelopment({ steps: { ...this.development.steps, ...steps } })
    const changes = changesBetween(this.development, merged)
    const id = crypto.randomUUID()
    const made: ChangeOperation = {
      kind: 'change',
      id,
      parent: this.head,
      label: 'Change',
      changes,
      time: TIME,
    }
    if (gesture) made.gesture = gesture
    this.development = applyChanges(this.development, changes)
    this.head = id
    return made
  }
  send(...operations: ChangeOperation[]) {
    return this.append(operations[0].parent, operations)
  }
  append(base: LogPlace, operations: Parameters<Versions['append']>[1]['operations']) {
    return versions.append(this.version.id, { base, operations })
  }
  go(to: LogPlace, tip: LogPlace = this.head) {
    return this.append(this.head, [{ kind: 'go', id: crypto.randomUUID(), to, tip }])
  }
}
const ev = (value: number) => ({ exposure: { ev: value } })
const now = (version: Version) => versions.get(version.id)

describe('a log', () => {
  it('keeps each change with what it replaced, and the settings they come to', () => {
    const version = withFrame()
    expect(version).toMatchObject({ head: null, tip: null, revision: 0, entries: [], begunAs: 'As taken' })
    const page = new Page(version)
    const [a, b] = [page.change(ev(1)), page.change({ colourfulness: { all: 0.2 } })]
    expect(page.send(a, b)).toEqual({ outcome: 'appended', revision: 1 })
    const after = now(version)
    expect(after).toMatchObject({ head: b.id, tip: b.id, begun: startDevelopment() })
    expect(after.development).toEqual(page.development)
    expect(after.entries.map((e) => [e.id, e.parent, e.number])).toEqual([
      [b.id, a.id, 2],
      [a.id, null, 1],
    ])
    expect(after.entries[1].changes).toEqual([
      { part: 'exposure', before: { settings: { ev: 0 } }, now: { settings: { ev: 1 } } },
    ])
    expect(edited()).toBe(true)
  })

  it('goes back and forward, and keeps what was worked past as a branch', () => {
    const version = withFrame()
    const page = new Page(version)
    const [a, b] = [page.change(ev(1)), page.change(ev(2))]
    page.send(a, b)
    page.go(null)
    expect(now(version)).toMatchObject({ head: null, tip: b.id, development: startDevelopment() })
    expect(edited()).toBe(false)
    expect(now(version).entries.map((e) => e.id)).toEqual([b.id, a.id])
    const other = new Page(now(version))
    const c = other.change(ev(-1))
    other.send(c)
    expect(now(version)).toMatchObject({ head: c.id, tip: c.id })
    expect(versions.log(version.id, Infinity, 10).entries.map((e) => e.id)).toEqual([c.id, b.id, a.id])
    expect(versions.at(version.id, b.id).development.steps.exposure.ev).toBe(2)
    // the branch is opened again
    other.go(b.id, b.id)
    expect(now(version).development.steps.exposure.ev).toBe(2)
  })

  it('takes an operation down once, however often it is sent, and goes on from there', () => {
    const version = withFrame()
    const page = new Page(version)
    const a = page.change(ev(1))
    expect(page.send(a)).toEqual(page.send(a))
    const b = page.change(ev(2))
    // the answer to the first was lost: it comes again with the second
    expect(page.append(null, [a, b]).outcome).toBe('appended')
    expect(now(version)).toMatchObject({ head: b.id, revision: 2, development: { steps: ev(2) } })
    expect(versions.log(version.id, Infinity, 10).entries).toHaveLength(2)
  })

  it('is read quickly wherever one stands in it', () => {
    const version = withFrame()
    const page = new Page(version)
    const states: [string, number][] = []
    for (let block = 0; block < 4; block++) {
      const some = Array.from({ length: 50 }, (_, i) => page.change(ev((block * 50 + i + 1) / 100)))
      some.forEach((c, i) => states.push([c.id, (block * 50 + i + 1) / 100]))
      page.send(...some)
    }
    for (const [id, value] of states.filter((_, i) => i % 9 === 0))
      expect(versions.at(version.id, id).development.steps.exposure.ev).toBe(value)
    const snapshots = db
      .select()
      .from(schema.log)
      .all()
      .filter((r) => r.snapshot !== null)
    expect(snapshots.map((r) => r.depth)).toEqual([64, 128, 192])
    expect(now(version).entries).toHaveLength(100)
    const { entries, more } = versions.log(version.id, 150, 40)
    expect([entries[0].number, entries.length, more]).toEqual([149, 40, true])
  })

  it('keeps the names that entries are given', () => {
    const version = withFrame()
    const page = new Page(version)
    const a = page.change(ev(1))
    page.send(a)
    const name = (value: string | null) =>
      page.append(a.id, [{ kind: 'name', id: crypto.randomUUID(), entry: a.id, name: value }])
    name('Before the storm')
    expect(now(version).entries[0].name).toBe('Before the storm')
    name(null)
    expect(now(version).entries[0].name).toBeUndefined()
  })

  it('refuses what hangs on nothing it knows, and takes none of it', () => {
    const version = withFrame()
    const page = new Page(version)
    const a = page.change(ev(1))
    const loose = { ...page.change(ev(2)), parent: crypto.randomUUID() }
    expect(() => page.append(null, [a, loose])).toThrow(/does not know/)
    expect(() => page.append(crypto.randomUUID(), [a])).toThrow(/does not know/)
    expect(() => page.go(crypto.randomUUID())).toThrow(/does not know/)
    expect(now(version)).toMatchObject({ head: null, revision: 0 })
    expect(versions.log(version.id, Infinity, 10).entries).toEqual([])
  })
})

describe('a log of a newer edition', () => {
  it('is left as it is, and said', () => {
    const version = withFrame()
    const page = new Page(version)
    page.send(page.change(ev(1)))
    const glow = [{ part: 'glow', before: { settings: {} }, now: { settings: { amount: 1 } } }]
    db.update(schema.log).set({ changes: glow, label: 'Glow' }).run()
    expect(() => now(version)).toThrow(/“Glow”.*newer/)
    expect(db.select().from(schema.log).get()!.changes).toEqual(glow)
  })
})

describe('two windows', () => {
  it('that change different parts are joined', () => {
    const version = withFrame()
    const [one, two] = [new Page(version), new Page(version)]
    const a = one.change(ev(1))
    one.send(a)
    const [b, c] = [two.change({ colourfulness: { all: 0.3 } }), two.change({ level: { angle: 1 } })]
    expect(two.send(b, c)).toMatchObject({
      outcome: 'joined',
      version: {
        head: c.id,
        development: { steps: { exposure: { ev: 1 }, colourfulness: { all: 0.3 } } },
      },
    })
    expect(now(version).entries.map((e) => e.id)).toEqual([c.id, b.id, a.id])
    // back over the joined ones comes to the settings before them
    expect(versions.at(version.id, a.id).development.steps.colourfulness.all).toBe(0)
  })

  it('that change the same part: the later is told, and its work lies aside', () => {
    const version = withFrame()
    const [one, two] = [new Page(version), new Page(version)]
    const a = one.change(ev(1))
    one.send(a)
    const b = two.change(ev(-1))
    const told = two.send(b)
    expect(told).toMatchObject({
      outcome: 'aside',
      last: b.id,
      version: { head: a.id, development: { steps: ev(1) } },
    })
    expect(versions.at(version.id, b.id).development.steps.exposure.ev).toBe(-1)
    // the same asked again is answered the same
    expect(two.send(b)).toMatchObject({ outcome: 'aside', last: b.id })
    // what it went on with stays on the branch, though of another part
    const c = two.change({ level: { angle: 2 } })
    expect(two.send(c).outcome).toBe('aside')
    expect(versions.at(version.id, c.id).development.steps).toMatchObject({ ...ev(-1), level: { angle: 2 } })
    expect(now(version).development.steps.level.angle).toBe(0)
  })

  it('of which one goes back while the other works: nothing of either is lost', () => {
    const version = withFrame()
    const first = new Page(version)
    const a = first.change(ev(1))
    first.send(a)
    const [one, two] = [new Page(now(version)), new Page(now(version))]
    one.go(null)
    const b = two.change({ level: { angle: 2 } })
    expect(two.send(b)).toMatchObject({
      outcome: 'joined',
      version: { head: b.id, development: { steps: { ...ev(0), level: { angle: 2 } } } },
    })
    // going back from where nobody stands any more moves nothing
    expect(one.append(null, [{ kind: 'go', id: crypto.randomUUID(), to: a.id, tip: a.id }]).outcome).toBe(
      'aside',
    )
    expect(now(version).head).toBe(b.id)
  })
})

describe('versions', () => {
  it('begin untouched, as another stands, or at any entry, with logs of their own', () => {
    const version = withFrame()
    const page = new Page(version)
    const [a, b] = [page.change(ev(1)), page.change(ev(2))]
    page.send(a, b)
    const made = [
      versions.add(FRAME, {}),
      versions.add(FRAME, { from: version.id }),
      versions.add(FRAME, { from: version.id, entry: a.id, name: 'Lighter' }),
    ]
    expect(made.map((v) => [v.name, v.development.steps.exposure.ev, v.entries.map((e) => e.label)])).toEqual(
      [
        ['Version 2', 0, []],
        ['Version 3', 2, ['From First version']],
        ['Lighter', 1, ['From First version']],
      ],
    )
    new Page(made[1]).send(new Page(made[1]).change(ev(-1)))
    expect(now(version).development.steps.exposure.ev).toBe(2)
    expect(() => versions.add(FRAME, { from: crypto.randomUUID() })).toThrow(/no such version/i)
    expect(() => versions.add(FRAME, { from: version.id, entry: crypto.randomUUID() })).toThrow(
      /no such entry/i,
    )
  })

  it('are renamed, put into order, taken away and back', () => {
    const first = withFrame()
    const [two, three] = [versions.add(FRAME, {}), versions.add(FRAME, {})]
    versions.rename(two.id, 'For the catalogue')
    versions.order(FRAME, [three.id, first.id])
    const names = () => versions.of(FRAME).map((v) => v.name)
    expect(names()).toEqual(['Version 3', 'First version', 'For the catalogue'])
    versions.remove(three.id)
    expect(names()).toEqual(['First version', 'For the catalogue'])
    expect(versions.removed(FRAME)).toEqual([{ id: three.id, name: 'Version 3' }])
    expect(() => versions.get(three.id)).toThrow(/no such version/i)
    // its name is not given again
    expect(versions.add(FRAME, {}).name).toBe('Version 4')
    versions.takeBack(three.id)
    expect(names()[0]).toBe('Version 3')
    for (const v of versions.of(FRAME).slice(1)) versions.remove(v.id)
    expect(() => versions.remove(three.id)).toThrow(/at least one/)
  })
})

describe('the thumbnail', () => {
  it('is made anew where the sheet shows another version, though both are at the same revision', () => {
    const first = withFrame()
    const thumbs = new ThumbRows(db, new News(db))
    const stale = () => thumbs.stale(new Date('2100-01-01'), 10).map((s) => s.versionId)
    const made = () => stale().forEach(() => thumbs.set(FRAME, 0))
    expect(stale()).toEqual([first.id])
    made()
    expect(stale()).toEqual([])
    const second = versions.add(FRAME, {})
    // another version that is not shown changes nothing
    expect(stale()).toEqual([])
    versions.show(second.id)
    expect(stale()).toEqual([second.id])
    made()
    versions.remove(second.id)
    expect(stale()).toEqual([first.id])
    made()
    versions.takeBack(second.id)
    expect(stale()).toEqual([])
    versions.order(FRAME, [second.id, first.id])
    expect(stale()).toEqual([second.id])
  })
})

describe('a library from before there was a log', () => {
  /** A library as it was made then, with one version in this state. */
  function oldLibrary(state: unknown, frameEdited = false): void {
    const migrations = join(place.path, 'migrations')
    cpSync(MIGRATIONS, migrations, { recursive: true })
    const journal = join(migrations, 'meta/_journal.json')
    const { entries, ...rest } = JSON.parse(readFileSync(journal, 'utf8'))
    writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, 6) }))
    openDatabase(file(), migrations).close()
    const old = new Database(file())
    old.exec(`INSERT INTO shoots (id, name, created) VALUES ('${SHOOT}', 'Lock', '${TIME}')`)
    old.exec("INSERT INTO originals (hash, size) VALUES ('hash', 1)")
    old
      .prepare(
        `INSERT INTO frames (id, shoot_id, original, file_name, width, height, metadata, changed, edited)
         VALUES (?, ?, 'hash', 'HM0417.dng', 2256, 1504, '{"orientation":1}', 41, ?)`,
      )
      .run(FRAME, SHOOT, frameEdited ? 1 : 0)
    const version = old.prepare(
      'INSERT INTO versions (id, frame_id, name, revision, state, changed) VALUES (?, ?, ?, 7, ?, ?)',
    )
    version.run(crypto.randomUUID(), FRAME, 'First version', JSON.stringify(state), TIME)
    old.close()
  }
  /** Settings as that format wrote them. */
  const old = (exposure: number, part: object = {}) => {
    const { steps, strength, off, interest } = startDevelopment()
    const then = { format: 1, strength, off, interest, pins: [], held: [] }
    return { ...then, steps: { ...steps, ...ev(exposure) }, ...part }
  }

  it('opens with its history, its place in it, and its pins', () => {
    const pins = [{ x: 0.25, y: 0.5 }]
    oldLibrary(
      {
        history: [
          { label: 'As taken, with ink', development: old(0) },
          { label: 'Exposure', development: old(1) },
          { label: 'Hold Expose off', development: old(1, { held: ['expose'], pins }) },
          { label: 'x'.repeat(400), development: old(2, { pins }) },
        ],
        cursor: 2,
      },
      true,
    )
    open()
    const [version] = versions.of(FRAME)
    expect(version).toMatchObject({ name: 'First version', revision: 7, begunAs: 'As taken, with ink' })
    expect(version.development.steps.exposure.ev).toBe(1)
    expect(version.view).toEqual({ pins })
    expect(version.entries.map((e) => e.label.length)).toEqual(['Exposure'.length, 200])
    expect(version.development).not.toHaveProperty('held')
    const tip = version.entries.find((e) => e.id === version.tip)!
    expect(versions.at(version.id, tip.id).development.steps.exposure.ev).toBe(2)
    // the same again: it is read once
    expect(versions.of(FRAME)[0]).toEqual(version)
    // news go on counting
    versions.show(version.id)
    expect(db.select().from(schema.frames).get()!.changed).toBe(42)
  })

  it('keeps a version that began elsewhere as worked on, its first entry said', () => {
    oldLibrary({ history: [{ label: 'From First version', development: old(1) }], cursor: 0 }, true)
    open()
    const [version] = versions.of(FRAME)
    expect(version).toMatchObject({ begunAs: 'As taken', begun: startDevelopment() })
    expect(version.entries.map((e) => e.label)).toEqual(['From First version'])
    versions.show(version.id)
    expect(edited()).toBe(true)
  })

  it('leaves what it cannot read as it is, and says so', () => {
    const newer = { history: [{ label: 'As taken', development: { format: 99 } }], cursor: 0 }
    oldLibrary(newer)
    open()
    expect(() => versions.of(FRAME)).toThrow(/“First version” cannot be read.*newer/)
    expect(db.select().from(schema.versions).get()!.state).toEqual(newer)
  })
})
