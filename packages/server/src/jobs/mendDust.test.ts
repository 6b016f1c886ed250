import { specksOf, veldrom } from '@dunkelkammer/demo'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { root, startServer, temporary, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
const frames: string[] = []
beforeAll(async () => {
  server = await startServer(library.path)
  const shoot = await server.newShoot()
  for (const name of ['HM0403', 'HM0468', 'HM0503'])
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

const mend = (ids: readonly string[]) => server.job('POST', '/api/dust', { ids })
const patchesOf = async (frame: string) => (await server.version(frame)).development.steps.patches.patches
const LONG = 1512

describe('dust in several frames', () => {
  it('is mended where it is seen, one entry a frame, and taken back as one', async () => {
    const job = await mend(frames)
    expect(job).toMatchObject({ state: 'done', kind: 'dust', takesBack: true })
    expect(job.message).toMatch(/^Dust mended in 2 of 3 frames, \d places\.$/)
    const specks = specksOf(veldrom)
    for (const frame of frames.slice(0, 2)) {
      const { entries } = await server.version(frame)
      expect(entries).toHaveLength(1)
      const patches = await patchesOf(frame)
      expect(entries[0].label).toBe(`Dust mended, ${patches.length} places`)
      expect(patches.length).toBeGreaterThanOrEqual(3)
      for (const p of patches) {
        expect(p.dust).toBe(true)
        const near = specks.find((s) => Math.hypot(s.x - p.x, s.y - p.y) * LONG < 3)!
        expect(near).toBeDefined()
        expect(p.radius * LONG).toBeGreaterThan(near.radius)
        expect(Math.hypot(...p.source) * LONG).toBeGreaterThan(2 * near.radius)
      }
    }
    expect(await patchesOf(frames[2])).toEqual([])

    // what lies under patches is not proposed again
    expect((await mend(frames)).message).toBe('No dust found in 3 frames.')

    // something else is done meanwhile, and stays
    const before = await server.version(frames[0])
    const { head, development } = before
    const change = {
      part: 'exposure',
      before: { settings: development.steps.exposure },
      now: { settings: { ev: 1 } },
    }
    const operation = {
      ...{ kind: 'change', id: crypto.randomUUID(), parent: head, label: 'Exposure' },
      ...{ changes: [change], time: new Date().toISOString() },
    }
    await server.send('POST', `/api/versions/${before.id}/log`, { base: head, operations: [operation] })
    const back = await server.ask(`/api/jobs/${job.id}/take-back`, { method: 'POST' })
    expect(back.body).toMatchObject({ message: 'Taken back in 2 frames.' })
    expect((back.body as { takesBack?: true }).takesBack).toBeUndefined()
    expect(await patchesOf(frames[0])).toEqual([])
    expect(await patchesOf(frames[1])).toEqual([])
    expect((await server.version(frames[0])).development.steps.exposure.ev).toBe(1)
    const again = await server.ask(`/api/jobs/${job.id}/take-back`, { method: 'POST' })
    expect([again.status, again.body]).toEqual([
      409,
      { code: 'finished', message: 'There is nothing to take back.' },
    ])
  })

  it('is refused for frames that are none, before anything is done', async () => {
    const { status } = await server.send('POST', '/api/dust', { ids: [frames[0], crypto.randomUUID()] })
    expect(status).toBe(404)
    expect(await patchesOf(frames[0])).toEqual([])
  })
})
