import type { ExpectedFiles, Frame, FramePage, Job, MadeFile, SavedDelivery } from '@dunkelkammer/contract'
import { madeByIn, partOf, type DeliveryInput } from '@dunkelkammer/core'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { execFileSync } from 'node:child_process'
import { paperProfile } from '@dunkelkammer/demo'
import Database from 'libsql'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, fileOf, filesIn, startServer, temporary, until, type TestServer } from '../../test/server'

let library: ReturnType<typeof temporary>
let server: TestServer
let shootId: string
let outside: string
let elsewhere: ReturnType<typeof temporary>
const frames: string[] = []
beforeAll(async () => {
  library = temporary()
  elsewhere = temporary()
  outside = elsewhere.path
  server = await startServer(library.path, { roots: [outside] })
  shootId = (await server.newShoot({ name: 'Mills' })).id
  for (const name of ['a', 'b', 'c']) frames.push(await server.frame(shootId, `${name}.dng`, another()))
})
afterAll(async () => {
  await server.kill()
  library.remove()
  elsewhere.remove()
})

const SMALL = { size: { by: 'long edge', pixels: 80 } } as const
const ask = (part: object) =>
  server.send<Job>('POST', '/api/files', { frames: frames.map((id) => ({ id })), ...part })
const ended = async (part: object) => server.ended((await ask(part)).body.id)
const filesOf = async (job: Job) => (await server.ask<MadeFile[]>(`/api/jobs/${job.id}/files`)).body
const placeOf = (name: string) => join(library.path, 'deliveries', name)
const frame = async (id: string): Promise<Frame> =>
  (await server.ask<FramePage>(`/api/frames/${id}`)).body.frame

