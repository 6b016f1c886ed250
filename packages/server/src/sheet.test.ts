import { NO_TEXT, type Job, type News } from '@dunkelkammer/contract'
import { demoFrames } from '@dunkelkammer/demo'
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { deflateSync } from 'node:zlib'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, filesIn, root, startServer, temporary, until, type TestServer } from '../test/server'
import { text } from '../test/xmp'
import { progressLine } from './jobs/importFolder'
import { readXmp, writeXmp } from './library/sidecars/xmp'

const small = () => readFileSync(join(root, 'packages/demo/frames/HM0403.dng'))
const library = temporary()
const { path: card, remove: removeCard } = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path, { roots: [card] })
})
afterAll(async () => {
  await server.kill()
  library.remove()
  removeCard()
})

const newShoot = (part: object = {}) => server.newShoot(part)
const upload = (shootId: string, name: string, bytes: Uint8Array, more = '') =>
  server.upload(shootId, name, bytes, more)
const page = (shootId: string) => server.page(shootId)
const ended = (id: string) => server.ended(id)
const bringFolder = async (shootId: string, path: string, part: object = {}) =>
  (await server.send('POST', `/api/shoots/${shootId}/import`, { path, ...part })).body as Job
const folder = (name: string, files: Record<string, Uint8Array | string>) => {
  const path = join(card, name)
  for (const [file, bytes] of Object.entries(files)) {
    mkdirSync(join(path, file, '..'), { recursive: true })
    writeFileSync(join(path, file), bytes)
  }
  return path
}
const originals = () =>
  readdirSync(join(library.path, 'originals'), { recursive: true }).filter((n) => String(n).includes('.'))

describe('bad input', () => {
  it('is refused in words and leaves nothing behind, one by one and in a folder', async () => {
    const tiff = (bytes: Uint8Array) => {
      // one strip of zeros, three hundred times larger than it is stored, said to hold 200 megapixels
      const tags = [
        [256, 20000],
        [257, 10000],
        [258, 8],
        [259, 8],
        [262, 1],
        [273, 8],
        [277, 1],
        [278, 10000],
        [279, bytes.length],
      ]
      const dir = Buffer.alloc(2 + tags.length * 12 + 4)
      dir.writeUInt16LE(tags.length)
      tags.forEach(([tag, value], i) => {
        dir.writeUInt16LE(tag, 2 + i * 12)
        dir.writeUInt16LE(4, 4 + i * 12)
        dir.writeUInt32LE(1, 6 + i * 12)
        dir.writeUInt32LE(value, 10 + i * 12)
      })
      const head = Buffer.from([0x49, 0x49, 42, 0, 0, 0, 0, 0])
      head.writeUInt32LE(8 + bytes.length, 4)
      return Buffer.concat([head, bytes, dir])
    }
    const jpeg = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#468' } })
      .jpeg()
      .toBuffer()
    const bad: Record<string, Uint8Array> = {
      'letter.dng': Buffer.from('Dear trust, here are the pictures.'),
      'cut.dng': small().subarray(0, 300000),
      'cut.jpg': jpeg.subarray(0, jpeg.length - 200),
      'nothing.tif': Buffer.alloc(0),
      'bomb.tif': tiff(deflateSync(Buffer.alloc(2e8))),
    }
    const shoot = await newShoot()
    const before = originals().length
    for (const [name, bytes] of Object.entries(bad)) {
      const { status, body } = await upload(shoot.id, name, bytes)
      expect(status, name).toBe(422)
      expect(body.message, name).toMatch(/^This .*\.$/)
    }
    const job = await ended(
      (await bringFolder(shoot.id, folder('bad', { ...bad, 'good.dng': another() }))).id,
    )
    expect(job.message).toBe('1 frame brought in, 5 not readable.')
    expect(job.problems.map((p) => p.split(':')[0]).sort()).toEqual(Object.keys(bad).sort())
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
    expect(originals()).toHaveLength(before + 1)
  })

  it('keeps long names and names of any script, and two files of one name', async () => {
    const shoot = await newShoot()
    const long = `${'ä'.repeat(296)}.dng`
    const names = [long, '水門 早朝.dng', 'Ωmega 🌫.dng', 'same.dng', 'same.dng']
    for (const name of names) expect((await upload(shoot.id, name, another())).status).toBe(201)
    const { frames } = await page(shoot.id)
    expect(frames.map((f) => f.fileName).sort()).toEqual([...names].sort())
    expect((await upload(shoot.id, `${'x'.repeat(2000)}.dng`, another())).status).toBe(201)
    const cut = (await page(shoot.id)).frames.find((f) => f.fileName.startsWith('xx'))!
    expect(cut.fileName).toHaveLength(300)
    expect(cut.fileName.endsWith('.dng')).toBe(true)
  })

  it('does not follow links out of the roots, in the path or inside the folder', async () => {
    const shoot = await newShoot()
    const outside = join(library.path, 'outside')
    mkdirSync(outside)
    writeFileSync(join(outside, 'secret.dng'), another())
    symlinkSync(outside, join(card, 'way-out'))
    const path = folder('links', { 'own.dng': another() })
    symlinkSync(join(outside, 'secret.dng'), join(path, 'secret.dng'))
    symlinkSync(outside, join(path, 'below'))
    expect(
      (await server.send('POST', `/api/shoots/${shoot.id}/import`, { path: join(card, 'way-out') })).status,
    ).toBe(403)
    const job = await ended((await bringFolder(shoot.id, path, { keep: 'in place' })).id)
    expect(job.message).toBe('1 frame brought in.')
    expect((await page(shoot.id)).frames.map((f) => f.fileName)).toEqual(['own.dng'])
  })

  it('a card that is pulled out in the middle costs what had not come in, and says so', async () => {
    const shoot = await newShoot()
    const many = Object.fromEntries(
      Array.from({ length: 30 }, (_, i) => [`F${String(i).padStart(2, '0')}.dng`, another()]),
    )
    const path = folder('pulled', many)
    const job = await bringFolder(shoot.id, path)
    await until(async () => (await page(shoot.id)).frames.length >= 3)
    renameSync(path, `${path}-gone`)
    const end = await ended(job.id)
    const { frames } = await page(shoot.id)
    expect(end.state).toBe('done')
    expect(end.problems.length).toBeGreaterThan(0)
    expect(frames.length + end.problems.length).toBe(30)
    expect(end.problems.at(-1)).toBe('F29.dng: It is no longer there; was the card taken out?')
    for (const f of frames)
      expect((await fetch(`${server.url}/api/frames/${f.id}/original`)).status, f.fileName).toBe(200)
  })

  it('a cancelled import leaves whole frames only, and can go on', async () => {
    const shoot = await newShoot()
    const many = Object.fromEntries(Array.from({ length: 30 }, (_, i) => [`G${i}.dng`, another()]))
    const path = folder('cancelled', many)
    const job = await bringFolder(shoot.id, path)
    await until(async () => (await page(shoot.id)).frames.length >= 2)
    await server.send('POST', `/api/jobs/${job.id}/cancel`, {})
    const end = await ended(job.id)
    expect(end.state).toBe('cancelled')
    expect(end.message).toMatch(/^Cancelled at \d+ of 30\. What had come in stays\.$/)
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
    const came = (await page(shoot.id)).frames.length
    expect(came).toBeLessThan(30)
    const rest = await ended((await bringFolder(shoot.id, path)).id)
    expect(rest.message).toBe(`${30 - came} frames brought in, ${came} there already.`)
  })
})

