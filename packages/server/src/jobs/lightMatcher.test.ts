import type { LightMatch } from '@dunkelkammer/contract'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { burstFile, chartDistance, chartIn, type BurstShot } from '../../../engine/test/burst'
import { change, delivered, setting } from '../../test/rebuild'
import { startServer, temporary, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path)
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

const SHOTS: BurstShot[] = [
  { ev: 0, takenFor: 5500 },
  { ev: 1.7, takenFor: 6900, seed: 2 },
  { ev: -2, takenFor: 4100, seed: 3, shift: 5 },
  { ev: 0.4, takenFor: 4600, seed: 4, walked: 60 },
]
const ask = (id: string, to: string) => server.send<LightMatch>('POST', `/api/frames/${id}/light`, { to })

/** The chart in a frame's delivered file. */
async function chartOf(frame: string, shot: BurstShot) {
  const { default: sharp } = await import('sharp')
  const file = await delivered(server, frame, 360)
  const { data, info } = await sharp(file)
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true })
  return chartIn(new Uint16Array(data.buffer, data.byteOffset, data.length / 2), info.width, 65535, shot)
}

describe('frames of a burst that are matched to one of them', () => {
  it('agree with it in what is delivered, each as it was told, and are taken back as one', async () => {
    const shoot = await server.newShoot()
    const ids: string[] = []
    for (const [i, shot] of SHOTS.entries())
      ids.push(await server.frame(shoot.id, `${i}.dng`, burstFile(shot)))
    const [to, ...others] = ids
    await change(server, to, 'Exposure', setting('exposure', { ev: 0.5 }))
    await change(server, others[0], 'Relief', setting('relief', { broad: 0.1 }))
    const light: Record<string, LightMatch['to']> = {}
    for (const [i, id] of others.entries()) {
      const { body } = await ask(id, to)
      expect(body.by).toBe('scene')
      expect(body.from.ev).toBe(0)
      expect(body.to.ev - body.from.ev).toBeCloseTo(0.5 - SHOTS[i + 1].ev, 1)
      light[id] = body.to
    }
    const chart = await chartOf(to, SHOTS[0])
    const distances = () =>
      Promise.all(others.map(async (id, i) => chartDistance(await chartOf(id, SHOTS[i + 1]), chart)))
    // asking changes nothing
    expect(Math.min(...(await distances()))).toBeGreaterThan(1.7)
    expect((await server.version(others[1])).head).toBeNull()
    const job = await server.job('POST', '/api/settings', {
      ...{ ids: others, label: 'Matched to 0.dng', give: { kind: 'light', light } },
    })
    expect(job).toMatchObject({ state: 'done', message: 'Matched to 0.dng: 3 frames.' })
    expect((await server.version(others[0])).development.steps.relief.broad).toBe(0.1)
    await change(server, others[0], 'Relief', setting('relief', { broad: 0 }))
    expect(Math.max(...(await distances()))).toBeLessThan(1.5)
    expect(
      (await server.send<{ message: string }>('POST', `/api/jobs/${job.id}/take-back`, {})).body.message,
    ).toBe('Taken back in 3 frames.')
    expect((await server.version(others[1])).head).toBeNull()
  })

  it('follow what was done to that one since it was asked first', async () => {
    const shoot = await server.newShoot()
    const [a, b] = [
      await server.frame(shoot.id, 'a.dng', burstFile({ ...SHOTS[0], seed: 21 })),
      await server.frame(shoot.id, 'b.dng', burstFile({ ...SHOTS[0], seed: 22 })),
    ]
    expect((await ask(b, a)).body.to.ev).toBeCloseTo(0, 1)
    await change(server, a, 'Exposure', setting('exposure', { ev: -0.8 }))
    expect((await ask(b, a)).body.to.ev).toBeCloseTo(-0.8, 1)
    expect((await ask(b, crypto.randomUUID())).status).toBe(404)
    expect((await ask(crypto.randomUUID(), a)).status).toBe(404)
  })
})
