import { applyChanges, type Development, type LogPlace, type Operation } from '@dunkelkammer/core'
import type { LogEntry, LogPage, Version } from '@dunkelkammer/contract'
import { writeDng } from '@dunkelkammer/demo'
import Database from 'libsql'
import { join } from 'node:path'
import { contents } from '../../core/test/files'
import { exposing, startServer, temporary, type TestServer, randomFrom } from './server'

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))
const VERSIONS = 4

/** One window at work on a version: it sends each change until it is told that it is kept. */
class Window {
  head: LogPlace = null
  development: Development
  /** Changes that were acknowledged. */
  readonly kept: string[] = []
  readonly waits: number[] = []
  private sent?: { base: LogPlace; operations: Operation[] }

  constructor(private readonly version: Version) {
    this.development = version.development
  }

  get id(): string {
    return this.version.id
  }

  /** @returns whether it was acknowledged */
  async edit(server: TestServer, ev: number): Promise<boolean> {
    const standing = { ...this.version, head: this.head, development: this.development }
    this.sent ??= exposing(standing, ev)
    const since = performance.now()
    const answer = await server.append(this.version, this.sent).catch(() => undefined)
    if (!answer) return false
    if (answer.status !== 200) throw new Error(`a change was answered with ${answer.status}`)
    this.waits.push(performance.now() - since)
    for (const o of this.sent.operations) {
      if (o.kind !== 'change') continue
      this.kept.push(o.id)
      this.head = o.id
      this.development = applyChanges(this.development, o.changes)
    }
    this.sent = undefined
    return true
  }
}

export interface LogOutcome {
  kills: number
  changes: number
  /** Milliseconds until a change was acknowledged, in the middle. */
  median: number
}

/**
 * Kills a server again and again in the middle of changes to versions, and looks for what is lost, doubled or damaged.
 * @throws Error that says what
 */
export async function endureLog(kills: number, edits: number, seed: number): Promise<LogOutcome> {
  const place = temporary()
  const random = randomFrom(seed)
  let server = await startServer(place.path)
  const shoot = await server.newShoot()
  const small = writeDng(contents())
  const windows: Window[] = []
  for (let i = 0; i < VERSIONS; i++) {
    const id = await server.frame(shoot.id, `${i}.dng`, Buffer.concat([small, Buffer.from(`${i}`)]))
    windows.push(new Window(await server.version(id)))
  }
  let [done, changes] = [0, 0]
  while (done < kills || changes < edits) {
    let going = true
    const working = windows.map(async (window) => {
      while (going) {
        if (await window.edit(server, Math.round(random() * 1000) / 200)) changes++
        else await pause(1)
      }
    })
    // a server that has just started takes its time
    const before = changes
    while (changes === before) await pause(1)
    await pause(random() * 120)
    await server.kill()
    going = false
    await Promise.all(working)
    done++
    const db = new Database(join(place.path, 'library.db'))
    const [{ integrity_check: said }] = db.prepare('PRAGMA integrity_check').all() as never as {
      integrity_check: string
    }[]
    db.close()
    if (said !== 'ok') throw new Error(`kill ${done}: ${said}`)
    server = await startServer(place.path)
  }
  // what was sent and not acknowledged may have arrived: it is sent once more, and is there once
  for (const window of windows) await window.edit(server, 0.5)
  for (const window of windows) await check(server, window)
  await server.stop()
  place.remove()
  const waits = windows.flatMap((w) => w.waits).sort((a, b) => a - b)
  return { kills: done, changes, median: waits[waits.length >> 1] }
}

async function check(server: TestServer, window: Window): Promise<void> {
  const entries: LogEntry[] = []
  for (let more = true; more;) {
    const before = entries.at(-1)?.number
    const query = before === undefined ? '' : `?before=${before}`
    const { body } = await server.ask<LogPage>(`/api/versions/${window.id}/log${query}`)
    entries.push(...body.entries)
    more = body.more
  }
  const ids = entries.map((e) => e.id).reverse()
  if (JSON.stringify(ids) !== JSON.stringify(window.kept))
    throw new Error('the log is not what was acknowledged')
  const { body: version } = await server.ask<Version>(`/api/versions/${window.id}`)
  const replay = entries.reduceRight((d, e) => applyChanges(d, e.changes), version.begun)
  for (const is of [replay, window.development])
    if (JSON.stringify(version.development) !== JSON.stringify(is))
      throw new Error('replay comes to other settings')
}
