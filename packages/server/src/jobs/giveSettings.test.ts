import type { FramePage, Job, Version } from '@dunkelkammer/contract'
import { changesBetween, readDevelopment, type Development } from '@dunkelkammer/core'
import { automatic, builtEngineFiles, createEngine } from '@dunkelkammer/engine/node'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { burstFile } from '../../../engine/test/burst'
import { another, root, startServer, temporary, until, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
let shootId: string
let frames: string[]
beforeAll(async () => {
  server = await startServer(library.path)
  shootId = (await server.newShoot()).id
})
afterAll(async () => {
  await server.kill()
  library.remove()
})
beforeEach(async () => {
  frames = []
  for (const name of ['A.dng', 'B.dng', 'C.dng']) frames.push(await server.frame(shootId, name))
})

const portion = (steps: object, more: object = {}) => ({ kind: 'portion', portion: { steps }, ...more })
const give = (what: object, more: object = {}) =>
  server.job('POST', '/api/settings', { ids: frames, label: 'Given', give: what, ...more })
const versions = () => Promise.all(frames.map((id) => server.version(id)))
const exposures = async () => (await versions()).map((v) => v.development.steps.exposure.ev)
const back = (job: Job) => server.send<Job>('POST', `/api/jobs/${job.id}/take-back`, {})
const labels = ({ entries }: Version) => entries.map((e) => e.label)

describe('a white balance given by the same difference', () => {
  it('starts in each frame from what its camera took', async () => {
    const taken = { from: 5500, a: 4300, b: 6800 }
    const [from, a, b] = await Promise.all(
      Object.entries(taken).map(([name, takenFor], i) =>
        server.frame(shootId, `${name}.dng`, burstFile({ ev: 0, takenFor, seed: 40 + i })),
      ),
    )
    const asShot = async (id: string) =>
      (await server.ask<FramePage>(`/api/frames/${id}`)).body.frame.metadata.asShot!
    const there = await asShot(from)
    expect(Math.abs(there.kelvin - 5500)).toBeLessThan(120)
    const by = (d: Development) => d.steps.cameraColour
    const start = readDevelopment({})
    const steps = { cameraColour: { source: 'kelvin', kelvin: there.kelvin + 600, tint: there.tint + 4 } }
    const changes = changesBetween(start, readDevelopment({ steps }))
    const give = { kind: 'changes', changes, how: 'difference', from }
    await server.job('POST', '/api/settings', { ids: [a, b], label: 'Warmer', give })
    const mireds = 1e6 / (there.kelvin + 600) - 1e6 / there.kelvin
    for (const id of [a, b]) {
      const own = await asShot(id)
      const set = by((await server.version(id)).development)
      expect(set.source).toBe('kelvin')
      expect(1e6 / set.kelvin - 1e6 / own.kelvin).toBeCloseTo(mireds, 3)
      expect(set.tint).toBe(own.tint + 4)
    }
    // what is no white balance by number leaves as shot as it is
    const file = changesBetween(start, readDevelopment({ steps: { cameraColour: { profile: 'file' } } }))
    await server.job('POST', '/api/settings', {
      ...{ ids: [frames[0]], label: 'By the file', give: { ...give, changes: file } },
    })
    expect(by((await server.version(frames[0])).development)).toEqual({ ...by(start), profile: 'file' })
  })
})

describe('settings given to many frames', () => {
  it('are one entry in each, and are taken back as one', async () => {
    const job = await give(portion({ exposure: { ev: 0.5 }, grain: { strength: 0.2 } }))
    expect(job).toMatchObject({ state: 'done', message: 'Given: 3 frames.', takesBack: true })
    for (const v of await versions()) {
      expect(labels(v)).toEqual(['Given'])
      expect(v.development.steps.grain.strength).toBe(0.2)
    }
    expect((await back(job)).body.message).toBe('Taken back in 3 frames.')
    for (const v of await versions()) {
      expect(v.head).toBeNull()
      expect(v.development).toEqual(v.begun)
      // it can be done again
      expect(v.tip).not.toBeNull()
    }
    expect((await back(job)).status).toBe(409)
  })

  it('are taken back under what was done since, which stays', async () => {
    const job = await give(portion({ exposure: { ev: 0.5 }, relief: { fine: 0.3 } }, { preset: { id: 'calm', name: 'Calm' } })) // prettier-ignore
    const [first, second] = await versions()
    expect(first.entries[0].preset).toMatchObject({ preset: 'calm', name: 'Calm', strength: 1, from: null })
    await server.expose(first, 2)
    await give(portion({ points: { black: -6 } }), { ids: [frames[1]] })
    expect((await back(job)).body.message).toBe('Taken back in 3 frames.')
    const [a, b, c] = await versions()
    expect(a.development.steps.exposure.ev).toBe(2)
    expect(a.development.steps.relief.fine).toBe(0)
    expect(labels(a)).toEqual(['Given, taken back', 'Exposure', 'Given'])
    expect(a.entries[0].preset).toMatchObject({
      strength: 0,
      application: first.entries[0].preset!.application,
    })
    expect(b.development.steps).toMatchObject({ exposure: { ev: 0 }, points: { black: -6 } })
    expect(c.development).toEqual(second.begun)
  })

  it('go to all as the same value or as the same difference', async () => {
    await server.expose((await versions())[1], 1)
    const changes = changesBetween(
      readDevelopment({}),
      readDevelopment({ steps: { exposure: { ev: 0.25 } } }),
    )
    const job = await give({ kind: 'changes', changes, how: 'difference' })
    expect(await exposures()).toEqual([0.25, 1.25, 0.25])
    await give({ kind: 'changes', changes, how: 'value' })
    expect(await exposures()).toEqual([0.25, 0.25, 0.25])
    await back(job)
    // what was set after it stays where it was set
    expect(await exposures()).toEqual([0, 0.25, 0])
  })

  it('are given once however often they are asked for under one name', async () => {
    const id = crypto.randomUUID()
    const once = { ids: frames, label: 'Given', give: portion({ exposure: { ev: 0.5 } }), id }
    const [a, b] = await Promise.all([
      server.send<Job>('POST', '/api/settings', once),
      server.send<Job>('POST', '/api/settings', once),
    ])
    expect([a.body.id, b.body.id]).toEqual([id, id])
    await server.ended(id)
    for (const v of await versions()) expect(labels(v)).toEqual(['Given'])
  })

  it('join what an open window does meanwhile, and lie aside where it changes the same', async () => {
    const [open, other] = await versions()
    await give(portion({ relief: { fine: 0.3 } }))
    const joined = await server.expose(open, 1)
    expect(joined.body.outcome).toBe('joined')
    await give(portion({ exposure: { ev: -1 } }))
    const aside = await server.expose(other, 2)
    expect(aside.body.outcome).toBe('aside')
    expect(await exposures()).toEqual([-1, -1, -1])
  })

  it('leave out frames that are no more, and say where there is nothing to change', async () => {
    const gone = '00000000-0000-4000-8000-000000000000'
    const job = await give(portion({ exposure: { ev: 0 } }), { ids: [...frames.slice(0, 2), gone] })
    expect(job.message).toBe('Given: 0 frames. Nothing to change in 2 frames.')
    const none = await server.send('POST', '/api/settings', {
      ...{ ids: [gone], label: 'x', give: portion({}) },
    })
    expect(none.status).toBe(404)
  })

  it.each([
    ['a number out of range', portion({ exposure: { ev: 99 } })],
    ['an unknown step', portion({ shimmer: {} })],
    ['a strength out of range', portion({}, { strength: 2 })],
    ['nothing', { kind: 'changes', changes: [], how: 'value' }],
    ['what was painted and is not there', { kind: 'portion', portion: { areas: [{ id: 'a', mask: { shapes: [{ id: 's', kind: 'stroke', x: 0, y: 0, radius: 0.1, path: `sha256-${'0'.repeat(64)}` }] } }] } }], // prettier-ignore
  ])('change nothing where they are %s', async (_, what) => {
    const { status, body } = await server.send<Job>('POST', '/api/settings', {
      ...{ ids: frames, label: 'Given', give: what },
    })
    if (status === 202) expect((await server.ended(body.id)).problems).toHaveLength(3)
    else expect(status).toBe(400)
    for (const v of await versions()) expect(v.entries).toEqual([])
  })

  it('can be taken back where the server was killed on the way', async () => {
    const other = temporary()
    const first = await startServer(other.path)
    const shoot = await first.newShoot()
    const ids: string[] = []
    for (let i = 0; i < 40; i++) ids.push(await first.frame(shoot.id, `${i}.dng`, another()))
    const asked = { ids, label: 'Given', give: { kind: 'portion', portion: { automatic: ['exposure'], steps: { grain: { strength: 0.3 } } } } } // prettier-ignore
    const { body } = await first.send<Job>('POST', '/api/settings', asked)
    await until(async () => (await first.version(ids[39])).entries.length > 0)
    await first.kill()
    const second = await startServer(other.path)
    const job = await second.ended(body.id)
    expect(job).toMatchObject({ state: 'interrupted', takesBack: true })
    expect((await second.version(ids[0])).development.steps.grain.strength).toBe(0.3)
    const taken = await second.send<Job>('POST', `/api/jobs/${body.id}/take-back`, {})
    expect(taken.body.message).toBe('Taken back in 40 frames.')
    for (const id of ids) {
      const { development, begun } = await second.version(id)
      expect(development).toEqual(begun)
    }
    await second.kill()
    other.remove()
  })
})

it('finds anew in each picture what belongs to it', async () => {
  const names = ['HM0521', 'HM0417']
  const bytes = names.map((n) => readFileSync(join(root, `packages/demo/frames/${n}.dng`)))
  frames = []
  for (const [i, name] of names.entries()) frames.push(await server.frame(shootId, `${name}.dng`, bytes[i]))
  const job = await give({
    kind: 'portion',
    portion: { automatic: ['white'], steps: { grain: { strength: 0.1 } } },
  })
  expect(job).toMatchObject({ state: 'done', problems: [], message: 'Given: 2 frames.' })
  const engine = createEngine(builtEngineFiles())
  const wanted: number[] = []
  for (const file of bytes) {
    const picture = await engine.open(Uint8Array.from(file))
    wanted.push((await automatic(picture, readDevelopment({}), ['white'], 1)).steps.cameraColour.kelvin)
    engine.close(picture)
  }
  engine.stop()
  const kelvins = async () => (await versions()).map((v) => v.development.steps.cameraColour.kelvin)
  expect(await kelvins()).toEqual(wanted)
  expect(wanted[0]).not.toBe(wanted[1])
  await back(job)
  // the same beside a change that came from the bench
  const changes = changesBetween(
    readDevelopment({}),
    readDevelopment({ steps: { areas: { areas: [{ id: 'a', mask: { shapes: [{ id: 's', kind: 'found', what: 'sky', corrections: [{ belongs: true, at: [[0.5, 0.5]] }] }] } }] } } }), // prettier-ignore
  )
  const shared = await give({ kind: 'changes', changes, how: 'value', automatic: ['white'] })
  expect(await kelvins()).toEqual(wanted)
  for (const { development } of await versions())
    expect(development.steps.areas.areas[0].mask.shapes).toMatchObject([{ kind: 'found', corrections: [] }])
  await back(shared)
  expect((await versions()).map((v) => v.development)).toEqual((await versions()).map((v) => v.begun))
})