describe('several deliveries of several frames', () => {
  it('are one job, each file by itself, expected before they are made', async () => {
    const deliveries = [
      { name: 'Web', ...SMALL, place: { in: 'library', subfolder: 'web' } },
      { name: 'Print', ...SMALL, format: { kind: 'tiff' }, fileName: '{shoot} {number}' },
    ] as const
    const wish = { frames: frames.map((id) => ({ id })), deliveries }
    const { files, free } = (await server.send<ExpectedFiles>('POST', '/api/files/expected', wish)).body
    expect(free).toBeGreaterThan(1e6)
    const job = await ended({ deliveries })
    expect(job).toMatchObject({ state: 'done', message: '6 files made.', problems: [] })
    const made = await filesOf(job)
    expect(made.map((f) => f.path)).toEqual(files.map((f) => f.path))
    expect(made.map((f) => f.path!.slice(placeOf('').length).replace(/^\//, ''))).toEqual([
      ...['web/a.jpg', 'Mills 01.tif', 'web/b.jpg', 'Mills 02.tif', 'web/c.jpg', 'Mills 03.tif'],
    ])
    for (const { path, bytes, width } of made) {
      expect(readFileSync(path!).length).toBe(bytes)
      expect([width, (await sharp(path).metadata()).width]).toEqual([80, 80])
    }
    // the same again is said to be there
    const again = (await server.send<ExpectedFiles>('POST', '/api/files/expected', wish)).body.files
    expect(again.map((f) => f.taken)).toEqual(new Array(6).fill(true))
    expect(again[0].path).toBe(placeOf('web/a (2).jpg'))
    expect(await frame(frames[0])).toMatchObject({ delivered: true, deliveredBy: ['Web', 'Print'] })
  })

  it('asked for twice under one name are made once', async () => {
    const id = crypto.randomUUID()
    const order = { id, deliveries: [{ ...SMALL, fileName: 'once' }] }
    const [first, second] = [await ask(order), await ask(order)]
    expect(second.body.id).toBe(first.body.id)
    await server.ended(id)
    expect(filesIn(placeOf('')).filter((n) => n.startsWith('once'))).toEqual([
      ...['once (2).jpg', 'once (3).jpg', 'once.jpg'],
    ])
  })

  it('replace what others made, never what they made themselves', async () => {
    writeFileSync(placeOf('same.jpg'), 'older')
    await ended({ deliveries: [{ ...SMALL, fileName: 'same', taken: 'replace' }] })
    const names = ['same (2).jpg', 'same (3).jpg', 'same.jpg']
    expect(filesIn(placeOf('')).filter((n) => n.startsWith('same'))).toEqual(names)
    for (const name of names) expect((await sharp(placeOf(name)).metadata()).width).toBe(80)
  })

  it('are of the settings as they stood when they were asked for, and say so afterwards', async () => {
    const [id] = frames
    const order = (fileName: string) =>
      fileOf(id, { name: 'Kept', size: { by: 'long edge', pixels: 600 }, fileName, keepSettings: true })
    await server.expose(await server.version(id), 1)
    // others are before it in the queue
    const before = await ask({ deliveries: [{ format: { kind: 'tiff' }, fileName: 'before' }] })
    const { body: job } = await server.send<Job>('POST', '/api/files', order('bright'))
    await server.expose(await server.version(id), -2)
    await server.ended(before.body.id)
    expect((await server.ended(job.id)).state).toBe('done')
    const found = madeByIn(readFileSync(placeOf('bright.jpg')))!
    expect(partOf(found.development, 'exposure')).toMatchObject({ settings: { ev: 1 } })
    expect(found).toMatchObject({ delivery: 'Kept', version: 'First version' })
    expect((await frame(id)).deliveredBy).toContain('Kept')
    await server.ended((await server.send<Job>('POST', '/api/files', order('dark'))).body.id)
    const light = async (name: string) => (await sharp(placeOf(`${name}.jpg`)).stats()).channels[1].mean
    expect(await light('dark')).toBeLessThan((await light('bright')) / 2)
    // and nothing of it where it is not wanted
    await server.deliver(id, { ...SMALL, fileName: 'silent' })
    expect(madeByIn(readFileSync(placeOf('silent.jpg')))).toBeUndefined()
  })

  it('may be given presets, which the versions are not', async () => {
    const [, id] = frames
    const { body: presets } = await server.ask<{ presets: { id: string; name: string }[] }>('/api/presets')
    const preset = presets.presets.find((p) => /blues/i.test(p.name)) ?? presets.presets[0]
    const made = async (fileName: string, part: object) => {
      const order = { ...fileOf(id, { ...SMALL, format: { kind: 'png' }, fileName }), ...part }
      await server.ended((await server.send<Job>('POST', '/api/files', order)).body.id)
      return readFileSync(placeOf(`${fileName}.png`))
    }
    const before = await server.version(id)
    const plain = await made('plain', {})
    const preset1 = await made('preset', { presets: [{ id: preset.id }] })
    expect(preset1.equals(plain)).toBe(false)
    expect((await made('none', { presets: [{ id: preset.id, strength: 0 }] })).equals(plain)).toBe(true)
    expect((await server.version(id)).head).toBe(before.head)
  })
})

describe('places and outcomes', () => {
  const one = (delivery: Partial<DeliveryInput>) => server.deliver(frames[2], { ...SMALL, ...delivery })

  it('are folders under the roots, and a folder that is gone is said', async () => {
    const path = join(outside, 'prints')
    mkdirSync(path)
    const place = { in: 'folder', path, subfolder: 'deep/er' } as const
    expect((await one({ place, fileName: 'there' })).state).toBe('done')
    expect(existsSync(join(path, 'deep/er/there.jpg'))).toBe(true)
    rmSync(path, { recursive: true })
    const gone = await server.send<Job>('POST', '/api/files', fileOf(frames[2], { ...SMALL, place }))
    expect(gone.status).toBe(404)
    const beside = await one({ place: { in: 'beside', subfolder: '' } })
    expect(beside.state).toBe('failed')
    expect(beside.message).toMatch(/^The original is kept in the library/)
    expect(beside.retries).toBe(true)
  })

  it('beside originals that were left where they are, with copies and sidecars too', async () => {
    const card = join(outside, 'card')
    mkdirSync(card)
    const bytes = another()
    writeFileSync(join(card, 'left.dng'), bytes)
    const shoot = await server.newShoot({ name: 'Card' })
    await server.importFolder(shoot.id, card, { keep: 'in place' })
    const [{ id }] = (await server.page(shoot.id)).frames
    await server.send('PATCH', '/api/frames', { changes: [{ ids: [id], text: { title: 'Lock' } }] })
    await server.deliver(id, { ...SMALL, place: { in: 'beside', subfolder: 'out' } })
    await server.deliver(id, { format: { kind: 'original' }, place: { in: 'beside', subfolder: 'out' } })
    expect(filesIn(card)).toEqual(['left.dng', 'out/left.dng', 'out/left.dng.xmp', 'out/left.jpg'])
    expect(readFileSync(join(card, 'out/left.dng')).equals(bytes)).toBe(true)
    expect(readFileSync(join(card, 'out/left.dng.xmp'), 'utf8')).toContain('Lock')
  })

  it('go on with the rest where one fails, which is tried again when that is asked for', async () => {
    const shoot = await server.newShoot({ name: 'Gone' })
    const bytes = another()
    const lost = await server.frame(shoot.id, 'lost.dng', bytes)
    const originals = filesIn(join(library.path, 'originals'))
    const file = originals
      .map((name) => join(library.path, 'originals', name))
      .find((path) => readFileSync(path).equals(bytes))!
    rmSync(file)
    const order = {
      frames: [{ id: lost }, { id: frames[1] }],
      deliveries: [{ name: 'Rest', ...SMALL, fileName: 'rest {name}' }],
    }
    const { body } = await server.send<Job>('POST', '/api/files', order)
    const job = await server.ended(body.id)
    expect(job).toMatchObject({ state: 'done', message: '1 file made, 1 failed.', retries: true })
    expect(job.problems).toEqual([expect.stringMatching(/^Rest: The original is missing/)])
    writeFileSync(file, bytes)
    await server.send('POST', `/api/jobs/${job.id}/continue`, {})
    const again = await server.ended(job.id)
    expect(again).toMatchObject({ state: 'done', message: '2 files made.', problems: [] })
    expect(again.retries).toBeUndefined()
    expect(filesIn(placeOf('')).filter((n) => n.startsWith('rest'))).toEqual(['rest b.jpg', 'rest lost.jpg'])
  })

  it('can be paused and gone on with', async () => {
    const deliveries = [{ name: 'Long', format: { kind: 'tiff' }, fileName: 'long' }]
    const { body: job } = await ask({ deliveries })
    await until(async () => (await server.ask<Job>(`/api/jobs/${job.id}`)).body.state === 'running')
    expect((await server.send<Job>('POST', `/api/jobs/${job.id}/pause`, {})).status).toBe(200)
    const paused = await server.ended(job.id)
    expect(paused).toMatchObject({ state: 'paused', retries: true })
    const there = filesIn(placeOf('')).filter((n) => n.includes('long'))
    expect(there.length).toBeLessThan(3)
    expect(there.every((n) => /^long( \(\d\))?\.tif$/.test(n))).toBe(true)
    await server.send('POST', `/api/jobs/${job.id}/continue`, {})
    expect((await server.ended(job.id)).message).toBe('3 files made.')
    expect(filesIn(placeOf('')).filter((n) => n.includes('long'))).toHaveLength(3)
  })

  it('are saved descriptions, which a library begins with and the user changes', async () => {
    const list = async () => (await server.ask<SavedDelivery[]>('/api/deliveries')).body
    const begun = await list()
    expect(begun.length).toBeGreaterThan(2)
    const { body: added } = await server.send<SavedDelivery>('POST', '/api/deliveries', {
      name: 'Mine',
      ...SMALL,
    })
    expect((await list()).at(-1)).toEqual(added)
    const changed = { ...added.delivery, name: 'Ours' }
    await server.send('PUT', `/api/deliveries/${added.id}`, changed)
    for (const { id } of begun) await server.send('DELETE', `/api/deliveries/${id}`, {})
    expect((await list()).map((d) => d.delivery.name)).toEqual(['Ours'])
    await server.stop()
    // a job from before there were parts, and one that its server left
    writeFileSync(placeOf('old.jpg'), 'old')
    const db = new Database(join(library.path, 'library.db'))
    const insert = db.prepare(
      `insert into jobs (id, kind, state, title, progress, message, problems, request, file_name, created)
       values (?, 'deliver', ?, 'old', 1, '', '[]', '{"versionId": "x"}', 'old.jpg', '2026-01-01')`,
    )
    const [done, open] = [crypto.randomUUID(), crypto.randomUUID()]
    insert.run(done, 'done')
    insert.run(open, 'running')
    db.close()
    server = await startServer(library.path, { roots: [outside] })
    expect(await (await fetch(`${server.url}/api/jobs/${done}/files/0`)).text()).toBe('old')
    expect((await server.ask<Job>(`/api/jobs/${open}`)).body).toMatchObject({
      state: 'interrupted',
      message: 'The server stopped before this was complete. Start it again.',
    })
    expect((await list()).map((d) => d.delivery.name)).toEqual(['Ours'])
    expect((await server.send('PUT', `/api/deliveries/${begun[0].id}`, changed)).status).toBe(404)
  })
})

describe('a server that is killed while it makes files', () => {
  it('makes each once, whole, and leaves no piece', async () => {
    const deliveries = [
      { name: 'One', size: { by: 'long edge', pixels: 700 }, place: { in: 'library', subfolder: 'killed' } },
      { name: 'Two', format: { kind: 'tiff' }, place: { in: 'library', subfolder: 'killed' } },
    ]
    const { body: job } = await ask({ deliveries })
    for (let kills = 0; kills < 5; kills++) {
      const share = (kills + 1) * 0.13
      await until(async () => (await server.ask<Job>(`/api/jobs/${job.id}`)).body.progress > share)
      await server.kill()
      for (const name of filesIn(placeOf('killed')).filter((n) => !n.startsWith('.')))
        await sharp(placeOf(join('killed', name))).stats()
      server = await startServer(library.path, { roots: [outside] })
    }
    expect(await server.ended(job.id)).toMatchObject({ state: 'done', message: '6 files made.' })
    expect(filesIn(placeOf('killed'))).toEqual(['a.jpg', 'a.tif', 'b.jpg', 'b.tif', 'c.jpg', 'c.tif'])
    expect(filesIn(join(library.path, 'incoming'))).toEqual([])
  })
})

describe('pages', () => {
  const pdf = {
    name: 'Contact',
    format: { kind: 'pdf', columns: 2, rows: 2, ppi: 30 },
    fileName: '{shoot}',
  } as const
  const reader = (program: string, path: string) =>
    execFileSync(program, ['-list', path].slice(program === 'pdfinfo' ? 1 : 0), { encoding: 'utf8' })

  it('hold all frames of a run in one file, beside the files of each', async () => {
    const deliveries = [
      pdf,
      { name: 'Small', ...SMALL, place: { in: 'library', subfolder: 'apart' } },
    ] as const
    const wish = { frames: frames.map((id) => ({ id })), deliveries }
    const { files } = (await server.send<ExpectedFiles>('POST', '/api/files/expected', wish)).body
    expect(files.map(({ frameName }) => frameName)).toEqual(['3 frames', 'a.dng', 'b.dng', 'c.dng'])
    const job = await ended({ deliveries })
    expect(job).toMatchObject({ state: 'done', message: '4 files made.', problems: [] })
    const path = placeOf('Mills.pdf')
    expect(reader('pdfinfo', path)).toMatch(/Pages: +1\b/)
    expect(reader('pdfimages', path).match(/\bicc\b/g)).toHaveLength(3)
    expect((await filesOf(job)).map((f) => f.path)).toContain(path)
    expect(filesIn(join(library.path, 'deliveries')).filter((f) => /partial|jpg\.plain/.test(f))).toEqual([])
    for (const id of frames)
      expect((await frame(id)).deliveredBy).toEqual(expect.arrayContaining(['Contact', 'Small']))
  })

  it('are not made where one of them cannot be, and say which', async () => {
    const bytes = another()
    const gone = await server.frame(shootId, 'gone.dng', bytes)
    const file = filesIn(join(library.path, 'originals'))
      .map((name) => join(library.path, 'originals', name))
      .find((path) => readFileSync(path).equals(bytes))!
    rmSync(file)
    const wish = {
      frames: [frames[0], gone].map((id) => ({ id })),
      deliveries: [{ ...pdf, fileName: 'not made' }],
    }
    const job = await server.ended((await server.send<Job>('POST', '/api/files', wish)).body.id)
    expect(job.state).toBe('failed')
    expect(job.problems.join(' ')).toMatch(/gone\.dng/)
    expect(existsSync(placeOf('not made.pdf'))).toBe(false)
  })
})

describe('the frame beside its file', () => {
  it('is as it came, of the same size and border, whatever was made of it', async () => {
    const id = await server.frame(shootId, 'dark.dng', another())
    const version = (await server.ask<FramePage>(`/api/frames/${id}`)).body.versions[0]
    await server.expose(version, -4)
    const format = { kind: 'png' } as const
    const wish = { ...SMALL, format, border: { width: 10 }, fileName: 'dark' }
    const job = await ended({ frames: [{ id }], deliveries: [{ name: 'Dark', ...wish }] })
    const seen = async (of: string) => {
      const bytes = await (await fetch(`${server.url}/api/jobs/${job.id}/files/0/${of}`)).arrayBuffer()
      const { data, info } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true })
      // inside of the border
      const at = (Math.floor(info.height / 2) * info.width + Math.floor(info.width / 2)) * 3
      return { size: [info.width, info.height], corner: data[0], middle: data.subarray(at, at + 3) }
    }
    const [file, original] = [await seen('view'), await seen('original')]
    expect(original.size).toEqual(file.size)
    expect([file.corner, original.corner].every((v) => v > 250)).toBe(true)
    expect(Math.max(...original.middle)).toBeGreaterThan(2 * Math.max(...file.middle) + 10)
  })
})

