import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFile, startServer, temporary, type TestServer } from '../../test/server'

let server: TestServer
const library = temporary()
beforeAll(async () => {
  server = await startServer(library.path)
})
afterAll(async () => {
  await server.kill()
  library.remove()
})
type Listed = { lenses: { id: string; model: string; origin: string }[]; count: number; all: number }
const body = async <T>(answer: Promise<{ body: unknown }>) => (await answer).body as T

describe('lenses over HTTP', () => {
  it('are listed, searched, shown whole, and found for a frame', async () => {
    const all = await body<Listed>(server.ask('/api/lenses'))
    expect(all.count).toBe(all.all)
    const some = await body<Listed>(server.ask('/api/lenses?search=veldrom%2020'))
    expect(some.count).toBeGreaterThan(0)
    expect(some.count).toBeLessThan(all.all)
    const { profile } = await body<{ profile: { distortion: unknown[] } }>(
      server.ask(`/api/lenses/${some.lenses[0].id}`),
    )
    expect(profile.distortion.length).toBeGreaterThan(0)
    const wish = { lens: 'Veldrom 20 mm f/4', focal: 20, crop: 1 }
    const { found } = await body<{ found?: { profile: { model: string } } }>(
      server.send('POST', '/api/lenses/find', wish),
    )
    expect(found?.profile.model).toBe('Veldrom 20 mm f/4')
    expect(await body(server.send('POST', '/api/lenses/find', { lens: 'Unheard of' }))).toEqual({})
  })

  it('are refused with a sentence where something is wrong', async () => {
    const missing = await server.ask('/api/lenses/nothing')
    expect([missing.status, missing.body]).toEqual([
      404,
      { code: 'not-found', message: 'There is no such lens.' },
    ])
    const damaged = await server.ask('/api/lenses/import?name=a.xml', {
      method: 'POST',
      headers: { 'Content-Type': 'text/xml' },
      body: '<lensdatabase>\n<lens>\n</camera>',
    })
    expect(damaged.status).toBe(422)
    expect((damaged.body as { message: string }).message).toMatch(/^a\.xml: Line 3: /)
    const wrong = await server.send('POST', '/api/lenses', { model: '', crop: -1 })
    expect(wrong.status).toBe(400)
    expect((await server.send('POST', '/api/lenses/find', { anything: 1 })).status).toBe(400)
  })

  it('can be what new frames begin with; those that are there stay', async () => {
    const begin = async (name: string) => {
      const { id } = await body<{ id: string }>(server.send('POST', '/api/shoots', { name }))
      const added = await server.ask(`/api/shoots/${id}/frames?name=HM0417.dng`, {
        method: 'POST',
        body: readFileSync(demoFile),
      })
      const { frame } = added.body as { frame: { id: string } }
      const { versions } = await body<{
        versions: { development: { steps: { lens: { choice: string } } } }[]
      }>(server.ask(`/api/frames/${frame.id}`))
      return versions[0].development.steps.lens.choice
    }
    expect(await begin('As it is')).toBe('off')
    const saved = await body<{ lens: string; rules: unknown[] }>(
      server.send('PUT', '/api/new-frames', { rules: [], lens: 'automatic' }),
    )
    expect(saved).toEqual({ rules: [], lens: 'automatic' })
    expect(await begin('Corrected')).toBe('automatic')
  })
})
