import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { root, startServer, temporary, until, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path, { thumbnails: true })
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

describe('thumbnails', () => {
  it('come from the file at once, from the development later, and follow its settings', async () => {
    const shoot = await server.newShoot()
    const { id } = (
      await server.upload(shoot.id, 'HM0488.dng', readFileSync(join(root, 'packages/demo/frames/HM0488.dng')))
    ).body.frame
    const thumb = async () =>
      Buffer.from(await (await fetch(`${server.url}/api/frames/${id}/thumbnail`)).arrayBuffer())
    const size = async () => {
      const { width, height } = await sharp(await thumb()).metadata()
      return [width, height]
    }
    expect(await size()).toEqual([427, 640])
    // the picture at once at the bench stands upright too: its own orientation is said, and counts
    const preview = await (await fetch(`${server.url}/api/frames/${id}/preview`)).arrayBuffer()
    const { width, height } = await sharp(Buffer.from(preview)).metadata()
    expect([width, height]).toEqual([504, 756])
    const mean = async () => (await sharp(await thumb()).stats()).channels[1].mean
    const stamp = async () => (await server.page(shoot.id)).frames[0].thumb
    expect(await until(async () => (await stamp()) === 'r0' && 'ready')).toBe('ready')
    const before = await mean()
    await server.expose(await server.version(id), 2)
    expect((await server.page(shoot.id)).frames[0].edited).toBe(true)
    expect(await until(async () => (await stamp()) === 'r1' && 'ready')).toBe('ready')
    expect(await mean()).toBeGreaterThan(before * 1.5)
    expect(await size()).toEqual([427, 640])
  })

  it('of a finished picture lie upright', async () => {
    const shoot = await server.newShoot()
    const jpeg = await sharp({ create: { width: 300, height: 200, channels: 3, background: '#468' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer()
    const { id } = (await server.upload(shoot.id, 'card.jpg', jpeg)).body.frame
    const [frame] = (await server.page(shoot.id)).frames
    expect([frame.width, frame.height, frame.format]).toEqual([200, 300, 'jpeg'])
    for (const path of ['thumbnail', 'preview']) {
      const bytes = await (await fetch(`${server.url}/api/frames/${id}/${path}`)).arrayBuffer()
      const { width, height } = await sharp(Buffer.from(bytes)).metadata()
      expect([width, height], path).toEqual([200, 300])
    }
  })
})
