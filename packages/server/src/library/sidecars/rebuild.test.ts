import type { FramePage, LibraryPage, Version } from '@dunkelkammer/contract'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeEach, afterEach, describe, expect, it } from 'vitest'
import { change, delivered, loseDatabase, paint, setting, wholeLibrary } from '../../../test/rebuild'
import { another, filesIn, put, startServer, temporary, until, type TestServer } from '../../../test/server'
import { FOREIGN } from '../../../test/xmp'

let library: { path: string; remove(): void }
let card: { path: string; remove(): void }
let server: TestServer
const start = async (part: object = {}) =>
  (server = await startServer(library.path, { roots: [card.path], ...part }))

beforeEach(async () => {
  library = temporary()
  card = temporary()
  await start()
})
afterEach(async () => {
  await server.kill()
  library.remove()
  card.remove()
})

const page = async (id: string) => (await server.ask<FramePage>(`/api/frames/${id}`)).body
const versionsOf = async (id: string) => (await page(id)).versions
const write = async (ids: string[]) =>
  (
    await server.send<{ beside: number; inLibrary: number; problems: string[] }>('POST', '/api/sidecars', {
      ids,
    })
  ).body

/** A frame with words, two versions, one deleted, a branch in its log, a painted path and a named entry. */
async function developed(id: string): Promise<void> {
  const first = await change(server, id, 'Exposure', setting('exposure', { ev: 0.7 }))
  await change(server, id, 'Contrast', setting('relief', { broad: 0.2 }))
  const { id: version, head } = (await versionsOf(id))[0]
  const operations = [
    { kind: 'go', id: crypto.randomUUID(), to: first, tip: head },
    { kind: 'name', id: crypto.randomUUID(), entry: first, name: 'Morning & <light>' },
  ]
  await server.send('POST', `/api/versions/${version}/log`, { base: head, operations })
  await paint(server, id, 0.1)
  for (const name of ['Warm', 'Gone'])
    await server.send('POST', `/api/frames/${id}/versions`, { from: version, name })
  const [, warm, gone] = await versionsOf(id)
  await change(server, id, 'White', setting('cameraColour', { source: 'kelvin', kelvin: 7000 }), 1)
  await server.ask(`/api/versions/${gone.id}`, { method: 'DELETE' })
  await server.ask(`/api/versions/${warm.id}/show`, { method: 'POST' })
  const text = { title: 'Lock “A”', caption: '', keywords: ['lock', '水門'] }
  await server.send('PATCH', '/api/frames', { changes: [{ ids: [id], text, rating: 4, mark: 'keep' }] })
}

describe('a library whose database was lost', () => {
  it('is rebuilt from its folder and its sidecars, words, versions and logs', async () => {
    const morning = await server.newShoot({ name: 'Morning' })
    const evening = await server.newShoot({ name: 'Evening', atImport: { creator: 'M. Brandt' } })
    const bytes = another()
    const a = await server.frame(morning.id, 'a.dng', bytes)
    await server.frame(morning.id, 'b.dng')
    // the same file in another shoot, developed otherwise
    const again = await server.frame(evening.id, 'again.dng', bytes)
    await developed(a)
    const kept = await change(server, again, 'Exposure', setting('exposure', { ev: -1 }))
    const undone = await change(server, again, 'Relief', setting('relief', { broad: 0.3 }))
    const { id: version } = await server.version(again)
    await server.send('POST', `/api/versions/${version}/log`, {
      base: undone,
      operations: [{ kind: 'go', id: crypto.randomUUID(), to: kept, tip: undone }],
    })
    const picture = await delivered(server, a)
    const frames = (await wholeLibrary(server)).flatMap((s) => s.frames)
    const ids = frames.map((f) => f.frame.id)
    expect(await write(ids)).toEqual({ beside: 0, inLibrary: 3, problems: [] })
    const before = await wholeLibrary(server)
    // they are none of the files that the library does not know
    expect((await server.ask<LibraryPage>('/api/library')).body.unknown.count).toBe(0)
    await server.kill()
    loseDatabase(library.path)
    await start()
    expect((await server.ask<LibraryPage>('/api/library')).body.unknown.count).toBe(2)
    const job = await server.job('POST', '/api/library/unknown/bring-in', {})
    expect(job).toMatchObject({ state: 'done', problems: [] })
    expect(await wholeLibrary(server)).toEqual(before)
    expect((await delivered(server, a)).equals(picture)).toBe(true)
    // a deleted version can be taken back
    const [gone] = (await page(a)).removed
    expect(gone.name).toBe('Gone')
    expect((await server.ask(`/api/versions/${gone.id}/take-back`, { method: 'POST' })).status).toBe(200)
    // and the log leads back, down to the branch that was left
    const [{ entries }] = await versionsOf(a)
    expect(entries.map((e) => e.label)).toEqual(['Patch added', 'Exposure'])
    expect(entries[1].name).toBe('Morning & <light>')
  })

  it('finds originals that were left in place by the folder, and others by a shoot of its own', async () => {
    const folder = put(join(card.path, 'walk'), {
      'a.dng': another(),
      'b.dng': another(),
      'c.dng': another(),
    })
    const shoot = await server.newShoot({ name: 'Walk' })
    await server.importFolder(shoot.id, folder, { keep: 'in place' })
    const { frames } = await server.page(shoot.id)
    for (const f of frames) await change(server, f.id, 'Exposure', setting('exposure', { ev: 1 }))
    expect(await write(frames.slice(0, 2).map((f) => f.id))).toEqual({
      beside: 2,
      inLibrary: 0,
      problems: [],
    })
    const before = await wholeLibrary(server)
    await server.kill()
    loseDatabase(library.path)
    await start()
    const job = await server.job('POST', '/api/library/rebuild', { path: folder, keep: 'in place' })
    expect(job).toMatchObject({ state: 'done', message: '3 frames brought in.', problems: [] })
    const after = await wholeLibrary(server)
    expect(after.map((s) => s.name)).toEqual(['Found in walk', 'Walk'])
    expect(after[1].frames).toEqual(before[0].frames.slice(0, 2))
    expect(after[0].frames).toMatchObject([{ frame: { fileName: 'c.dng', edited: false } }])
    // again: nothing twice, nothing changed
    await server.job('POST', '/api/library/rebuild', { path: folder, keep: 'in place' })
    expect((await wholeLibrary(server)).find((s) => s.name === 'Walk')).toEqual(after[1])
    const outside = await server.send('POST', '/api/library/rebuild', { path: '/etc', keep: 'copy' })
    expect(outside.status).toBe(403)
  })
})

