import type { FramePage, LookEntry, NewFrames } from '@dunkelkammer/contract'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { root, startServer, temporary, type TestServer } from '../test/server'

const library = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path)
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

const TABLE = `TITLE "Of its own"\nLUT_3D_SIZE 2\n${'0.5 0.5 0.5\n'.repeat(8)}`
const add = (name: string, text: string) =>
  server.ask(`/api/looks/table?name=${encodeURIComponent(name)}`, { method: 'POST', body: text })
const list = async () => (await server.ask('/api/looks')).body as LookEntry[]

describe('looks of a library', () => {
  it('are tables and recipes; the same table is kept once, and comes back after it was removed', async () => {
    const first = (await add('Flat grey', TABLE)).body as LookEntry
    expect(first).toMatchObject({ name: 'Flat grey', kind: 'table' })
    expect(((await add('', TABLE)).body as LookEntry).id).toBe(first.id)
    expect((await list()).map((l) => l.name)).toEqual(['Of its own'])
    expect((await server.ask(`/api/looks/${first.id}`, { method: 'DELETE' })).status).toBe(200)
    expect(await list()).toEqual([])
    // pictures that use it go on
    const text = await fetch(`${server.url}/api/looks/${first.id}/table`)
    expect(await text.text()).toBe(TABLE)
    await add('Again', TABLE)
    const recipe = { monochrome: { on: true, filter: 'red', density: 1 } }
    expect((await server.send('POST', '/api/looks/recipe', { name: 'Red glass', recipe })).status).toBe(201)
    expect((await list()).map((l) => l.kind).sort()).toEqual(['recipe', 'table'])
  })

  it.each([
    ['nothing', '', /size/],
    ['another kind of file', '\u0000\u0001PNG', /size/],
    ['a damaged table', 'LUT_3D_SIZE 2\n0 0 0', /1 lines/],
  ])('refuse %s in words', async (_, text, words) => {
    const { status, body } = await add('bad', text)
    expect(status).toBe(422)
    expect((body as { message: string }).message).toMatch(words)
  })

  it('refuse names and places that are none', async () => {
    expect((await server.ask('/api/looks/..%2f..%2flibrary.db/table')).status).toBe(404)
    expect((await server.ask(`/api/looks/${'0'.repeat(64)}/table`)).status).toBe(404)
    expect((await server.ask('/api/looks/none', { method: 'DELETE' })).status).toBe(404)
    expect((await server.send('POST', '/api/looks/recipe', { name: '', recipe: {} })).status).toBe(400)
    expect(
      (await server.send('POST', '/api/looks/recipe', { name: 'x', recipe: { exposure: {} } })).status,
    ).toBe(400)
  })
})

describe('new frames', () => {
  const bringIn = async (frame: string) => {
    const shoot = (await server.send('POST', '/api/shoots', { name: 'New' })).body as { id: string }
    const added = await server.ask(`/api/shoots/${shoot.id}/frames?name=${frame}.dng`, {
      method: 'POST',
      body: readFileSync(join(root, `packages/demo/frames/${frame}.dng`)),
    })
    const { frame: made } = added.body as { frame: { id: string; edited: boolean } }
    const { versions } = (await server.ask(`/api/frames/${made.id}`)).body as FramePage
    const { begunAs, development } = versions[0]
    return { edited: made.edited, begunAs, development }
  }
  const look = (id: string) => ({ kind: 'own' as const, id, name: id })

  it('begin with the look of the first line that their camera and ISO meet, and do not count as worked on', async () => {
    const rules = [
      { isoFrom: 3200, look: look('thunder') },
      { camera: 'pocket', look: look('ledger') },
      { isoTo: 100, look: look('ink') },
    ]
    expect((await server.send('PUT', '/api/new-frames', { rules })).status).toBe(200)
    expect(((await server.ask('/api/new-frames')).body as NewFrames).rules).toHaveLength(3)
    const day = await bringIn('HM0417')
    expect(day).toMatchObject({
      begunAs: 'As taken, with ink',
      development: { steps: { look: { kind: 'own', id: 'ink' } } },
    })
    expect(day.edited).toBe(false)
    const night = await bringIn('HM0553')
    expect(night.development.steps.look.id).toBe('thunder')
    await server.send('PUT', '/api/new-frames', { rules: [] })
    expect((await bringIn('HM0403')).begunAs).toBe('As taken')
  })

  it('take no lines that make no sense', async () => {
    for (const rules of [[{ isoFrom: -4, look: look('ink') }], [{ look: { kind: 'spell' } }], 'all'])
      expect((await server.send('PUT', '/api/new-frames', { rules })).status).toBe(400)
  })
})
