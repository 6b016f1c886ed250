import { looksWhole } from '@dunkelkammer/engine/encode'
import Database from 'libsql'
import { spawn } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { writeDng } from '@dunkelkammer/demo'
import { contents } from '../../core/test/files'
import { filesIn, root, startServer, temporary, type TestServer, randomFrom } from './server'

/** What the server has said is safe. */
interface Acknowledged {
  /** Frames by id: the hash of their original. */
  frames: Map<string, string>
  /** Versions by frame: exposure and revision of the last save, and of one that is on its way. */
  saves: Map<string, { ev: number; revision: number; asked?: number }>
  /** Frames whose removal was asked for; gone or there, as long as it was not acknowledged. */
  dropping: Set<string>
  deliveries: Set<string>
}

export interface EndureOutcome {
  kills: number
  uploads: number
  saves: number
  deliveries: number
  emptied: number
  backups: number
  restored: number
}

const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/**
 * Kills a server again and again in the middle of saves, uploads, deliveries, emptying, backups and restoring, and
 * compares the library each time with what was acknowledged.
 * @param seed of the moments
 * @throws Error that says what was lost
 */
export async function endure(
  kills: number,
  seed: number,
  report: (line: string) => void,
): Promise<EndureOutcome> {
  const place = temporary()
  const random = randomFrom(seed)
  const library = join(place.path, 'library')
  const backup = join(place.path, 'backup')
  const known: Acknowledged = {
    frames: new Map(),
    saves: new Map(),
    dropping: new Set(),
    deliveries: new Set(),
  }
  const out = { kills: 0, uploads: 0, saves: 0, deliveries: 0, emptied: 0, backups: 0, restored: 0 }
  const small = writeDng(contents())
  let made = 0
  let shootId: string | undefined
  let killed = false
  const fail = (what: string): never => {
    throw new Error(`kill ${out.kills} (seed ${seed}): ${what}; the library is ${library}`)
  }

  /** Works until the server is gone. */
  async function work(server: TestServer): Promise<void> {
    shootId ??= (await server.newShoot()).id
    const shoot = shootId
    const alive = () => !killed && server.process.exitCode === null
    const ids = () => [...known.frames.keys()].filter((id) => !known.dropping.has(id))
    const pick = () => ids()[Math.floor(random() * ids().length)]
    const upload = async () => {
      while (alive()) {
        const bytes = Buffer.concat([small, Buffer.from(`file ${seed} ${made++}`)])
        const { status, body } = await server.upload(shoot, `${made}.dng`, bytes)
        if (status !== 201) fail(`an upload was answered with ${status}: ${body.message}`)
        known.frames.set(body.frame.id, hashOf(bytes))
        out.uploads++
        if (known.frames.size > 60) await pause(20)
      }
    }
    const save = async () => {
      while (alive()) {
        const id = pick()
        if (!id) {
          await pause(5)
          continue
        }
        const version = await server.version(id)
        const ev = Math.round(random() * 500) / 100
        const before = known.saves.get(id) ?? { ev: 0, revision: 0 }
        known.saves.set(id, { ...before, asked: ev })
        const { status } = await server.expose(version, ev)
        if (status === 404 && known.dropping.has(id)) continue
        if (status !== 200) fail(`a save was answered with ${status}`)
        known.saves.set(id, { ev, revision: version.revision + 1 })
        out.saves++
      }
    }
    const deliver = async () => {
      while (alive()) {
        const id = pick()
        if (!id) {
          await pause(5)
          continue
        }
        const fileName = `file ${made++}`
        const job = await server.deliver(id, { size: { by: 'long edge', pixels: 48 }, fileName })
        if (job.state === 'done') {
          known.deliveries.add(job.fileName!)
          out.deliveries++
        } else if (!known.dropping.has(id)) fail(`a delivery ended with "${job.message}"`)
      }
    }
    const empty = async () => {
      while (alive()) {
        await pause(40)
        const some = ids().slice(0, Math.max(ids().length - 30, 0))
        if (some.length === 0) continue
        for (const id of some) known.dropping.add(id)
        await server.drop(some)
        const { status } = await server.ask(`/api/shoots/${shoot}/bin`, { method: 'DELETE' })
        if (status !== 200) fail(`emptying was answered with ${status}`)
        for (const id of some) {
          known.frames.delete(id)
          known.dropping.delete(id)
          known.saves.delete(id)
          out.emptied++
        }
      }
    }
    // each of them ends when the connection does; whatever else ends one is a fault
    const part = async (what: () => Promise<void>) => {
      try {
        await what()
      } catch (error) {
        if (alive()) throw error
      }
    }
    await Promise.all([upload, save, deliver, empty].map(part))
  }

  function checkFiles(at: string, complete: boolean): void {
    const db = new Database(join(at, 'library.db'))
    try {
      const [{ integrity_check: state }] = db.prepare('PRAGMA integrity_check').all() as {
        integrity_check: string
      }[]
      if (state !== 'ok') fail(`the database says ${state}`)
      const rows = db.prepare('select hash, ending from originals').all() as {
        hash: string
        ending: string
      }[]
      for (const { hash, ending } of rows)
        if (!existsSync(join(at, 'originals', hash.slice(0, 2), hash + ending)))
          fail(`original ${hash} is gone`)
      const frames = db.prepare('select original from frames').all() as { original: string }[]
      for (const { original } of frames)
        if (!rows.some((r) => r.hash === original)) fail(`a frame has no original ${original}`)
    } finally {
      db.close()
    }
    for (const file of filesIn(join(at, 'originals'))) {
      const bytes = readFileSync(join(at, 'originals', file))
      if (!file.includes(hashOf(bytes))) fail(`${file} is not whole`)
    }
    for (const file of filesIn(join(at, 'deliveries')))
      if (!looksWhole(readFileSync(join(at, 'deliveries', file)))) fail(`the delivery ${file} is not whole`)
    if (complete)
      for (const file of known.deliveries)
        if (!existsSync(join(at, 'deliveries', file))) fail(`the delivery ${file} is gone`)
  }

  async function checkAcknowledged(server: TestServer): Promise<void> {
    if (!shootId) return
    const { frames } = await server.page(shootId)
    const there = new Set(frames.map((f) => f.id))
    for (const [id, hash] of known.frames) {
      if (!there.has(id)) {
        if (known.dropping.has(id)) known.frames.delete(id)
        else fail(`frame ${id} is gone`)
        continue
      }
      const original = Buffer.from(
        await (await fetch(`${server.url}/api/frames/${id}/original`)).arrayBuffer(),
      )
      if (hashOf(original) !== hash) fail(`the original of ${id} is another`)
      const saved = known.saves.get(id)
      if (!saved) continue
      const { revision, development } = await server.version(id)
      const { ev } = development.steps.exposure
      if (revision < saved.revision) fail(`a save of ${id} is gone`)
      if (revision === saved.revision ? ev !== saved.ev : ev !== saved.asked) fail(`${id} has other settings`)
      known.saves.set(id, { ev, revision })
    }
    // what a killed server had not acknowledged may be there too
    for (const id of known.dropping)
      if (there.has(id)) await server.send('PATCH', '/api/frames', { changes: [{ ids: [id], mark: 'none' }] })
    known.dropping.clear()
    for (const f of frames)
      if (!known.frames.has(f.id)) {
        const original = await fetch(`${server.url}/api/frames/${f.id}/original`)
        if (!original.ok) fail(`a frame that was not acknowledged has no original`)
        known.frames.set(f.id, hashOf(Buffer.from(await original.arrayBuffer())))
      }
  }

  /** Runs the backup program, killed after some milliseconds unless there are none. @returns its exit code */
  const program = (args: string[], at: string, killAfter?: number) =>
    new Promise<number | null>((done) => {
      const child = spawn(process.execPath, [join(root, 'dist/node/backup.js'), ...args], {
        env: { ...process.env, DUNKELKAMMER_LIBRARY: at },
        stdio: 'ignore',
      })
      const timer = killAfter === undefined ? undefined : setTimeout(() => child.kill('SIGKILL'), killAfter)
      child.on('close', (code) => {
        clearTimeout(timer)
        done(code)
      })
    })

  while (out.kills < kills) {
    const server = await startServer(library, { thumbnails: true })
    await checkAcknowledged(server)
    const backingUp = out.kills % 10 === 9
    killed = false
    const working = work(server)
    working.catch(() => undefined)
    const running = backingUp
      ? program(['backup', backup], library, 600 + random() * 1500)
      : Promise.resolve(undefined)
    await pause(100 + random() ** 2 * (backingUp ? 2500 : 5000))
    killed = true
    await server.kill()
    out.kills++
    await working
    await running
    checkFiles(library, true)
    if (backingUp) {
      out.kills++
      // an earlier backup is whole whatever became of this one; the next is too
      if (out.backups && (await program(['backup', '--check', backup], library)) !== 0)
        fail('a backup is damaged')
      if ((await program(['backup', backup], library)) !== 0) fail('a backup failed')
      if ((await program(['backup', '--check', backup], library)) !== 0) fail('a backup is damaged')
      out.backups++
      const back = join(place.path, 'back')
      await program(['restore', backup], back, 600 + random() * 600)
      out.kills++
      if (!existsSync(join(back, 'dunkelkammer-library')) && (await program(['restore', backup], back)) !== 0)
        fail('restoring failed')
      checkFiles(back, true)
      out.restored++
      rmSync(back, { recursive: true })
    }
    report(
      `${out.kills} kills: ${out.uploads} uploads, ${out.saves} saves, ${out.deliveries} deliveries, ` +
        `${out.emptied} removed, ${out.backups} backups`,
    )
  }
  const server = await startServer(library, { thumbnails: true })
  await checkAcknowledged(server)
  if (filesIn(join(library, 'incoming')).length > 0) fail('unfinished files are left')
  await server.stop()
  place.remove()
  return out
}