describe('colour profiles', () => {
  it('are brought, used by a delivery, and kept as long as one needs them', async () => {
    const icc = Buffer.from(paperProfile())
    const answer = await fetch(`${server.url}/api/profiles`, { method: 'POST', body: icc })
    expect(answer.status).toBe(201)
    const { id, name } = (await answer.json()) as { id: string; name: string }
    expect(name).toBe('Made-up matt cotton paper')
    const delivery = {
      name: 'Cotton',
      ...SMALL,
      fileName: 'cotton',
      format: { kind: 'tiff' },
      space: { profile: id },
    } as const
    const saved = (await server.send<SavedDelivery>('POST', '/api/deliveries', delivery)).body
    const refused = await server.send<{ message: string }>('DELETE', `/api/profiles/${id}`, undefined)
    expect([refused.status, refused.body.message]).toEqual([
      409,
      'The delivery “Cotton” needs this colour profile.',
    ])
    const job = await ended({ frames: [{ id: frames[0] }], deliveries: [delivery] })
    expect(job.state).toBe('done')
    expect((await sharp(placeOf('cotton.tif')).metadata()).icc).toEqual(icc)
    await server.send('DELETE', `/api/deliveries/${saved.id}`, undefined)
    expect((await server.send('DELETE', `/api/profiles/${id}`, undefined)).status).toBe(200)
    expect((await server.ask<unknown[]>('/api/profiles')).body).toEqual([])
    // brought again
    await fetch(`${server.url}/api/profiles`, { method: 'POST', body: icc })
    expect((await server.ask<unknown[]>('/api/profiles')).body).toHaveLength(1)
  })

  it('that are not there are missed before anything begins', async () => {
    const space = { profile: 'f'.repeat(64) }
    const asked = await ask({ deliveries: [{ name: 'None', ...SMALL, space }] })
    expect(asked.status).toBe(404)
    expect(asked.body).toMatchObject({
      message: 'The colour profile of this delivery is not in the library.',
    })
  })
})
