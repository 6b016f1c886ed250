import { readDng } from '@dunkelkammer/core'
import type { Job, Shoot } from '@dunkelkammer/contract'
import { connect } from 'node:net'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, filesIn, startServer, temporary, until, type TestServer } from '../../test/server'
import { hostileRequests } from '../../test/hostile'

const library = temporary()
let server: TestServer
let shootId: string
let frameId: string
let versionId: string
const SMALL = { size: { by: 'long edge', pixels: 32 } } as const
beforeAll(async () => {
  server = await startServer(library.path, { env: { DUNKELKAMMER_STALLED_MS: '300' } })
  shootId = (await server.newShoot()).id
  frameId = await server.frame(shootId, 'a.dng')
  versionId = (await server.version(frameId)).id
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

/** A sentence for people: no path, no stack, no name of a library or of an error. */
const SENTENCE = /^[A-Z“‘][^\n]*[.?)]$/
const TELLS =
  /node_modules|\n\s+at |\bat \w+ \(|\/(work|root|home|tmp|usr)\/|Error\b|SQLITE|ENOENT|undefined|\[object/

describe('hostile requests', () => {
  it('are each answered with 4xx and a sentence that gives nothing away', async () => {
    const requests = hostileRequests({ shootId, frameId, versionId })
    expect(requests.length).toBeGreaterThanOrEqual(300)
    const wrong: string[] = []
    for (const { path, ...options } of requests) {
      const { status, text } = await server.raw(path, options)
      let message = ''
      try {
        message = (JSON.parse(text) as { message: string }).message
      } catch {
        // not what was promised
      }
      // which folders may be read is said on purpose
      const told = text.replaceAll(library.path, '')
      if (status < 400 || status > 499 || !SENTENCE.test(message) || TELLS.test(told))
        wrong.push(`${options.method ?? 'GET'} ${path.slice(0, 60)}: ${status} ${text.slice(0, 200)}`)
    }
    expect(wrong).toEqual([])
    expect(server.said.text).toBe('')
    expect((await server.ask('/api/health')).status).toBe(200)
  })
})

describe('answers', () => {
  it.each([
    ['/api/frames/%E0%A4%A', {}, 400],
    ['/%E0%A4%A', {}, 400],
    [
      '/api/shoots',
      {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'content-encoding': 'zstd+' },
        body: '{}',
      },
      415,
    ],
    [
      '/api/shoots',
      { method: 'POST', headers: { 'content-type': 'application/json; charset=utf-99' }, body: '{}' },
      415,
    ],
    [
      '/api/shoots',
      {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'content-encoding': 'gzip' },
        body: 'no gzip',
      },
      400,
    ],
    [
      '/api/looks/table',
      { method: 'POST', headers: { 'content-type': 'text/plain; charset=klingon' }, body: 'x' },
      415,
    ],
  ] as const)('to %s %j is %i', async (path, options, status) => {
    const answer = await server.raw(path, options as never)
    expect([answer.status, SENTENCE.test(JSON.parse(answer.text).message)]).toEqual([status, true])
  })

  it('refuse a body at once that says itself that it is too large', async () => {
    for (const [path, method] of [
      [`/api/shoots/${shootId}/frames?name=a.dng`, 'POST'],
      [`/api/frames/${frameId}/original`, 'PUT'],
      ['/api/shoots', 'POST'],
    ]) {
      // nothing of the body is ever sent
      const text = await spoken(
        `${method} ${path} HTTP/1.1\r\nHost: ${new URL(server.url).host}\r\nContent-Type: application/json\r\nContent-Length: 9999999999\r\n\r\n`,
      )
      expect(text).toMatch(/^HTTP\/1\.1 413 /)
      expect(text).toMatch(/larger than 2 GB|too large/)
    }
  })

  it('end bodies that stop coming, and keep nothing of them', async () => {
    const bytes = another()
    const head = `POST /api/shoots/${shootId}/frames?name=a.dng HTTP/1.1\r\nHost: ${new URL(server.url).host}\r\nContent-Length: ${bytes.length}\r\n\r\n`
    const text = await spoken(Buffer.concat([Buffer.from(head), bytes.subarray(0, 100000)]))
    expect(text).toMatch(/^HTTP\/1\.1 408 /)
    expect(text).toMatch(/Nothing more came of this request, so it was ended\./)
    await until(async () => filesIn(join(library.path, 'incoming')).length === 0)
    const json = `POST /api/shoots HTTP/1.1\r\nHost: ${new URL(server.url).host}\r\nContent-Type: application/json\r\nContent-Length: 50\r\n\r\n{"na`
    expect(await spoken(json)).toMatch(/^HTTP\/1\.1 408 /)
    // one that is cut off leaves nothing either, and nothing in the log
    await new Promise<void>((done) => {
      const { hostname, port } = new URL(server.url)
      const socket = connect(Number(port), hostname, () => {
        socket.write(Buffer.concat([Buffer.from(head), bytes.subarray(0, 1000)]), () => socket.destroy())
      })
      socket.on('close', () => done())
    })
    await until(async () => filesIn(join(library.path, 'incoming')).length === 0)
    expect(server.said.text).toBe('')
  })

  it('do not take a slow body for one that has ended', async () => {
    const bytes = another()
    const { hostname, port, host } = new URL(server.url)
    const text = await new Promise<string>((done, fail) => {
      let got = ''
      const socket = connect(Number(port), hostname, () => {
        const pieces = 8
        const size = Math.ceil(bytes.length / pieces)
        socket.write(
          `POST /api/shoots/${shootId}/frames?name=slow.dng HTTP/1.1\r\nHost: ${host}\r\nConnection: close\r\nContent-Length: ${bytes.length}\r\n\r\n`,
        )
        let sent = 0
        const timer = setInterval(() => {
          socket.write(bytes.subarray(sent * size, (sent + 1) * size))
          if (++sent === pieces) clearInterval(timer)
        }, 100)
      })
      socket.on('data', (chunk) => (got += chunk.toString()))
      socket.on('close', () => done(got))
      socket.on('error', fail)
    })
    expect(text).toMatch(/^HTTP\/1\.1 201 /)
  })

  it('to a broken embedded picture are a sentence', async () => {
    const bytes = another()
    const id = await server.frame(shootId, 'broken.dng', breakPreview(bytes))
    for (const part of ['thumbnail', 'preview']) {
      const answer = await server.ask<{ code: string; message: string }>(`/api/frames/${id}/${part}`)
      expect(answer).toMatchObject({
        status: 422,
        body: { message: 'The picture inside this file is damaged and cannot be shown.' },
      })
    }
    const jpeg = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#468' } })
      .jpeg()
      .toBuffer()
    expect((await server.upload(shootId, 'cut.jpg', jpeg.subarray(0, jpeg.length >> 1))).status).toBe(422)
  })

  it('limit names to what a disk takes, in bytes', async () => {
    for (const name of ['水'.repeat(76), 'x'.repeat(180), '水'.repeat(200), 'é'.repeat(200)]) {
      const { state, fileName } = await server.deliver(frameId, { ...SMALL, fileName: name })
      expect([state, name.startsWith(fileName!.replace(/( \(\d+\))?\.jpg$/, ''))]).toEqual(['done', true])
    }
  })

  it('list jobs and shoots as they were begun, also where the clock was set back', async () => {
    const { default: Database } = await import('libsql')
    const shoots = await Promise.all(['first', 'second', 'third'].map((name) => server.newShoot({ name })))
    const jobs: Job[] = []
    for (const name of ['one', 'two', 'three'])
      jobs.push(await server.deliver(frameId, { ...SMALL, fileName: `clock ${name}` }))
    const order = async () => ({
      shoots: (await server.ask<Shoot[]>('/api/shoots')).body.map((s) => s.id).slice(0, 3),
      jobs: (await server.ask<Job[]>('/api/jobs')).body.map((j) => j.id).slice(0, 3),
    })
    const begun = await order()
    expect(begun.jobs).toEqual(jobs.map((j) => j.id).reverse())
    // what came last has an earlier time than all others
    const db = new Database(join(library.path, 'library.db'))
    db.prepare("update shoots set created = '2001-01-01T00:00:00.000Z' where id = ?").run(begun.shoots[0])
    db.prepare("update jobs set created = '2001-01-01T00:00:00.000Z' where id = ?").run(begun.jobs[0])
    db.close()
    expect(await order()).toEqual(begun)
    expect(shoots).toHaveLength(3)
  })
})

/** Sends text as it is and returns the answer, which says its own length. */
function spoken(text: string | Buffer): Promise<string> {
  const { hostname, port } = new URL(server.url)
  return new Promise((done) => {
    let got = ''
    const socket = connect(Number(port), hostname, () => socket.write(text))
    socket.on('data', (chunk) => {
      got += chunk.toString()
      const [head, body] = got.split('\r\n\r\n')
      // what a refused sender may still say would be heard for a while
      if (body?.length === Number(/content-length: (\d+)/i.exec(head)?.[1])) socket.destroy()
    })
    socket.on('error', () => done(got))
    socket.on('close', () => done(got))
  })
}

/** Spoils the beginning of the picture inside of a DNG. */
function breakPreview(bytes: Buffer): Buffer {
  const { offset } = readDng(bytes).preview!
  const broken = Buffer.from(bytes)
  broken.fill(0, offset + 2, offset + 400)
  return broken
}