describe('a sidecar with developments', () => {
  /** A frame left in place, with an exposure of 0.5 and its sidecar. */
  async function withSidecar(name = 'a.dng', more: Record<string, string> = {}) {
    const folder = put(join(card.path, `f${Math.random()}`), { [name]: another(), ...more })
    const shoot = await server.newShoot()
    await server.importFolder(shoot.id, folder, { keep: 'in place' })
    const [frame] = (await server.page(shoot.id)).frames
    await change(server, frame.id, 'Exposure', setting('exposure', { ev: 0.5 }))
    await write([frame.id])
    const path = join(folder, name.replace(/\.\w+$/, '.xmp'))
    return { folder, frame, path, text: () => readFileSync(path, 'utf8') }
  }
  const come = async (folder: string, part: object = {}) => {
    const shoot = await server.newShoot()
    const job = await server.importFolder(shoot.id, folder, { keep: 'in place', ...part })
    const { frames } = await server.page(shoot.id)
    return { job, frames, versions: await versionsOf(frames[0].id) }
  }

  it('gives its settings back where the file comes in, and no preset goes on top', async () => {
    const { folder } = await withSidecar('a.dng', { 'a.xmp': FOREIGN })
    const presets = (await server.ask<{ presets: { id: string }[] }>('/api/presets')).body.presets
    const { versions, job } = await come(folder, { text: { preset: { id: presets[0].id, strength: 1 } } })
    expect(job.problems).toEqual([])
    expect(versions.map((v) => v.development.steps.exposure.ev)).toEqual([0.5])
    expect(versions[0].entries.map((e) => e.label)).toEqual(['Exposure'])
    // what others wrote into it is still there
    expect(readFileSync(join(folder, 'a.xmp'), 'utf8')).toContain('other:grade="7"')
  })

  it('of another picture beside it is not taken for its own', async () => {
    const { folder, path } = await withSidecar()
    // the JPEG of the same shot, brought in later
    const { default: sharp } = await import('sharp')
    const jpeg = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#345' } })
      .jpeg()
      .toBuffer()
    put(join(folder, 'jpeg'), { 'a.jpg': jpeg, 'a.xmp': readFileSync(path, 'utf8') })
    const { versions, frames } = await come(join(folder, 'jpeg'))
    expect(frames[0].edited).toBe(false)
    expect(versions[0].development.steps.exposure.ev).toBe(0)
  })

  it('is told where it is damaged or newer, and is not written over then', async () => {
    const { folder, frame, path, text } = await withSidecar()
    const whole = text()
    for (const [what, sentence] of [
      [whole.replace('"format":1', '"format":2'), /written by a newer Dunkelkammer/],
      [whole.replace('"kind":"dunkelkammer-development"', '"kind":"x"'), /are damaged/],
      [whole.replace('{"kind"', '{kind'), /are damaged/],
    ] as const) {
      expect(what).not.toBe(whole)
      writeFileSync(path, what)
      const { problems } = await write([frame.id])
      expect(problems).toEqual([expect.stringMatching(sentence)])
      expect(text()).toBe(what)
      const { job, versions } = await come(folder)
      expect(job.problems).toEqual([expect.stringMatching(sentence)])
      expect(versions).toMatchObject([{ name: 'First version', head: null }])
    }
    // settings that are not understood are told, the rest comes
    writeFileSync(path, whole.replace('"ev":0.5', '"ev":500'))
    const { job, versions } = await come(folder)
    expect(job.problems).toEqual([expect.stringMatching(/“First version” in its sidecar cannot be read/)])
    expect(versions).toMatchObject([{ name: 'First version', head: null }])
  })

  it('keeps versions that the library does not know', async () => {
    const { folder, frame, path, text } = await withSidecar()
    const [version] = await versionsOf(frame.id)
    const id = crypto.randomUUID()
    const other = text().replace(
      '"versions":[',
      `"versions":[{"id":"${id}","name":"Of next year","steps":[1]},`,
    )
    writeFileSync(path, other)
    await change(server, frame.id, 'Exposure', setting('exposure', { ev: 0.9 }))
    expect((await write([frame.id])).problems).toEqual([])
    expect(text()).toContain('"name":"Of next year","steps":[1]')
    expect(text()).toContain(version.id)
    const { job, versions } = await come(folder)
    expect(job.problems).toEqual([expect.stringMatching(/“Of next year” in its sidecar cannot be read/)])
    expect(versions.map((v) => v.development.steps.exposure.ev)).toEqual([0.9])
  })

  it('sent for a frame adds its versions, or takes the place of one that nothing was done to', async () => {
    const { frame, text } = await withSidecar()
    const send = async (id: string) =>
      (await server.ask<{ problems: string[] }>(`/api/frames/${id}/sidecar`, { method: 'PUT', body: text() }))
        .body
    // its own again: nothing is there twice
    expect(await send(frame.id)).toEqual({ problems: [] })
    expect(await versionsOf(frame.id)).toHaveLength(1)
    const sent = text().replaceAll('"fileName":"a.dng"', '"fileName":"z.dng"')
    const shoot = await server.newShoot()
    for (const done of [false, true]) {
      const fresh = await server.frame(shoot.id, 'z.dng')
      if (done) await change(server, fresh, 'Exposure', setting('exposure', { ev: 2 }))
      await server.ask(`/api/frames/${fresh}/sidecar`, { method: 'PUT', body: sent })
      const evs = (await versionsOf(fresh)).map((v: Version) => v.development.steps.exposure.ev)
      expect(evs).toEqual(done ? [2, 0.5] : [0.5])
    }
  })

  it('with entries that hang on nothing, or on each other, still gives its settings', async () => {
    const { folder, path, text } = await withSidecar()
    const [, entry] = /"entries":\[\{"id":"([^"]+)"/.exec(text())!
    writeFileSync(path, text().replace('"parent":null', `"parent":"${entry}"`))
    const { versions } = await come(folder)
    expect(versions[0].development.steps.exposure.ev).toBe(0.5)
    expect(versions[0].entries.map((e) => e.label)).toEqual(['From the sidecar'])
  })

  it('is written with every change where that is wanted, and what cannot be is told', async () => {
    await server.kill()
    await start({ env: { DUNKELKAMMER_QUIET_MS: '150' } })
    const { frame, text, folder } = await withSidecar()
    const state = async () => (await server.ask<LibraryPage>('/api/library')).body.sidecars
    expect(await state()).toEqual({ always: false, waiting: 0, problems: [] })
    await server.send('PUT', '/api/library/sidecars', { always: true })
    await change(server, frame.id, 'Exposure', setting('exposure', { ev: 0.25 }))
    await until(async () => Promise.resolve(text().includes('"ev":0.25')))
    await server.send('PATCH', '/api/frames', { changes: [{ ids: [frame.id], rating: 3 }] })
    await until(async () => Promise.resolve(text().includes('rating>3<')))
    await until(async () => (await state()).waiting === 0)
    // after a start it goes on where it was
    const copy = await server.frame(frame.shootId, 'copy.dng')
    await server.kill()
    await start({ env: { DUNKELKAMMER_QUIET_MS: '150' } })
    await until(async () => (await state()).waiting === 0)
    const beside = filesIn(join(library.path, 'originals')).filter((f) => f.endsWith('.dng.xmp'))
    expect(beside).toHaveLength(1)
    writeFileSync(join(folder, 'a.xmp'), 'not XMP')
    await change(server, frame.id, 'Exposure', setting('exposure', { ev: 0.3 }))
    await until(async () => (await state()).problems.length > 0)
    expect(await state()).toMatchObject({ waiting: 0, problems: ['a.dng: This sidecar is not XMP.'] })
    // with the frame goes the sidecar that lay in the library, those beside the user's own files stay
    await server.drop([copy, frame.id])
    await server.ask(`/api/shoots/${frame.shootId}/bin`, { method: 'DELETE' })
    expect(filesIn(join(library.path, 'originals'))).toEqual([])
    expect(existsSync(join(folder, 'a.xmp'))).toBe(true)
  })
})
