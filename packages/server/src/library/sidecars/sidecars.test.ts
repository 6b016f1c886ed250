import type { FramePage, Job, MadeFile } from '@dunkelkammer/contract'
import { xmpPacket } from '@dunkelkammer/core'
import { spawnSync } from 'node:child_process'
import sharp from 'sharp'
import { existsSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, filesIn, put, startServer, temporary, until, type TestServer } from '../../../test/server'
import { FOREIGN, text } from '../../../test/xmp'
import { readXmp, writeXmp } from './xmp'

describe('words in a file', () => {
  const library = temporary()
  let server: TestServer
  let shoot: { id: string }
  beforeAll(async () => {
    server = await startServer(library.path)
    shoot = await server.newShoot()
  })
  afterAll(async () => {
    await server.kill()
    library.remove()
  })
  const packet = (words: string, rating: number, changed: string) =>
    xmpPacket([
      `<dc:title><rdf:Alt><rdf:li xml:lang="x-default">${words}</rdf:li></rdf:Alt></dc:title>`,
      '<dc:subject><rdf:Bag><rdf:li>quay</rdf:li></rdf:Bag></dc:subject>',
      `<xmp:Rating>${rating}</xmp:Rating><xmp:Label>Amber</xmp:Label>`,
      `<xmp:MetadataDate>${changed}</xmp:MetadataDate>`,
    ])
  const brought = async (name: string, xmp: string) => {
    const bytes = await sharp(await jpeg())
      .withXmp(xmp)
      .jpeg()
      .toBuffer()
    return framed((await server.upload(shoot.id, name, bytes)).body.frame.id)
  }
  const framed = async (id: string) => (await server.ask<FramePage>(`/api/frames/${id}`)).body.frame

  it('are the frame’s when it comes in, stars and label too', async () => {
    const frame = await brought('a.jpg', packet('Zollhaus', 3, '2026-05-14T10:00:00'))
    expect(frame).toMatchObject({
      ...{ text: { title: 'Zollhaus', keywords: ['quay'] }, rating: 3, mark: 'none' },
      metadata: { label: 'Amber' },
    })
    const dropped = await brought('b.jpg', packet('Bad', -1, '2026-05-14T10:00:00'))
    expect([dropped.rating, dropped.mark]).toEqual([0, 'drop'])
  })

  it('reach the files that are delivered', async () => {
    const frame = await brought('c.jpg', packet('Mole', 4, '2026-05-14T10:00:00'))
    const deliveries = [{ name: 'Web', size: { by: 'long edge', pixels: 64 } }]
    const order = await server.send<Job>('POST', '/api/files', { frames: [{ id: frame.id }], deliveries })
    await server.ended(order.body.id)
    const [made] = (await server.ask<MadeFile[]>(`/api/jobs/${order.body.id}/files`)).body
    const { xmpAsString } = await sharp(made.path).metadata()
    expect(readXmp(xmpAsString!)).toMatchObject({
      ...{ text: { title: 'Mole', keywords: ['quay'] }, rating: 4, label: 'Amber' },
    })
  })

  it('give way to a sidecar, unless they were written later', async () => {
    const sidecar = (changed: string) => packet('of the sidecar', 1, changed).replace('quay', 'canal')
    for (const [within, beside, title] of [
      ['2026-05-14T10:00:00', '2026-05-14T10:00:01', 'of the sidecar'],
      ['2026-05-14T10:00:02', '2026-05-14T10:00:01', 'of the file'],
    ]) {
      const path = put(join(library.path, '..', `card${Math.random()}`), {
        'd.jpg': await sharp(await jpeg())
          .withXmp(packet('of the file', 2, within))
          .jpeg()
          .toBuffer(),
        'd.xmp': sidecar(beside),
      })
      const own = temporary()
      const other = await startServer(own.path, { roots: [path] })
      try {
        const there = await other.newShoot()
        await other.importFolder(there.id, path)
        const [frame] = (await other.page(there.id)).frames
        expect([frame.text.title, frame.rating]).toEqual([title, title === 'of the file' ? 2 : 1])
      } finally {
        await other.kill()
        own.remove()
        rmSync(path, { recursive: true })
      }
    }
  })

  it('that are damaged are no reason to refuse a picture', async () => {
    const frame = await brought('e.jpg', '<rdf:RDF')
    expect((await framed(frame.id)).text.title).toBe('')
  })
})