describe('bringing in', () => {
  it('writes creator, copyright and keywords into what comes, over what the file says', async () => {
    const atImport = { creator: 'Jonne Vaart', keywords: ['polder'] }
    const shoot = await newShoot({ atImport })
    expect(shoot.atImport).toEqual(atImport)
    const date = Date.UTC(2026, 4, 15, 8)
    await upload(shoot.id, 'HM0403.dng', another(), `&date=${date}`)
    const [frame] = (await page(shoot.id)).frames
    expect(frame.text).toEqual({
      ...NO_TEXT,
      creator: 'Jonne Vaart',
      copyright: 'Hollenbeek Mills trust',
      keywords: ['polder'],
    })
    expect(frame.fileDate).toBe('2026-05-15T08:00:00.000Z')
    const truth = demoFrames.find((f) => f.fileName === 'HM0403.dng')!
    const [north, east, height] = truth.position!
    expect(frame.metadata).toMatchObject({
      focalLength: 80,
      focalLength35: 122,
      taken: `${truth.taken}${truth.zone}`,
    })
    expect(frame.metadata.position!.north).toBeCloseTo(north, 5)
    expect(frame.metadata.position!.east).toBeCloseTo(east, 5)
    expect(frame.metadata.position!.height).toBeCloseTo(height, 1)
  })

  it('leaves originals where they are on demand, and says when they are gone', async () => {
    const shoot = await newShoot()
    const path = folder('stay/below', { 'here.dng': another() })
    const before = originals().length
    await ended((await bringFolder(shoot.id, join(path, '..'), { keep: 'in place' })).id)
    expect(originals()).toHaveLength(before)
    const [frame] = (await page(shoot.id)).frames
    const original = () => fetch(`${server.url}/api/frames/${frame.id}/original`)
    expect((await original()).status).toBe(200)
    await server.send('POST', '/api/sidecars', { ids: [frame.id] })
    expect(readFileSync(join(path, 'here.xmp'), 'utf8')).toContain('<dk:rating>0</dk:rating>')
    renameSync(join(path, 'here.dng'), join(path, 'away.dng'))
    const gone = await original()
    expect(gone.status).toBe(410)
    expect(((await gone.json()) as { message: string }).message).toMatch(/Put the card or disk back/)
    renameSync(join(path, 'away.dng'), join(path, 'here.dng'))
    // removed from the library for good, it stays where it is
    await server.send('PATCH', '/api/frames', { changes: [{ ids: [frame.id], mark: 'drop' }] })
    await server.ask(`/api/shoots/${shoot.id}/bin`, { method: 'DELETE' })
    expect(existsSync(join(path, 'here.dng'))).toBe(true)
  })

  it('says count, rate and remaining time', () => {
    expect(progressLine(0, 100, 5)).toBe('0 of 100')
    expect(progressLine(20, 100, 10)).toBe('20 of 100, 2.0 a second, 40 s left')
    expect(progressLine(10, 1000, 10)).toBe('10 of 1000, 1.0 a second, 17 min left')
  })
})

