import {
  copyFileSync,
  existsSync,
  readFileSync,
  rmSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { createHash } from 'node:crypto'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { another, filesIn, put, startServer, temporary, type TestServer } from '../../test/server'

const library = temporary()
const card = temporary()
let server: TestServer
let shootId: string
beforeAll(async () => {
  server = await startServer(library.path, { roots: [card.path] })
})
beforeEach(async () => {
  shootId = (await server.newShoot()).id
})
afterAll(async () => {
  await server.kill()
  library.remove()
  card.remove()
})

const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')
const placeOf = (bytes: Uint8Array) =>
  join(library.path, 'originals', hashOf(bytes).slice(0, 2), `${hashOf(bytes)}.dng`)
const served = async (id: string) => {
  const answer = await fetch(`${server.url}/api/frames/${id}/original`)
  return { status: answer.status, bytes: Buffer.from(await answer.arrayBuffer()) }
}
const deliver = (id: string, fileName: string) =>
  server.deliver(id, { size: { by: 'long edge', pixels: 64 }, fileName })
const putBack = (id: string, body: Uint8Array) =>
  server.ask<{ code: string }>(`/api/frames/${id}/original`, { method: 'PUT', body: body as never })
/** Other bytes in a file of the same size and times. */
function spoil(path: string): void {
  const bytes = readFileSync(path)
  bytes[bytes.length >> 1] ^= 0xff
  writeFileSync(path, bytes)
  utimesSync(path, 1000, 1000)
}

describe('emptying the bin', () => {
  it('while the same content comes in elsewhere leaves every frame its original', async () => {
    const bytes = Array.from({ length: 12 }, () => another())
    const one = await server.newShoot()
    for (let round = 0; round < 3; round++) {
      const ids = await Promise.all(bytes.map((b, i) => server.frame(one.id, `${round} ${i}.dng`, b)))
      const two = await server.newShoot()
      await server.drop(ids)
      const emptied = server.ask(`/api/shoots/${one.id}/bin`, { method: 'DELETE' })
      const came = await Promise.all(bytes.map((b, i) => server.upload(two.id, `${i}.dng`, b)))
      expect((await emptied).body).toEqual({ count: bytes.length })
      expect(came.map((c) => c.status)).toEqual(bytes.map(() => 201))
      for (const [i, { body }] of came.entries())
        expect((await served(body.frame.id)).bytes.equals(bytes[i])).toBe(true)
      await server.drop(came.map((c) => c.body.frame.id))
      await server.ask(`/api/shoots/${two.id}/bin`, { method: 'DELETE' })
      expect(bytes.filter((b) => existsSync(placeOf(b)))).toEqual([])
    }
  })

  it('that was cut short goes on at the next start, but not for content that came in again', async () => {
    const [gone, again] = [another(), another()]
    await server.drop([
      await server.frame(shootId, 'a.dng', gone),
      await server.frame(shootId, 'b.dng', again),
    ])
    await server.ask(`/api/shoots/${shootId}/bin`, { method: 'DELETE' })
    // as if the server had been killed before it removed the files
    await server.stop()
    for (const b of [gone, again]) put(join(placeOf(b), '..'), { [`${hashOf(b)}.dng`]: b })
    const { default: Database } = await import('libsql')
    const db = new Database(join(library.path, 'library.db'))
    for (const b of [gone, again]) db.prepare('insert into removals values (?, ?)').run(hashOf(b), '.dng')
    db.prepare('insert into originals (hash, size, ending) values (?, ?, ?)').run(
      hashOf(again),
      again.length,
      '.dng',
    )
    db.close()
    server = await startServer(library.path, { roots: [card.path] })
    expect([existsSync(placeOf(gone)), existsSync(placeOf(again))]).toEqual([false, true])
  })
})

describe('an original that is missing or spoiled', () => {
  const SPOIL: [string, (path: string) => void, RegExp][] = [
    ['missing', (p) => rmSync(p), /missing from the library’s folder/],
    ['cut short', (p) => truncateSync(p, 1000), /has changed since it was brought in/],
    ['other bytes of the same size', spoil, /has changed since it was brought in/],
  ]
  it.each(SPOIL)('(%s) is said, and healed by bringing the file in again', async (_, harm, says) => {
    const bytes = another()
    const id = await server.frame(shootId, 'a.dng', bytes)
    expect((await served(id)).bytes.equals(bytes)).toBe(true)
    harm(placeOf(bytes))
    const bad = await served(id)
    expect(bad.status).toBe(410)
    expect(JSON.parse(bad.bytes.toString()).message).toMatch(says)
    const failed = await deliver(id, 'never')
    expect(failed.state).toBe('failed')
    expect(failed.message).toMatch(says)
    expect((await server.job('POST', '/api/library/check', {})).problems).toEqual([
      expect.stringMatching(/^a\.dng \(Test\): The original (is missing|has changed)/),
    ])
    // in the same shoot, where it is known
    expect((await server.upload(shootId, 'a.dng', bytes)).body).toMatchObject({ known: true, restored: true })
    expect((await served(id)).bytes.equals(bytes)).toBe(true)
    expect((await deliver(id, 'again')).state).toBe('done')
    // and by way of another one
    harm(placeOf(bytes))
    const other = await server.newShoot()
    expect((await server.upload(other.id, 'a.dng', bytes)).body).toMatchObject({
      known: false,
      restored: true,
    })
    expect(readFileSync(placeOf(bytes)).equals(bytes)).toBe(true)
    expect((await server.job('POST', '/api/library/check', {})).problems).toEqual([])
  })

  it('spoiled without a trace is found by a delivery and by the check', async () => {
    const bytes = another()
    const id = await server.frame(shootId, 'a.dng', bytes)
    const { default: Database } = await import('libsql')
    spoil(placeOf(bytes))
    // the disk says that nothing happened
    const { size, mtimeMs, ino } = (await import('node:fs')).statSync(placeOf(bytes))
    const db = new Database(join(library.path, 'library.db'))
    db.prepare('update originals set stamp = ? where hash = ?').run(
      `${size} ${mtimeMs} ${ino}`,
      hashOf(bytes),
    )
    db.close()
    expect((await deliver(id, 'never')).message).toMatch(/has changed/)
    expect((await server.job('POST', '/api/library/check', {})).message).toMatch(/, 1 not as brought in\.$/)
    await server.upload(shootId, 'a.dng', bytes)
  })

  it('is put back by choosing the file, and by no other file; what lay there is set aside', async () => {
    const bytes = another()
    const id = await server.frame(shootId, 'a.dng', bytes)
    spoil(placeOf(bytes))
    const spoiled = readFileSync(placeOf(bytes))
    expect(await putBack(id, another())).toMatchObject({ status: 409, body: { code: 'another' } })
    expect((await served(id)).status).toBe(410)
    expect((await putBack(id, bytes)).status).toBe(204)
    expect((await served(id)).bytes.equals(bytes)).toBe(true)
    const aside = filesIn(join(library.path, 'set-aside')).map((f) =>
      readFileSync(join(library.path, 'set-aside', f)),
    )
    expect(aside.some((b) => b.equals(spoiled))).toBe(true)
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
  })
})

describe('an original that was left where it is', () => {
  const bring = async (name: string) => {
    const bytes = another()
    put(card.path, { [name]: bytes })
    await server.importFolder(shootId, join(card.path, name), { keep: 'in place' })
    const [frame] = (await server.page(shootId)).frames
    return { bytes, frame, path: join(card.path, name) }
  }

  it('and replaced there is not developed as if nothing had happened', async () => {
    const { frame, path, bytes } = await bring('replaced.dng')
    expect(frame.inPlace).toBe(path)
    writeFileSync(path, another())
    expect((await served(frame.id)).status).toBe(410)
    expect((await deliver(frame.id, 'never')).message).toMatch(/has changed since it was brought in/)
    expect((await server.send('POST', '/api/originals/copies', { ids: [frame.id] })).body).toMatchObject({
      count: 0,
      problems: [expect.stringMatching(/^replaced\.dng: The original has changed/)],
    })
    // found again elsewhere, it is used from there
    put(card.path, { 'moved.dng': bytes })
    const job = await server.importFolder(shootId, join(card.path, 'moved.dng'), { keep: 'in place' })
    expect(job.message).toBe('0 frames brought in, 1 there already, 1 missing or damaged original put back.')
    expect((await server.page(shootId)).frames[0].inPlace).toBe(join(card.path, 'moved.dng'))
    expect((await served(frame.id)).bytes.equals(bytes)).toBe(true)
  })

  it('can become a copy, and then does without the card', async () => {
    const { frame, path, bytes } = await bring('copy.dng')
    expect(existsSync(placeOf(bytes))).toBe(false)
    const answer = await server.send('POST', '/api/originals/copies', { ids: [frame.id] })
    expect(answer.body).toEqual({ count: 1, problems: [] })
    expect((await server.page(shootId)).frames[0].inPlace).toBeUndefined()
    expect(readFileSync(path).equals(bytes)).toBe(true)
    rmSync(path)
    expect((await served(frame.id)).bytes.equals(bytes)).toBe(true)
  })

  it('becomes a copy by being uploaded', async () => {
    const { frame, path, bytes } = await bring('uploaded.dng')
    expect((await server.upload(shootId, 'x.dng', bytes)).body).toMatchObject({
      known: true,
      restored: false,
    })
    rmSync(path)
    expect((await served(frame.id)).bytes.equals(bytes)).toBe(true)
  })
})

describe('the same content twice at once', () => {
  it('is one file, a frame in each shoot, and nothing set aside', async () => {
    const bytes = another()
    const before = filesIn(join(library.path, 'set-aside')).length
    const shoots = await Promise.all([1, 2, 3, 4].map(() => server.newShoot()))
    const came = await Promise.all([...shoots, ...shoots].map((s) => server.upload(s.id, 'same.dng', bytes)))
    expect(came.map((c) => c.status)).toEqual(Array.from({ length: 8 }, () => 201))
    for (const s of shoots) expect((await server.page(s.id)).frames).toHaveLength(1)
    expect(readFileSync(placeOf(bytes)).equals(bytes)).toBe(true)
    expect(filesIn(join(library.path, 'set-aside'))).toHaveLength(before)
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
  })
})

describe('a file that is too large to be developed', () => {
  it('is kept whole, listed, and says so where it would be developed', async () => {
    const path = join(card.path, 'large.dng')
    copyFileSync(put(card.path, { 'a.dng': another() }) + '/a.dng', path)
    truncateSync(path, 301 * 2 ** 20)
    const job = await server.importFolder(shootId, path)
    expect(job.message).toBe('1 frame brought in.')
    const [frame] = (await server.page(shootId)).frames
    expect(frame).toMatchObject({ format: 'kept', width: 0, hasPreview: false, fileSize: 301 * 2 ** 20 })
    expect(await served(frame.id)).toMatchObject({ status: 422 })
    const end = await deliver(frame.id, 'never')
    expect(end.message).toMatch(/larger than 300 MB: it is kept in the library but cannot be developed/)
    expect((await server.ask(`/api/frames/${frame.id}/thumbnail`)).status).toBe(404)
    rmSync(path)
  })
})
