import type { Job } from '@dunkelkammer/contract'
import { readdirSync, readFileSync, existsSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { root, startServer, temporary, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
const frames: string[] = []
beforeAll(async () => {
  server = await startServer(library.path)
  const shoot = await server.newShoot()
  // two with a sky, one without
  for (const name of ['HM0521', 'HM0477', 'HM0503'])
    frames.push(
      await server.frame(
        shoot.id,
        `${name}.dng`,
        readFileSync(join(root, `packages/demo/frames/${name}.dng`)),
      ),
    )
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

const shape = {
  ...{ id: 's', kind: 'found', what: 'sky' },
  corrections: [{ belongs: false, at: [[0.2, 0.2]] }],
}
const area = {
  ...{ id: 'copied', name: 'Dark sky', maskOf: 'gone' },
  ...{ mask: { shapes: [shape] }, steps: { exposure: { ev: -1 } } },
}
const portion = (areas: unknown) => ({ kind: 'portion', portion: { areas: [areas] } })
const asked = (ids: readonly string[], what: unknown = area) => ({
  ...{ ids, label: 'Dark sky pasted', give: portion(what) },
})
const paste = (ids: readonly string[], what?: unknown) =>
  server.job('POST', '/api/settings', asked(ids, what))
const areasOf = async (frame: string) => (await server.version(frame)).development.steps.areas.areas
const foundOf = (frame: string) => join(library.path, 'found', frame.slice(0, 2), frame)

describe('an area pasted into several frames', () => {
  it('is there in each as one entry, found ahead, and it is said where it is not', async () => {
    const job = await paste(frames)
    expect(job).toMatchObject({ state: 'done', kind: 'settings', takesBack: true })
    expect(job.message).toBe('Dark sky pasted: 3 frames. In 1 frame something was not found.')
    expect(job.problems).toEqual(['HM0503.dng: not found: no sky.'])
    const ids = new Set<string>()
    for (const frame of frames) {
      const { entries } = await server.version(frame)
      expect(entries.map((e) => e.label)).toEqual(['Dark sky pasted'])
      const [pasted, ...others] = await areasOf(frame)
      expect(others).toEqual([])
      expect(pasted).toMatchObject({ name: 'Dark sky', steps: { exposure: { ev: -1 } } })
      // strokes belong to the picture on which they were drawn, and so does another area's mask
      expect(pasted.mask.shapes[0]).toMatchObject({ kind: 'found', what: 'sky', corrections: [] })
      expect(pasted.maskOf).toBeUndefined()
      ids.add(pasted.id)
      // what was looked for is there when the frame is opened
      expect(readdirSync(foundOf(frame))).toHaveLength(1)
    }
    expect(ids.size).toBe(3)

    const back = await server.send<Job>('POST', `/api/jobs/${job.id}/take-back`, {})
    expect(back.body.message).toBe('Taken back in 3 frames.')
    for (const frame of frames) expect(await areasOf(frame)).toEqual([])
    // it goes with its frame alone
    expect(readdirSync(foundOf(frames[0]))).toHaveLength(1)
  })

  it('needs nothing found where it has only drawn shapes', async () => {
    const drawn = { ...area, mask: { shapes: [{ id: 'r', kind: 'ramp', from: [0.5, 0], to: [0.5, 0.4] }] } }
    const job = await paste(frames.slice(0, 1), drawn)
    expect(job.message).toBe('Dark sky pasted: 1 frame.')
    expect(job.problems).toEqual([])
  })

  it('stays where looking is stopped, and can be taken back', async () => {
    const { body } = await server.send<Job>('POST', '/api/settings', asked(frames))
    await server.send('POST', `/api/jobs/${body.id}/cancel`, {})
    const job = await server.ended(body.id)
    expect(job.message).toMatch(/^Dark sky pasted: 3 frames\..* Looking was stopped after [012] frames?\.$/)
    for (const frame of frames) expect((await areasOf(frame)).at(-1)).toMatchObject({ name: 'Dark sky' })
    expect(job.takesBack).toBe(true)
    await server.send('POST', `/api/jobs/${job.id}/take-back`, {})
    expect((await areasOf(frames[2])).some((a) => a.mask.shapes[0].kind === 'found')).toBe(false)
  })

  it('is refused where it is no area', async () => {
    const answer = await server.send('POST', '/api/settings', asked(frames, { id: 7 }))
    expect(answer.status).toBe(400)
    expect(await areasOf(frames[1])).toEqual([])
  })
})

describe('what was found in a frame', () => {
  const name = 'a'.repeat(64)
  const at = (frame: string, called = name) => `/api/frames/${frame}/found/${called}`
  const ask = async (method: string, to: string, body?: Uint8Array<ArrayBuffer>) => {
    const answer = await fetch(server.url + to, { method, body })
    return { status: answer.status, body: new Uint8Array(await answer.arrayBuffer()) }
  }
  it('is kept and given back, and nothing is said of what is not known', async () => {
    expect((await ask('GET', at(frames[1]))).status).toBe(204)
    const made = Uint8Array.of(1, 2, 3)
    expect((await ask('PUT', at(frames[1]), made)).status).toBe(200)
    const answer = await ask('GET', at(frames[1]))
    expect([answer.status, [...answer.body]]).toEqual([200, [1, 2, 3]])
  })

  it('lies in the library under a name of its own alone, and not without bound', async () => {
    for (const called of ['..%2F..%2Flibrary.db', 'x', `${name}.txt`])
      expect((await ask('PUT', at(frames[1], called), Uint8Array.of(1))).status).toBe(422)
    expect((await ask('PUT', at(frames[1]), new Uint8Array((4 << 20) + 1))).status).toBe(413)
    const unknown = '00000000-0000-4000-8000-000000000000'
    expect((await ask('PUT', at(unknown), Uint8Array.of(1))).status).toBe(404)
    expect(existsSync(foundOf(unknown))).toBe(false)
    for (let n = 0; n < 45; n++)
      await ask('PUT', at(frames[1], n.toString(16).padStart(64, '0')), Uint8Array.of(n))
    expect(readdirSync(foundOf(frames[1]))).toHaveLength(40)
  })
})