describe('choosing', () => {
  it('changes many at once, all or none, and tells other pages', async () => {
    const shoot = await newShoot()
    const ids = []
    for (let i = 0; i < 3; i++) ids.push((await upload(shoot.id, `${i}.dng`, another())).body.frame.id)
    const { at } = await page(shoot.id)
    const changes = [
      { ids: ids.slice(0, 2), rating: 4, text: { keywords: ['früh'] } },
      { ids: [ids[2]], mark: 'keep' },
    ]
    expect((await server.send('PATCH', '/api/frames', { changes })).body).toEqual({ count: 3 })
    const news = (await server.ask(`/api/shoots/${shoot.id}/news?since=${at}`)).body as News
    expect(news.count).toBe(3)
    expect(news.frames.map((f) => [f.rating, f.mark, f.text.keywords.join()])).toEqual([
      [4, 'none', 'früh'],
      [4, 'none', 'früh'],
      [0, 'keep', ''],
    ])
    const none = (await server.ask(`/api/shoots/${shoot.id}/news?since=${news.at}`)).body as News
    expect(none).toMatchObject({ frames: [], more: false })
    for (const bad of [
      { ids, rating: 6 },
      { ids, mark: 'lost' },
      { ids: ['../x'], rating: 1 },
      { ids: [], rating: 1 },
      { ids, text: { title: 'two\nlines' } },
      { ids, text: { keywords: ['x'.repeat(301)] } },
    ])
      expect((await server.send('PATCH', '/api/frames', { changes: [{ ids, rating: 1 }, bad] })).status).toBe(
        400,
      )
    expect((await page(shoot.id)).frames[0].rating).toBe(4)
  })

  it('empties the bin of what nothing else needs', async () => {
    const [one, two] = [await newShoot(), await newShoot()]
    const shared = another()
    const alone = another()
    const a = (await upload(one.id, 'shared.dng', shared)).body.frame.id
    const b = (await upload(one.id, 'alone.dng', alone)).body.frame.id
    const kept = (await upload(one.id, 'kept.dng', another())).body.frame.id
    await upload(two.id, 'shared.dng', shared)
    await fetch(`${server.url}/api/frames/${b}/thumbnail`)
    const before = originals().length
    await server.send('PATCH', '/api/frames', { changes: [{ ids: [a, b], mark: 'drop' }] })
    expect((await server.ask(`/api/shoots/${one.id}/bin`, { method: 'DELETE' })).body).toEqual({ count: 2 })
    expect((await page(one.id)).frames.map((f) => f.id)).toEqual([kept])
    expect((await page(two.id)).frames).toHaveLength(1)
    expect(originals()).toHaveLength(before - 1)
    expect((await server.ask(`/api/frames/${b}`)).status).toBe(404)
    const thumbs = readdirSync(join(library.path, 'thumbs'), { recursive: true })
    expect(thumbs.some((t) => String(t).includes(b))).toBe(false)
    // what was thrown out may come in again
    expect((await upload(one.id, 'alone.dng', alone)).body.known).toBe(false)
  })
})

