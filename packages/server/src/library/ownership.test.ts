import type { LibraryPage, ShootPage } from '@dunkelkammer/contract'
import Database from 'libsql'
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo } from 'node:net'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import {
  another,
  fileOf,
  filesIn,
  put,
  root,
  startServer,
  temporary,
  until,
  type TestServer,
} from '../../test/server'

let place: ReturnType<typeof temporary>
let library: string
const running: TestServer[] = []
beforeEach(() => {
  place = temporary()
  library = join(place.path, 'library')
})
afterEach(async () => {
  await Promise.all(running.splice(0).map((s) => s.kill()))
  place.remove()
})
const start = async (options = {}) => {
  const server = await startServer(library, options)
  running.push(server)
  return server
}
/** Why a server does not start. */
const refused = async (options = {}) => {
  const outcome = await start(options).then(
    () => 'it started',
    (e: Error) => e.message,
  )
  expect(outcome).not.toMatch(/\n\s+at |node_modules|Error:/)
  return outcome
}
const shelf = async (s: TestServer) => (await s.ask<LibraryPage>('/api/library')).body
const originals = () => filesIn(join(library, 'originals'))

describe('a start of the server', () => {
  it('deletes no original where the database was lost, and offers to bring them in', async () => {
    const first = await start()
    const shoot = await first.newShoot()
    const bytes = [another(), another(), another()]
    for (const [i, b] of bytes.entries()) await first.frame(shoot.id, `${i}.dng`, b)
    await first.kill()
    const before = originals()
    expect(before).toHaveLength(3)
    for (const name of readdirSync(library).filter((n) => n.startsWith('library.db')))
      rmSync(join(library, name))
    const second = await start()
    expect(originals()).toEqual(before)
    const { unknown } = await shelf(second)
    expect(unknown).toMatchObject({ count: 3, bytes: bytes.reduce((n, b) => n + b.length, 0) })
    expect(unknown.names.map((n) => n.replace('originals/', ''))).toEqual(before)
    const job = await second.job('POST', '/api/library/unknown/bring-in', {})
    expect(job.message).toBe('3 frames brought in.')
    const [found] = (await second.ask<{ id: string; name: string }[]>('/api/shoots')).body
    const { frames } = (await second.ask<ShootPage>(`/api/shoots/${found.id}`)).body
    expect(frames).toHaveLength(3)
    for (const f of frames) {
      const served = Buffer.from(
        await (await fetch(`${second.url}/api/frames/${f.id}/original`)).arrayBuffer(),
      )
      expect(bytes.some((b) => b.equals(served))).toBe(true)
    }
    expect(originals()).toEqual(before)
    expect((await shelf(second)).unknown.count).toBe(0)
  })

  it('leaves a folder of the user’s own alone, however it is laid out', async () => {
    put(library, {
      'originals/ab/abcdef.dng': 'mine',
      'originals/notes.txt': 'mine',
      'incoming/a.dng': 'mine',
      'deliveries/.x.partial': 'mine',
      'thumbs/a/a.jpg': 'mine',
    })
    const before = filesIn(library)
    expect(await refused()).toMatch(/^1: .* is not marked as a library, so it is left alone\./)
    expect(filesIn(library)).toEqual(before)
    // another program's database does not make it one either
    const other = new Database(join(library, 'library.db'))
    other.exec('create table books (title text)')
    other.close()
    expect(await refused()).toMatch(/not marked as a library/)
    expect(filesIn(library)).toEqual([...before, 'library.db'].sort())
  })

  it('knows a library from before there were marks, and what lies in it unfinished stays', async () => {
    await (await start()).stop()
    rmSync(join(library, 'dunkelkammer-library'))
    put(library, { 'incoming/5f0c': another(), 'deliveries/.a.partial': 'half' })
    const server = await start()
    expect((await shelf(server)).unknown.names).toEqual(['incoming/5f0c'])
    expect(existsSync(join(library, 'dunkelkammer-library'))).toBe(true)
    expect((await server.job('POST', '/api/library/unknown/bring-in', {})).message).toBe(
      '1 frame brought in.',
    )
    expect(filesIn(join(library, 'incoming'))).toEqual([])
    expect(originals()).toHaveLength(1)
    expect(filesIn(join(library, 'deliveries'))).toEqual(['.a.partial'])
  })

  it('sweeps what a killed server was still writing, and nothing else', async () => {
    const first = await start()
    const run = readdirSync(join(library, 'incoming'))[0]
    await first.kill()
    put(library, { [`incoming/${run}/half`]: 'half', 'incoming/run-mine/a.dng': 'mine' })
    await start()
    const left = filesIn(join(library, 'incoming'))
    expect(left).toEqual(['run-mine/a.dng'])
  })

  it('takes stray files and folders in its stride, sets them aside on demand', async () => {
    await (await start()).stop()
    put(library, {
      'originals/stray.txt': 'a',
      'originals/ab/deep/er.dng': 'b',
      'incoming/folder/c.dng': 'c',
    })
    const server = await start()
    const names = ['incoming/folder/c.dng', 'originals/ab/deep/er.dng', 'originals/stray.txt']
    expect((await shelf(server)).unknown.names).toEqual(names)
    // what is no picture stays where it is, and is named
    const job = await server.job('POST', '/api/library/unknown/bring-in', {})
    expect(job.message).toBe('0 frames brought in, 3 not readable.')
    expect(filesIn(library)).toEqual(expect.arrayContaining(names))
    expect((await server.send('POST', '/api/library/unknown/set-aside', {})).body).toEqual({ count: 3 })
    expect(filesIn(join(library, 'set-aside'))).toEqual(['c.dng', 'er.dng', 'stray.txt'])
    expect((await shelf(server)).unknown.count).toBe(0)
    expect((await server.send('POST', '/api/library/unknown/set-aside', {})).status).toBe(409)
  })

  it('says in a sentence that the database is damaged', async () => {
    await (await start()).stop()
    for (const part of ['-wal', '-shm']) rmSync(join(library, `library.db${part}`), { force: true })
    writeFileSync(join(library, 'library.db'), 'this is no database. '.repeat(500))
    expect(await refused()).toMatch(/^1: The library's database .* cannot be opened: it is damaged\./)
  })

  it('below folders with dots before their names serves pages, originals, thumbnails and deliveries', async () => {
    library = join(place.path, '.hidden', 'library')
    const card = put(join(place.path, '.card'), { 'a.dng': another() })
    const server = await start({ roots: [card] })
    const shoot = await server.newShoot()
    expect((await server.importFolder(shoot.id, card)).message).toBe('1 frame brought in.')
    const [{ id }] = (await server.page(shoot.id)).frames
    for (const part of ['original', 'thumbnail', 'preview'])
      expect((await fetch(`${server.url}/api/frames/${id}/${part}`)).status, part).toBe(200)
    const job = await server.deliver(id, { size: { by: 'long edge', pixels: 64 } })
    expect((await fetch(`${server.url}/api/jobs/${job.id}/files/0`)).status).toBe(200)
    if (existsSync(join(root, 'dist/web/index.html')))
      expect((await fetch(`${server.url}/shoots`)).headers.get('content-type')).toMatch(/html/)
  })
})

describe('a second server', () => {
  it('on a library in use says who has it, ends with 1, and touches nothing', async () => {
    const first = await start()
    const shoot = await first.newShoot()
    await first.frame(shoot.id, 'a.dng')
    const half = join(library, 'incoming', readdirSync(join(library, 'incoming'))[0], 'half')
    writeFileSync(half, 'on its way')
    const { body: job } = await first.send<{ id: string }>(
      'POST',
      '/api/files',
      fileOf((await first.page(shoot.id)).frames[0].id, { format: { kind: 'tiff' } }),
    )
    expect(await refused()).toMatch(
      new RegExp(`^1: The library .* is in use by the process ${first.process.pid} on .*, started 20`),
    )
    expect(readFileSync(half, 'utf8')).toBe('on its way')
    expect((await first.ended(job.id)).state).toBe('done')
    // the lock dies with its holder
    await first.kill()
    await start()
  })

  it('on a port in use ends before it has touched the library', async () => {
    const taken = createServer().listen(0, '127.0.0.1')
    await until(async () => taken.listening)
    const { port } = taken.address() as AddressInfo
    expect(await refused({ env: { DUNKELKAMMER_PORT: String(port) } })).toBe(
      `1: Port ${port} is in use. Set DUNKELKAMMER_PORT to another one.`,
    )
    expect(existsSync(library)).toBe(false)
    taken.close()
  })
})

describe('a library that cannot be written', () => {
  it('ends the start with a sentence', async () => {
    writeFileSync(library, 'a file where the library should be')
    expect(await refused()).toBe(`1: ${library} is not a folder.`)
    rmSync(library)
    await (await start()).stop()
    expect(await refused({ readOnly: true })).toMatch(/^1: .*(can only be read|read or written)\.$/)
  })
})