describe('sidecars on the disk', () => {
  const library = temporary()
  const card = temporary()
  let server: TestServer
  beforeAll(async () => {
    server = await startServer(library.path, { roots: [card.path] })
  })
  afterAll(async () => {
    await server.kill()
    library.remove()
    card.remove()
  })
  const bring = async (files: Record<string, Uint8Array | string>) => {
    const path = put(join(card.path, `f${Math.random()}`), files)
    const shoot = await server.newShoot()
    const job = await server.importFolder(shoot.id, path, { keep: 'in place' })
    const { frames } = await server.page(shoot.id)
    return { path, job, frames, ids: frames.map((f) => f.id), shoot }
  }
  const write = (ids: string[]) =>
    server.send<{ beside: number; problems: string[] }>('POST', '/api/sidecars', { ids })
  const title = (ids: string[], words: string) =>
    server.send('PATCH', '/api/frames', { changes: [{ ids, text: { title: words } }] })

  it('of two frames that differ in their ending alone are two', async () => {
    const { path, ids, frames } = await bring({
      'pair.dng': another(),
      'pair.jpg': await jpeg(),
      'one.dng': another(),
    })
    for (const f of frames) await title([f.id], `words of ${f.fileName}`)
    expect((await write(ids)).body).toEqual({ beside: 3, inLibrary: 0, problems: [] })
    expect(filesIn(path)).toEqual([
      'one.dng',
      'one.xmp',
      'pair.dng',
      'pair.dng.xmp',
      'pair.jpg',
      'pair.jpg.xmp',
    ])
    for (const name of ['pair.dng', 'pair.jpg'])
      expect(readXmp(readFileSync(join(path, `${name}.xmp`), 'utf8')).text.title).toBe(`words of ${name}`)
    // and each comes back with its own
    const shoot = await server.newShoot()
    await server.importFolder(shoot.id, path, { keep: 'in place' })
    const back = (await server.page(shoot.id)).frames.map((f) => [f.fileName, f.text.title])
    expect(back.sort()).toEqual(['one.dng', 'pair.dng', 'pair.jpg'].map((n) => [n, `words of ${n}`]))
  })

  it('that two frames could have belongs to the raw file, and is edited where it lies', async () => {
    const sidecar = writeXmp({ ...text, title: 'of the raw file' }, 4, 'none')
    const { path, frames } = await bring({
      'pair.dng': another(),
      'pair.jpg': await jpeg(),
      'pair.xmp': sidecar,
    })
    const byName = (name: string) => frames.find((f) => f.fileName === name)!
    expect([byName('pair.dng').text.title, byName('pair.dng').rating]).toEqual(['of the raw file', 4])
    expect([byName('pair.jpg').text.title, byName('pair.jpg').rating]).toEqual(['', 0])
    await title([byName('pair.dng').id], 'changed')
    await title([byName('pair.jpg').id], 'of the picture')
    await write(frames.map((f) => f.id))
    expect(filesIn(path)).toEqual(['pair.dng', 'pair.jpg', 'pair.jpg.xmp', 'pair.xmp'])
    expect(readXmp(readFileSync(join(path, 'pair.xmp'), 'utf8')).text.title).toBe('changed')
  })

  it('of UTF-16 is read, and stays so', async () => {
    const bytes = Buffer.from(FOREIGN.replace('<?xpacket', '\uFEFF<?xpacket'), 'utf16le')
    const { path, ids, frames } = await bring({ 'wide.dng': another(), 'wide.xmp': bytes })
    expect(frames[0].text).toMatchObject({ title: 'Old', keywords: ['old'] })
    await title(ids, 'Schöpfwerk')
    expect((await write(ids)).body.problems).toEqual([])
    const written = readFileSync(join(path, 'wide.xmp'))
    expect([...written.subarray(0, 2)]).toEqual([0xff, 0xfe])
    const read = new TextDecoder('utf-16le').decode(written)
    expect(readXmp(read).text.title).toBe('Schöpfwerk')
    expect(read).toContain('other:grade="7"')
  })

  it('in an archive are two as well', async () => {
    const { ids } = await bring({ 'pair.dng': another(), 'pair.jpg': await jpeg() })
    const zip = await fetch(`${server.url}/api/sidecars/download`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ ids }),
    })
    const { unzipSync } = await import('fflate')
    expect(Object.keys(unzipSync(new Uint8Array(await zip.arrayBuffer()))).sort()).toEqual([
      'pair.dng.xmp',
      'pair.jpg.xmp',
    ])
  })

  it('of others keep what they say, and damaged ones are left as they are', async () => {
    const { path, ids, frames } = await bring({ 'a.dng': another(), 'a.xmp': FOREIGN, 'b.dng': another() })
    expect(frames[0]).toMatchObject({ rating: 2, text: { title: 'Old' } })
    await title(ids, 'New')
    writeFileSync(join(path, 'b.xmp'), 'not XMP')
    expect((await write(ids)).body).toEqual({
      beside: 1,
      inLibrary: 0,
      problems: ['b.dng: This sidecar is not XMP.'],
    })
    const written = readFileSync(join(path, 'a.xmp'), 'utf8')
    expect(written).toContain('other:grade="7"')
    expect(readXmp(written).text.title).toBe('New')
    expect(readFileSync(join(path, 'b.xmp'), 'utf8')).toBe('not XMP')
  })

  it('that are pipes, links or folders neither hang an import nor are followed', async () => {
    const path = join(card.path, 'pipes')
    mkdirSync(path)
    put(path, { 'a.dng': another(), 'b.dng': another(), 'c.dng': another() })
    expect(spawnSync('mkfifo', [join(path, 'a.xmp'), join(path, 'pipe.dng')]).status).toBe(0)
    put(card.path, { 'elsewhere.xmp': writeXmp({ ...text, title: 'Secret' }, 5, 'none') })
    symlinkSync(join(card.path, 'elsewhere.xmp'), join(path, 'b.xmp'))
    mkdirSync(join(path, 'c.xmp'))
    const shoot = await server.newShoot()
    const job = await server.importFolder(shoot.id, path)
    expect(job).toMatchObject({ state: 'done', message: '3 frames brought in.', problems: [] })
    expect((await server.page(shoot.id)).frames.map((f) => f.text.title)).toEqual(['', '', ''])
    const pipe = await server.importFolder(shoot.id, join(path, 'pipe.dng'))
    expect(pipe).toMatchObject({ state: 'failed', message: 'This is neither a file nor a folder.' })
  })

  it('with names too long for a file are named, the rest is written', async () => {
    const long = `${'ж'.repeat(125)}.dng`
    const { ids } = await bring({ [long]: another(), 'b.dng': another() })
    // a picture beside it takes the short name, so its own would have to be longer than disks allow
    const path = (
      await server.page(
        (await server.ask<{ frame: { shootId: string } }>(`/api/frames/${ids[0]}`)).body.frame.shootId,
      )
    ).frames.map((f) => f.inPlace!)
    const folder = join(path[0], '..')
    put(folder, { [long.replace('.dng', '.jpg')]: await jpeg() })
    const { body } = await write(ids)
    expect(body.beside).toBe(1)
    expect(body.problems).toEqual([expect.stringMatching(/This name is too long for a file\. Shorten it\.$/)])
    expect(existsSync(join(folder, 'b.xmp'))).toBe(true)
  })

  it('do not keep a server from ending', async () => {
    const path = put(
      join(card.path, 'end'),
      Object.fromEntries(Array.from({ length: 20 }, (_, i) => [`${i}.dng`, another()])),
    )
    spawnSync('mkfifo', [join(path, '0.xmp')])
    const own = temporary()
    const other = await startServer(own.path, { roots: [card.path] })
    const shoot = await other.newShoot()
    await other.send('POST', `/api/shoots/${shoot.id}/import`, { path })
    await until(async () => (await other.page(shoot.id)).frames.length > 0)
    expect(await other.stop()).toBe(0)
    own.remove()
    rmSync(path, { recursive: true })
  })
})

async function jpeg(): Promise<Buffer> {
  const background = { r: Math.floor(Math.random() * 256), g: 80, b: 120 }
  return sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .jpeg()
    .toBuffer()
}
