import type { PresetEntry, Presets, ReadPresets } from '@dunkelkammer/contract'
import { PRESET_KIND, SHIPPED_PRESETS } from '@dunkelkammer/core'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { filesIn, startServer, temporary, type TestServer } from '../../test/server'

let library: ReturnType<typeof temporary>
let server: TestServer
const begin = async () => {
  library = temporary()
  server = await startServer(library.path)
}
const end = async () => {
  await server.kill()
  library.remove()
}

const list = async () => (await server.ask<Presets>('/api/presets')).body
const named = async (name: string) => (await list()).presets.find((p) => p.name === name)
const mine = (name = 'Mine', more: object = {}) => ({
  ...{ name, group: 'Own', portion: { steps: { relief: { fine: 0.3 } } } },
  ...more,
})
const add = async (preset: object = mine()) =>
  (await server.send<PresetEntry>('POST', '/api/presets', preset)).body
const file = (name: string, more: object = {}) => ({
  ...{ kind: PRESET_KIND, format: 1, name, group: 'Own', steps: { relief: { fine: 0.3 } } },
  ...more,
})
const read = (bytes: Uint8Array | string, name = 'x.json') =>
  server.ask<ReadPresets & { message: string }>(`/api/presets/read?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    body: bytes as never,
  })
const take = (presets: unknown[]) =>
  server.send<{ count: number; message: string }>('POST', '/api/presets/import', { presets })

describe('the shelf of presets', () => {
  beforeEach(begin)
  afterEach(end)

  it('holds those that ship, and the user’s own after them', async () => {
    const { id } = await add()
    const { presets, restorable } = await list()
    expect(presets.slice(0, -1).map((p) => p.id)).toEqual(SHIPPED_PRESETS.map((p) => p.id))
    expect(presets.at(-1)).toMatchObject({ id, name: 'Mine', ships: false, changed: false })
    expect(restorable).toBe(0)
  })

  it('keeps an order, hidden groups, and what was renamed, across a restart', async () => {
    const { id } = await add()
    const second = SHIPPED_PRESETS[1].id
    await server.send('PUT', '/api/presets/order', { ids: [id, second, 'unknown'] })
    await server.send('PUT', '/api/presets/hidden', { groups: ['Detail'] })
    await server.send('PATCH', `/api/presets/${id}`, { name: 'Ours', notes: 'For the calendar.' })
    await server.kill()
    server = await startServer(library.path)
    const { presets, hidden } = await list()
    expect(presets.slice(0, 3).map((p) => p.id)).toEqual([id, second, SHIPPED_PRESETS[0].id])
    expect(presets[0]).toMatchObject({ name: 'Ours', notes: 'For the calendar.', group: 'Own' })
    expect(hidden).toEqual(['Detail'])
  })

  it('restores those that ship, and keeps what was made of them beside', async () => {
    const [changed, removed, renamed] = SHIPPED_PRESETS
    await server.send('PATCH', `/api/presets/${changed.id}`, {
      portion: { steps: { grain: { strength: 0.5 } } },
    })
    await server.ask(`/api/presets/${removed.id}`, { method: 'DELETE' })
    await server.send('PATCH', `/api/presets/${renamed.id}`, { name: 'Renamed' })
    const before = await list()
    expect(before.restorable).toBe(3)
    expect(before.presets.find((p) => p.id === removed.id)).toBeUndefined()
    expect(before.presets.find((p) => p.id === changed.id)).toMatchObject({ ships: true, changed: true })
    const { body: after } = await server.send<Presets>('POST', '/api/presets/restore', {})
    expect(after.restorable).toBe(0)
    for (const { id, ...preset } of [changed, removed, renamed])
      expect(after.presets.find((p) => p.id === id)).toMatchObject({ ...preset, changed: false })
    expect(await named(`${changed.name}, changed`)).toMatchObject({
      ships: false,
      portion: { steps: { grain: { strength: 0.5 } } },
    })
    expect(await named('Renamed, changed')).toMatchObject({ portion: renamed.portion })
  })

  it('takes a removed one back', async () => {
    const { id } = await add()
    await server.ask(`/api/presets/${id}`, { method: 'DELETE' })
    expect(await named('Mine')).toBeUndefined()
    await server.send('POST', `/api/presets/${id}/take-back`, {})
    expect(await named('Mine')).toMatchObject({ id })
    const [shipped] = SHIPPED_PRESETS
    await server.ask(`/api/presets/${shipped.id}`, { method: 'DELETE' })
    await server.send('POST', `/api/presets/${shipped.id}/take-back`, {})
    expect((await list()).restorable).toBe(0)
    expect((await server.ask(`/api/presets/${crypto.randomUUID()}`, { method: 'DELETE' })).status).toBe(404)
  })
})

describe('files of presets', () => {
  beforeAll(begin)
  afterAll(end)

  it('go out and come in, one by one and as an archive', async () => {
    const { id } = await add(mine('A/B: the *best*?'))
    const one = await server.raw(`/api/presets/${id}/file`)
    expect(one.headers['content-disposition']).toContain('A B the best.json')
    expect(JSON.parse(one.text)).toMatchObject({ kind: PRESET_KIND, format: 1, name: 'A/B: the *best*?' })
    const ids = [id, (await add(mine('a b the best'))).id, SHIPPED_PRESETS[0].id]
    const archive = new Uint8Array(
      await (await fetch(`${server.url}/api/presets/download?ids=${ids.join(',')}`)).arrayBuffer(),
    )
    expect(Object.keys(unzipSync(archive))).toHaveLength(3)
    const { body } = await read(archive, 'presets.zip')
    expect(body.found.map((f) => [f.file.name, f.same])).toEqual([
      ['A/B: the *best*?', ids[0]],
      ['a b the best', ids[1]],
      [SHIPPED_PRESETS[0].name, ids[2]],
    ])
  })

  it('are taken in beside one of the same name, or in its place', async () => {
    const { id } = await add()
    const { body } = await read(JSON.stringify(file('Mine', { steps: { grain: { strength: 0.4 } } })))
    expect(body.found[0]).toMatchObject({ same: id, leftOut: [] })
    await take([{ file: body.found[0].file }])
    expect(await named('Mine')).toMatchObject({ portion: { steps: { relief: { fine: 0.3 } } } })
    expect(await named('Mine 2')).toMatchObject({ portion: { steps: { grain: { strength: 0.4 } } } })
    await take([{ file: body.found[0].file, how: 'replace' }])
    expect(await named('Mine')).toMatchObject({ id, portion: { steps: { grain: { strength: 0.4 } } } })
  })

  it('say what of them is not known before anything is taken in', async () => {
    const before = await list()
    const newer = file('Newer', { format: 2, steps: { relief: { fine: 0.2 }, shimmer: {} } })
    const { body } = await read(JSON.stringify(newer))
    expect(body.found[0].leftOut.join()).toMatch(/newer.*shimmer/)
    expect(await list()).toEqual(before)
    await take([{ file: body.found[0].file }])
    expect((await named('Newer'))!.portion.steps).toEqual({ relief: { fine: 0.2 } })
  })

  const bomb = () => {
    const files: Record<string, Uint8Array> = {}
    const zeros = new Uint8Array(3 << 20)
    for (let i = 0; i < 20; i++) files[`${i}.json`] = zeros
    return zipSync(files)
  }
  it.each([
    ['ten megabytes of names', () => JSON.stringify(file('n'.repeat(10 << 20))), /at most 4 MB/],
    ['a path in a name', () => zipSync({ '../../library.db': strToU8('{}') }), /outside/],
    ['an absolute path', () => zipSync({ '/etc/x.json': strToU8('{}') }), /outside/],
    ['a bomb', bomb, /too large/],
    [
      'too many files',
      () => zipSync(Object.fromEntries(Array.from({ length: 1001 }, (_, i) => [`${i}.json`, strToU8('{}')]))),
      /at most 1000/,
    ],
    [
      'a damaged archive',
      () => zipSync({ 'a.json': strToU8(JSON.stringify(file('A'))) }).slice(0, 60),
      /damaged/,
    ],
    ['nothing of use', () => zipSync({ 'a.txt': strToU8('x') }), /no preset/],
    ['deep nesting', () => `${'['.repeat(100_000)}${']'.repeat(100_000)}`, /not a preset/],
    [
      'unknown steps alone',
      () => JSON.stringify(file('A', { steps: { shimmer: {} } })),
      /nothing that is known/,
    ],
    [
      'a number out of range',
      () => JSON.stringify(file('A', { steps: { relief: { fine: 9 } } })),
      /out of range/,
    ],
    ['another kind of file', () => Uint8Array.of(0xff, 0xd8, 1, 2), /not JSON/],
    ['nothing at all', () => '', /not JSON/],
  ])('with %s are refused with a sentence, and nothing is written', async (_, make, sentence) => {
    const [before, files] = [await list(), filesIn(library.path).filter((f) => !f.includes('library.db'))]
    const { status, body } = await read(make())
    expect(status).toBe(422)
    expect(body.message).toMatch(sentence)
    expect(body.message.length).toBeLessThan(300)
    expect(await list()).toEqual(before)
    expect(filesIn(library.path).filter((f) => !f.includes('library.db'))).toEqual(files)
    expect(server.said.text).toBe('')
  })

  it('are taken in all or none', async () => {
    const before = await list()
    const { status, body } = await take([
      { file: file('Good') },
      { file: file('Bad', { steps: { relief: { fine: 9 } } }) },
    ])
    expect(status).toBe(422)
    expect(body.message).toMatch(/out of range/)
    expect(await list()).toEqual(before)
  })
})
