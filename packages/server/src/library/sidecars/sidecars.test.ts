import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, filesIn, put, startServer, temporary, until, type TestServer } from '../../../test/server'
import { FOREIGN, text } from '../../../test/xmp'
import { readXmp, writeXmp } from './xmp'

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
  const { default: sharp } = await import('sharp')
  const background = { r: Math.floor(Math.random() * 256), g: 80, b: 120 }
  return sharp({ create: { width: 40, height: 30, channels: 3, background } })
    .jpeg()
    .toBuffer()
}
