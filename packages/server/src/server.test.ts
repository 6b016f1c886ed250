import type { Job, ShootPage } from '@dunkelkammer/contract'
import { mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import { createHash } from 'node:crypto'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { DeliveryInput } from '@dunkelkammer/core'
import sharp from 'sharp'
import { demoBytes, fileOf, filesIn, startServer, temporary, until, type TestServer } from '../test/server'

const place = temporary()
const card = join(place.path, 'card')
let server: TestServer

beforeAll(() => {
  mkdirSync(card)
  writeFileSync(join(card, 'HM0417.dng'), demoBytes())
  writeFileSync(join(card, 'notes.dng'), 'only a text')
  writeFileSync(join(card, 'cut.dng'), demoBytes().subarray(0, 200000))
  writeFileSync(join(card, 'empty.dng'), '')
})
afterAll(() => place.remove())

/** One server with a library of its own for all tests of a group. */
function withServer(roots: readonly string[] = []): { path: string } {
  const library = temporary()
  beforeAll(async () => {
    server = await startServer(library.path, { roots })
  })
  afterAll(async () => {
    await server.kill()
    library.remove()
  })
  return library
}

const newShoot = (s: TestServer, name = 'Test') => s.newShoot({ name })
const upload = (s: TestServer, shootId: string, name = 'HM0417.dng', bytes: Uint8Array = demoBytes()) =>
  s.upload(shootId, name, bytes)
const jobEnd = (s: TestServer, id: string) => s.ended(id)
/** A shoot with the demo frame in it. */
async function bench(s: TestServer) {
  const shoot = await newShoot(s)
  const { frame } = (await upload(s, shoot.id)).body
  return { shoot, frame, version: await s.version(frame.id) }
}
describe('library', () => {
  const library = withServer([card])

  it('keeps an original by its content, once, untouched', async () => {
    const shoot = await newShoot(server, '  Lock and kiln  ')
    expect(shoot.name).toBe('Lock and kiln')
    const first = await upload(server, shoot.id, 'a/b\\HM0417.dng')
    expect(first.status).toBe(201)
    expect(first.body).toMatchObject({
      known: false,
      frame: { fileName: 'HM0417.dng', width: 2256, height: 1504, hasPreview: true },
    })
    expect((await upload(server, shoot.id, 'again.dng')).body).toMatchObject({ known: true })
    const page = (await server.ask(`/api/shoots/${shoot.id}`)).body as ShootPage
    expect(page.frames).toHaveLength(1)
    const hash = createHash('sha256').update(demoBytes()).digest('hex')
    const kept = readFileSync(join(library.path, 'originals', hash.slice(0, 2), `${hash}.dng`))
    expect(kept.equals(demoBytes())).toBe(true)
    const served = await fetch(`${server.url}/api/frames/${page.frames[0].id}/original`)
    expect(Buffer.from(await served.arrayBuffer()).equals(demoBytes())).toBe(true)
    const preview = Buffer.from(
      await (await fetch(`${server.url}/api/frames/${page.frames[0].id}/preview`)).arrayBuffer(),
    )
    expect([...preview.subarray(0, 2), ...preview.subarray(-2)]).toEqual([0xff, 0xd8, 0xff, 0xd9])
  })

  it('says why it refuses a file, and keeps nothing of it', async () => {
    const shoot = await newShoot(server)
    const before = readdirSync(join(library.path, 'originals'), { recursive: true }).length
    for (const [bytes, status] of [
      [Buffer.from('only a text'), 422],
      [demoBytes().subarray(0, 100000), 422],
      [Buffer.alloc(0), 422],
    ] as const) {
      const { status: got, body } = await upload(server, shoot.id, 'x.dng', bytes)
      expect(got).toBe(status)
      expect((body as { message: string }).message).toMatch(/^This .*\.$/)
    }
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
    expect(readdirSync(join(library.path, 'originals'), { recursive: true })).toHaveLength(before)
  })

  it('brings in a folder, naming what cannot be read', async () => {
    const shoot = await newShoot(server)
    const { status, body } = await server.send('POST', `/api/shoots/${shoot.id}/import`, { path: card })
    expect(status).toBe(202)
    const job = await jobEnd(server, (body as Job).id)
    expect(job).toMatchObject({ state: 'done', message: '1 frame brought in, 3 not readable.' })
    expect(job.problems.map((p) => p.split(':')[0]).sort()).toEqual(['cut.dng', 'empty.dng', 'notes.dng'])
  })

  it('reads nothing outside its roots, not through links either', async () => {
    const shoot = await newShoot(server)
    symlinkSync('/etc', join(card, 'way-out'))
    for (const [path, status] of [
      ['/etc', 403],
      [join(card, '..'), 403],
      [join(card, 'way-out'), 403],
      [join(card, 'missing'), 404],
      ['card', 400],
    ] as const)
      expect((await server.send('POST', `/api/shoots/${shoot.id}/import`, { path })).status).toBe(status)
  })

  it('takes names of any script and length in its stride', async () => {
    const shoot = await newShoot(server, '風車と運河 ' + 'x'.repeat(250))
    const name = 'ж'.repeat(400) + '.dng'
    const { body } = await upload(server, shoot.id, name)
    expect(body.frame.fileName).toMatch(/ж+\.dng$/)
    expect((await server.send('POST', '/api/shoots', { name: 'x'.repeat(301) })).status).toBe(400)
    expect((await server.send('POST', '/api/shoots', { name: '   ' })).status).toBe(400)
  })
})

describe('deliveries', () => {
  const library = withServer()

  const small = { size: { by: 'long edge', pixels: 400 } } as const

  it('make the file asked for, and number, replace or skip where its name is taken', async () => {
    const { frame } = await bench(server)
    const deliver = (part: Partial<DeliveryInput>) =>
      server.deliver(frame.id, { ...small, fileName: 'lock', ...part })
    const done = await deliver({})
    expect(done).toMatchObject({ state: 'done', fileName: 'lock.jpg', progress: 1 })
    const path = join(library.path, 'deliveries/lock.jpg')
    const bytes = Buffer.from(await (await fetch(`${server.url}/api/jobs/${done.id}/files/0`)).arrayBuffer())
    expect(bytes.equals(readFileSync(path))).toBe(true)
    const { width, height } = await sharp(path).metadata()
    expect([width, height]).toEqual([400, 267])

    expect((await deliver({})).fileName).toBe('lock (2).jpg')
    const skipped = await deliver({ taken: 'skip' })
    expect([skipped.state, skipped.fileName]).toEqual(['done', undefined])
    expect(readFileSync(path).equals(bytes)).toBe(true)
    const larger = await deliver({ taken: 'replace', size: { by: 'long edge', pixels: 500 } })
    expect(larger.fileName).toBe('lock.jpg')
    expect((await sharp(path).metadata()).width).toBe(500)
    expect(readdirSync(join(library.path, 'deliveries')).sort()).toEqual(['lock (2).jpg', 'lock.jpg'])
  })

  it('can be cancelled, and then leave nothing', async () => {
    const { frame } = await bench(server)
    const order = fileOf(frame.id, { format: { kind: 'tiff' }, fileName: 'cancelled' })
    const job = (await server.send('POST', '/api/files', order)).body as Job
    await server.send('POST', `/api/jobs/${job.id}/cancel`, {})
    expect(await jobEnd(server, job.id)).toMatchObject({ state: 'cancelled' })
    expect(filesIn(join(library.path, 'deliveries')).filter((n) => !n.startsWith('lock'))).toEqual([])
    expect((await server.send('POST', `/api/jobs/${job.id}/cancel`, {})).status).toBe(409)
  })

  it('keep to their folder', async () => {
    const { frame } = await bench(server)
    const outside = (delivery: object) => server.send('POST', '/api/files', fileOf(frame.id, delivery))
    for (const subfolder of ['../out', '/etc', '.hidden', 'a\u0000b', 'a/../../b'])
      expect((await outside({ place: { in: 'library', subfolder } })).status).toBe(400)
    expect((await outside({ place: { in: 'folder', path: '/etc' } })).status).toBe(403)
    expect((await server.deliver(frame.id, { ...small, fileName: '../../out/{name}' })).fileName).toBe(
      '-..-out-HM0417.jpg',
    )
  })
})

describe('a server that is killed', () => {
  let library: ReturnType<typeof temporary>
  beforeEach(async () => {
    library = temporary()
    server = await startServer(library.path, { roots: [card, library.path] })
  })
  afterEach(async () => {
    await server.kill()
    library.remove()
  })

  it('in the middle of a delivery has lost no setting, and makes the file once it is back', async () => {
    const { version } = await bench(server)
    await server.expose(version, 2)
    const order = fileOf(version.frameId, { format: { kind: 'tiff' }, fileName: 'big' })
    const job = (await server.send('POST', '/api/files', order)).body as Job
    await until(async () => ((await server.ask(`/api/jobs/${job.id}`)).body as Job).progress > 0.05)
    await server.kill()

    server = await startServer(library.path)
    expect(await jobEnd(server, job.id)).toMatchObject({ state: 'done', fileName: 'big.tif' })
    expect(readdirSync(join(library.path, 'deliveries'))).toEqual(['big.tif'])
    expect((await sharp(join(library.path, 'deliveries/big.tif')).stats()).channels).toHaveLength(3)
    expect((await server.ask(`/api/versions/${version.id}`)).body).toMatchObject({
      revision: 1,
      development: { steps: { exposure: { ev: 2 } } },
      entries: [{ label: 'Exposure' }],
    })
  })

  it('in the middle of bringing in a folder has whole frames only, and goes on', async () => {
    const many = join(card, 'many')
    mkdirSync(many)
    const bytes = demoBytes()
    // forty different files: the last bytes of the first strip differ
    for (let i = 0; i < 40; i++)
      writeFileSync(join(many, `F${i}.dng`), Buffer.concat([bytes, Buffer.from(`copy ${i}`)]))
    const shoot = await newShoot(server)
    const job = (await server.send('POST', `/api/shoots/${shoot.id}/import`, { path: many })).body as Job
    await until(async () => ((await server.ask(`/api/jobs/${job.id}`)).body as Job).progress > 0.1)
    await server.kill()

    server = await startServer(library.path, { roots: [card] })
    const after = await jobEnd(server, job.id)
    expect(after).toMatchObject({ state: 'done', problems: [] })
    expect(after.message).toMatch(/^\d+ frames brought in, \d+ there already\.$/)
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
    const { frames } = (await server.ask(`/api/shoots/${shoot.id}`)).body as ShootPage
    expect(frames).toHaveLength(40)
    const originals = readdirSync(join(library.path, 'originals'), { recursive: true }).filter((n) =>
      String(n).endsWith('.dng'),
    )
    expect(originals).toHaveLength(frames.length)
    for (const f of frames.slice(0, 3))
      expect((await fetch(`${server.url}/api/frames/${f.id}/original`)).headers.get('content-length')).toBe(
        String(f.fileSize),
      )
  })
})

describe('hostile pages', () => {
  withServer()

  /** fetch does not let one lie about Host and Origin. */
  const raw = (headers: Record<string, string>, method = 'GET', path = '/api/shoots') =>
    new Promise<number>((done, fail) => {
      const { hostname, port } = new URL(server.url)
      request({ hostname, port, path, method, headers }, (r) => done(r.resume().statusCode!))
        .on('error', fail)
        .end()
    })

  it('are turned away by Host and Origin', async () => {
    const { host } = new URL(server.url)
    expect(await raw({ host })).toBe(200)
    expect(await raw({ host, origin: `http://${host}` })).toBe(200)
    expect(await raw({ host: 'mills.example:80' })).toBe(403)
    expect(await raw({ host, origin: 'http://mills.example' })).toBe(403)
    expect(await raw({ host, origin: 'null' }, 'POST')).toBe(403)
    expect(await raw({ host, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' })).toBe(403)
  })

  it('find bodies limited, answers isolated, and no stack traces', async () => {
    const response = await fetch(`${server.url}/api/shoots`)
    expect(response.headers.get('cross-origin-embedder-policy')).toBe('require-corp')
    expect(response.headers.get('cross-origin-opener-policy')).toBe('same-origin')
    const large = await server.send('POST', '/api/shoots', { name: 'x'.repeat(5e6) })
    expect(large.status).toBe(413)
    const broken = await server.ask('/api/shoots', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: '{',
    })
    expect(broken).toMatchObject({ status: 400, body: { code: 'invalid' } })
    for (const path of [
      '/api/shoots/none',
      '/api/frames/00000000-0000-4000-8000-000000000000',
      '/api/nothing',
    ]) {
      const { status, body } = await server.ask(path)
      expect([400, 404]).toContain(status)
      expect(JSON.stringify(body)).not.toMatch(/\bat \w|node_modules/)
    }
  })
})
