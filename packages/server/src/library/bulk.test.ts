import { bulkName, changesBetween, encodePath, readDevelopment } from '@dunkelkammer/core'
import type { Version } from '@dunkelkammer/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startServer, temporary, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path)
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

const bytes = encodePath([
  { x: -0.1, y: 0 },
  { x: 0.1, y: 0.02 },
])
const name = bulkName(bytes)
const put = (as: string, body: Uint8Array) =>
  server.ask(`/api/bulk/${as}`, { method: 'PUT', body: Buffer.from(body) })

const painted = readDevelopment({
  steps: {
    patches: {
      patches: [{ id: 'a', shape: 'stroke', path: name, x: 0.5, y: 0.5, radius: 0.01, source: [0, 0.1] }],
    },
  },
})
const painting = ({ development, head }: Version) => ({
  base: head,
  operations: [
    {
      ...{ kind: 'change', id: crypto.randomUUID(), parent: head, label: 'Patch added' },
      ...{ changes: changesBetween(development, painted), time: new Date().toISOString() },
    },
  ],
})

describe('bulk data', () => {
  it('is taken where it is what it is called, and comes back', async () => {
    for (const [as, body] of [
      [name, bytes.slice(1)],
      [name, new Uint8Array()],
      [`sha256-${'0'.repeat(64)}`, bytes],
    ] as const) {
      const { status, body: problem } = await put(as, body)
      expect(status).toBe(422)
      expect(problem).toEqual({
        code: 'damaged',
        message: expect.stringMatching(/did not arrive whole/) as string,
      })
    }
    expect((await put('rubbish', bytes)).status).toBe(400)
    expect((await server.ask(`/api/bulk/${name}`)).status).toBe(404)
    expect((await put(name, bytes)).status).toBe(200)
    expect((await put(name, bytes)).status).toBe(200)
    const back = await (await fetch(`${server.url}/api/bulk/${name}`)).arrayBuffer()
    expect(new Uint8Array(back)).toEqual(bytes)
  })

  it('must be there before settings speak of it', async () => {
    const other = encodePath([{ x: 0, y: 0.3 }])
    const frame = await server.frame((await server.newShoot()).id, 'HM0417.dng')
    const version = await server.version(frame)
    const order = painting(version)
    const early = JSON.parse(JSON.stringify(order).replaceAll(name, bulkName(other))) as typeof order
    const refused = await server.send('POST', `/api/versions/${version.id}/log`, early)
    expect(refused.status).toBe(409)
    expect(refused.body).toMatchObject({ code: 'bulk-missing' })
    expect(await server.version(frame)).toEqual(version)
    await put(bulkName(other), other)
    expect((await server.send('POST', `/api/versions/${version.id}/log`, early)).status).toBe(200)
    expect((await server.version(frame)).development.steps.patches.patches).toHaveLength(1)
  })
})
