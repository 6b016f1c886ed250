import type { Job, MadeFile } from '@dunkelkammer/contract'
import type { DeliveryInput } from '@dunkelkammer/core'
import { chmodSync, closeSync, mkdirSync, openSync, rmSync, statSync, truncateSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import {
  another,
  fileOf,
  filesIn,
  inside,
  root,
  startServer,
  temporary,
  until,
  type ServerOptions,
  type TestServer,
} from '../../test/server'

let library: ReturnType<typeof temporary>
let elsewhere: ReturnType<typeof temporary>
let server: TestServer
let shootId: string
let frames: string[]
beforeEach(() => {
  library = temporary()
  elsewhere = temporary()
})
afterEach(async () => {
  await server.kill()
  library.remove()
  elsewhere.remove()
})

async function begin(options: ServerOptions = {}): Promise<void> {
  server = await startServer(library.path, { roots: [elsewhere.path], ...options })
  shootId = (await server.newShoot({ name: 'Mills' })).id
  frames = []
  for (const name of ['a', 'b', 'c', 'd']) frames.push(await server.frame(shootId, `${name}.dng`, another()))
}
const start = async (...deliveries: Partial<DeliveryInput>[]) =>
  (await server.send<Job>('POST', '/api/files', { frames: frames.map((id) => ({ id })), deliveries })).body
const continued = async (id: string) => {
  await server.send('POST', `/api/jobs/${id}/continue`, {})
  return server.ended(id)
}
const states = async (job: Job) =>
  (await server.ask<MadeFile[]>(`/api/jobs/${job.id}/files`)).body.map((f) => f.state)

/** Writes a file until its disk has no room for anything. */
function fill(path: string): void {
  const file = openSync(path, 'w')
  for (const block of [1 << 20, 4096])
    try {
      for (;;) if (writeSync(file, Buffer.alloc(block, 1)) < block) break
    } catch {
      // it is full
    }
  closeSync(file)
}

describe('files that cannot be made', () => {
  it('since the disk is full are said to be, the others stay, and go on when there is room', async () => {
    await begin({ diskMb: 64 })
    const disk = inside(server, library.path)
    const [filler, folder] = [join(disk, 'filler'), join(disk, 'deliveries')]
    // room for one and a half of these files, whatever else is on the disk
    const [probe] = [await server.deliver(frames[0], { format: { kind: 'tiff', compression: 'none' } })]
    expect(probe.state).toBe('done')
    const size = (await server.ask<MadeFile[]>(`/api/jobs/${probe.id}/files`)).body[0].bytes!
    rmSync(join(folder, 'a.tif'))
    fill(filler)
    truncateSync(filler, statSync(filler).size - Math.round(1.5 * size))
    const job = await start({ name: 'Large', format: { kind: 'tiff', compression: 'none' } })
    const full = await server.ended(job.id)
    expect(full).toMatchObject({ state: 'done', message: '1 file made, 3 failed.', retries: true })
    for (const problem of full.problems) expect(problem).toMatch(/^Large: The disk is full\. Make room/)
    expect(filesIn(folder)).toHaveLength(1)
    rmSync(filler)
    expect(await continued(job.id)).toMatchObject({ state: 'done', message: '4 files made.', problems: [] })
    expect(filesIn(folder)).toEqual(['a.tif', 'b.tif', 'c.tif', 'd.tif'])
    expect(server.said.text).not.toMatch(/\n\s+at /)
  })

  it('since nothing can be noted any more either are made when there is room', async () => {
    await begin({ diskMb: 64 })
    const disk = inside(server, library.path)
    const job = await start({ name: 'Large', format: { kind: 'tiff' } })
    await until(async () => (await states(job)).includes('done'))
    fill(join(disk, 'filler'))
    const full = await server.ended(job.id)
    expect([full.message, ...full.problems].join(' ')).toMatch(/The disk is full\. Make room/)
    rmSync(join(disk, 'filler'))
    expect(await continued(job.id)).toMatchObject({ state: 'done', message: '4 files made.' })
    expect(filesIn(join(disk, 'deliveries'))).toEqual(['a.tif', 'b.tif', 'c.tif', 'd.tif'])
    expect(await server.deliver(frames[0], { fileName: 'later' })).toMatchObject({ state: 'done' })
  })

  it('where the server may not write are said to be, and those for elsewhere are made', async () => {
    await begin({ powerless: true })
    const closed = join(elsewhere.path, 'closed')
    mkdirSync(closed)
    chmodSync(closed, 0o500)
    const job = await start(
      { name: 'Closed', size: { by: 'long edge', pixels: 80 }, place: { in: 'folder', path: closed } },
      { name: 'Open', size: { by: 'long edge', pixels: 80 } },
    )
    const denied = await server.ended(job.id)
    expect(denied).toMatchObject({ state: 'done', message: '4 files made, 4 failed.', retries: true })
    for (const problem of denied.problems)
      expect(problem).toMatch(/^Closed: The server may not read or write there/)
    expect(await states(job)).toEqual([
      'failed',
      'done',
      'failed',
      'done',
      'failed',
      'done',
      'failed',
      'done',
    ])
    chmodSync(closed, 0o700)
    expect(await continued(job.id)).toMatchObject({ message: '8 files made.', problems: [] })
    expect(filesIn(closed)).toEqual(['a.jpg', 'b.jpg', 'c.jpg', 'd.jpg'])
  })

  it('since the folder goes on the way are said to be, and are made when it is back', async () => {
    await begin()
    const path = join(elsewhere.path, 'card')
    mkdirSync(path)
    const job = await start({
      name: 'Card',
      format: { kind: 'tiff' },
      place: { in: 'folder', path },
    })
    await until(async () => (await states(job)).includes('done'))
    rmSync(path, { recursive: true })
    const gone = await server.ended(job.id)
    expect(gone.retries).toBe(true)
    expect(gone.problems.length).toBeGreaterThan(0)
    for (const problem of gone.problems)
      expect(problem).toMatch(/^Card: (The folder of “Card” is no longer|There is no such)/)
    mkdirSync(path)
    const failed = (await states(job)).filter((s) => s === 'failed').length
    expect(await continued(job.id)).toMatchObject({ state: 'done', message: '4 files made.', problems: [] })
    expect(filesIn(path)).toHaveLength(failed)
  })
})

it('names of frames and shoots that no disk takes become such as every one does', async () => {
  await begin()
  const odd = await server.newShoot({ name: '../../etc: "a|b" <c>?*\\' })
  const id = await server.frame(odd.id, 'CON.dng', another())
  const named = { ...{ size: { by: 'long edge', pixels: 80 } as const }, fileName: '{shoot} {name}' }
  expect((await server.deliver(id, named)).state).toBe('done')
  expect((await server.deliver(id, { ...named, fileName: '{name}' })).state).toBe('done')
  const made = filesIn(join(library.path, 'deliveries'))
  expect(made).toHaveLength(2)
  for (const name of made) expect(name).not.toMatch(/[/\\:*?"<>|]|^\.|^con\./i)
  const refused = await server.send<{ message: string }>(
    ...(['POST', '/api/files'] as const),
    fileOf(id, { place: { in: 'library', subfolder: '../out' } }),
  )
  expect(refused.status).toBe(400)
  expect(filesIn(elsewhere.path)).toEqual([])
})

it('a clock that goes backwards changes nothing, not across a stop either', async () => {
  await begin()
  await server.kill()
  const clock = join(root, 'packages/server/test/clockBackwards.mjs')
  const backwards = () =>
    startServer(library.path, { roots: [elsewhere.path], env: { NODE_OPTIONS: `--import=${clock}` } })
  server = await backwards()
  const job = await start({ name: 'JPEG' }, { name: 'TIFF', format: { kind: 'tiff' } })
  expect(job.created < new Date().toISOString()).toBe(true)
  await until(async () => (await states(job)).includes('done'))
  await server.kill()
  server = await backwards()
  expect(await server.ended(job.id)).toMatchObject({ state: 'done', message: '8 files made.', problems: [] })
  const folder = join(library.path, 'deliveries')
  expect(filesIn(folder)).toEqual(['a', 'b', 'c', 'd'].flatMap((name) => [`${name}.jpg`, `${name}.tif`]))
  for (const name of filesIn(folder)) await sharp(join(folder, name)).stats()
})