describe('shoots', () => {
  it('take another name; frames go from one to another with all that is theirs', async () => {
    const [one, two] = [await newShoot(), await newShoot({ name: 'Second' })]
    const bytes = another()
    const moved = (await upload(one.id, 'a.dng', bytes)).body.frame.id
    const stays = (await upload(one.id, 'b.dng', another())).body.frame.id
    await server.expose(await server.version(moved), 1)
    const change = (change: object) => server.send('PATCH', '/api/frames', { changes: [change] })
    const stack = crypto.randomUUID()
    await change({ ids: [moved], rating: 3, stack })
    const { at } = await page(two.id)
    expect((await change({ ids: [moved], shootId: two.id })).status).toBe(200)
    expect((await page(one.id)).frames.map((f) => f.id)).toEqual([stays])
    expect((await page(two.id)).frames).toMatchObject([{ id: moved, rating: 3, stack, edited: true }])
    expect((await server.version(moved)).development.steps.exposure.ev).toBe(1)
    // a page that looks at the other shoot is told
    const news = (await server.ask(`/api/shoots/${two.id}/news?since=${at}`)).body as News
    expect(news.frames.map((f) => f.id)).toEqual([moved])
    // what is there already is not doubled, and nothing of the change is made
    const twin = (await upload(one.id, 'twin.dng', bytes)).body.frame.id
    const refused = await change({ ids: [stays, twin], shootId: two.id })
    expect(refused).toMatchObject({ status: 409, body: { message: 'twin.dng is in that shoot already.' } })
    expect((await page(one.id)).frames).toHaveLength(2)
    expect((await change({ ids: [stays], shootId: crypto.randomUUID() })).status).toBe(404)

    expect((await server.send('PATCH', `/api/shoots/${two.id}`, { name: ' Kilns ' })).body).toMatchObject({
      name: 'Kilns',
    })
    expect((await page(two.id)).shoot.name).toBe('Kilns')
    expect((await server.send('PATCH', `/api/shoots/${two.id}`, { name: '' })).status).toBe(400)
  })

  it('are deleted with what only they have', async () => {
    const [one, two] = [await newShoot(), await newShoot()]
    const shared = another()
    const before = originals().length
    const gone = (await upload(one.id, 'a.dng', another())).body.frame.id
    await upload(one.id, 'b.dng', shared)
    await upload(two.id, 'b.dng', shared)
    await server.expose(await server.version(gone), 1)
    await server.drop([gone])
    const deleted = await server.ask(`/api/shoots/${one.id}`, { method: 'DELETE' })
    expect(deleted).toMatchObject({ status: 200, body: { count: 2 } })
    expect((await server.ask(`/api/shoots/${one.id}`)).status).toBe(404)
    expect((await server.ask(`/api/frames/${gone}`)).status).toBe(404)
    expect(originals()).toHaveLength(before + 1)
    expect((await page(two.id)).frames).toHaveLength(1)
  })
})

describe('what pages may run', () => {
  it('is nothing made from text, but for the worker of the raw library', async () => {
    const policy = async (path: string) =>
      (await fetch(server.url + path)).headers.get('content-security-policy')
    expect(await policy('/')).not.toContain(" 'unsafe-eval'")
    expect(await policy('/assets/thread-x.js')).not.toContain(" 'unsafe-eval'")
    expect(await policy('/assets/raw-library-x.js')).toContain(" 'unsafe-eval'")
  })
})

describe('sidecars', () => {
  it('that are none are refused, and do not keep the frame out', async () => {
    for (const bad of [
      'hello',
      '<a/>',
      '<!DOCTYPE x [<!ENTITY a "b">]><x:xmpmeta/>',
      '<x:xmpmeta><rdf:RDF>',
      ' '.repeat(2e6),
    ])
      expect(() => readXmp(bad)).toThrow('This sidecar is not XMP.')
    const shoot = await newShoot()
    const path = folder('sidecars', {
      'a.dng': another(),
      'a.xmp': 'hello',
      'b.dng': another(),
      'b.xmp': writeXmp(text, 5, 'none'),
    })
    const job = await ended((await bringFolder(shoot.id, path)).id)
    expect(job.message).toBe('2 frames brought in.')
    expect(job.problems).toEqual(['a.dng: its sidecar was left out. This sidecar is not XMP.'])
    const { frames } = await page(shoot.id)
    expect(frames.map((f) => [f.fileName, f.rating, f.text.title])).toEqual([
      ['a.dng', 0, ''],
      ['b.dng', 5, text.title],
    ])
    const put = await fetch(`${server.url}/api/frames/${frames[0].id}/sidecar`, {
      method: 'PUT',
      body: writeXmp(text, 2, 'keep'),
    })
    expect(await put.json()).toEqual({ problems: [] })
    expect((await page(shoot.id)).frames[0]).toMatchObject({ rating: 2, mark: 'keep', text })
    rmSync(path, { recursive: true })
  })
})
