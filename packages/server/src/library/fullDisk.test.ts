import type { Job, ShootPage } from '@dunkelkammer/contract'
import { closeSync, openSync, rmSync, statSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  another,
  exposing,
  filesIn,
  inside,
  startServer,
  temporary,
  type TestServer,
  fileOf,
} from '../../test/server'

const place = temporary()
const card = temporary()
let server: TestServer
let shootId: string
let frameId: string
const FULL = /^The disk is full\. Make room and try again/

beforeAll(async () => {
  server = await startServer(place.path, { diskMb: 24, roots: [card.path] })
  shootId = (await server.newShoot()).id
  frameId = await server.frame(shootId, 'first.dng')
})
afterAll(async () => {
  await server.kill()
  place.remove()
  card.remove()
})

const filler = () => join(inside(server, place.path), 'filler')
/** Fills the library's disk but for some bytes. */
function fill(leave = 0): void {
  const file = openSync(filler(), 'w')
  const block = Buffer.alloc(4096, 1)
  try {
    for (;;) if (writeSync(file, block) < block.length) break
  } catch {
    // it is full
  }
  closeSync(file)
  if (leave) {
    const { size } = statSync(filler())
    rmSync(filler())
    const again = openSync(filler(), 'w')
    writeSync(again, Buffer.alloc(Math.max(size - leave, 0), 1))
    closeSync(again)
  }
}
const makeRoom = () => rmSync(filler(), { force: true })
const brighter = async (ev: number) => {
  const version = await server.version(frameId)
  return { version, body: exposing(version, ev, { label: 'x'.repeat(100) }) }
}
const order = (fileName: string) => fileOf(frameId, { size: { by: 'long edge', pixels: 800 }, fileName })

describe('a full disk', () => {
  it('is named by every answer, costs nothing that was saved, and the server goes on when there is room', async () => {
    for (let round = 0; round < 3; round++) {
      const saved = await brighter(round)
      expect((await server.append(saved.version, saved.body)).status).toBe(200)
      const work = order(`round-${round}`)
      fill()
      const refused: [string, { status: number; body: { code: string; message: string } }][] = [
        ['upload', (await server.upload(shootId, 'more.dng', another())) as never],
        ['look', await server.ask('/api/looks/table', { method: 'POST', body: table(round) })],
        ['shoot', await server.send('POST', '/api/shoots', { name: 'x'.repeat(300) })],
      ]
      for (const [what, { status, body }] of refused) {
        expect([what, status, body.code]).toEqual([what, 507, 'enospc'])
        expect(body.message, what).toMatch(FULL)
      }
      // the database may have room left in pages that it has: then the save holds, and else it says so
      const next = await brighter(round + 0.5)
      const save = await server.append(next.version, next.body)
      expect(save.status === 200 || save.body.code === 'enospc').toBe(true)
      const asked = await server.send<Job>('POST', '/api/files', work)
      if (asked.status === 202) {
        const end = await server.ended(asked.body.id)
        expect(end.state).toBe('failed')
        expect(end.message).toMatch(FULL)
      } else expect(asked).toMatchObject({ status: 507, body: { code: 'enospc' } })
      expect((await server.ask('/api/health')).status).toBe(200)
      const { frames } = (await server.ask<ShootPage>(`/api/shoots/${shootId}`)).body
      expect(frames.map((f) => f.fileName)).not.toContain('more.dng')

      makeRoom()
      const exported = await server.job('POST', '/api/files', work)
      expect(exported).toMatchObject({ state: 'done', fileName: `round-${round}.jpg` })
      const ev = (await server.version(frameId)).development.steps.exposure.ev
      expect(ev).toBe(save.status === 200 ? round + 0.5 : round)
      expect(filesIn(join(inside(server, place.path), 'incoming'))).toEqual([])
    }
    expect(server.said.text).not.toMatch(/\n\s+at /)
  })

  it('in the middle of a file leaves nothing of it, and stops an import with its reason', async () => {
    const bytes = another()
    fill(bytes.length * 0.6)
    const upload = await server.upload(shootId, 'half.dng', bytes)
    expect(upload).toMatchObject({ status: 507, body: { code: 'enospc' } })
    // one that is still on its way when the disk is full gets its answer too
    const large = Buffer.concat([another(), Buffer.alloc(60 << 20)])
    for (let i = 0; i < 3; i++)
      expect(await server.upload(shootId, 'large.dng', large)).toMatchObject({
        status: 507,
        body: { code: 'enospc' },
      })
    const fs = await import('node:fs')
    for (const n of [1, 2, 3]) fs.writeFileSync(join(card.path, `${n}.dng`), another())
    const job = await server.importFolder(shootId, card.path)
    expect(job.state).toBe('failed')
    expect(job.message).toMatch(FULL)
    const library = inside(server, place.path)
    expect(filesIn(join(library, 'incoming'))).toEqual([])
    makeRoom()
    expect((await server.upload(shootId, 'half.dng', bytes)).body).toMatchObject({ known: false })
    const rest = await server.importFolder(shootId, card.path)
    expect(rest).toMatchObject({ state: 'done', message: '3 frames brought in.' })
    // whole files only, each under the hash of its content
    const check = await server.job('POST', '/api/library/check', {})
    expect(check.message).toBe('5 originals checked, all as brought in.')
  })
})

const table = (n: number) => `TITLE "Full ${n}"\nLUT_3D_SIZE 2\n${`0.${n} 0.5 0.5\n`.repeat(8)}`
