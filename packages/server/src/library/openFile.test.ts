import type { FramePage, Shoot } from '@dunkelkammer/contract'
import { mkdirSync, symlinkSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { another, startServer, temporary, type TestServer } from '../../test/server'

let library: ReturnType<typeof temporary>
let disk: ReturnType<typeof temporary>
let server: TestServer
beforeAll(async () => {
  library = temporary()
  disk = temporary()
  mkdirSync(join(disk.path, 'allowed/Lock 7'), { recursive: true })
  mkdirSync(join(disk.path, 'elsewhere'))
  server = await startServer(library.path, { roots: [join(disk.path, 'allowed')] })
})
afterAll(async () => {
  await server.kill()
  library.remove()
  disk.remove()
})

interface Opened {
  shootId: string
  frameId: string
  message: string
}
const open = (...parts: string[]) =>
  server.send<Opened>('POST', '/api/open', { path: join(disk.path, ...parts) })
const put = (bytes: Uint8Array, ...parts: string[]) => writeFileSync(join(disk.path, ...parts), bytes)
const shoots = async () => (await server.ask<Shoot[]>('/api/shoots')).body

describe('a file that is named by its path', () => {
  it('becomes a frame of the shoot called as its folder, and stays where it is', async () => {
    put(another(), 'allowed/Lock 7', 'gate.dng')
    // two windows at once
    const [one, two] = await Promise.all([open('allowed/Lock 7/gate.dng'), open('allowed/Lock 7/gate.dng')])
    expect(one.status).toBe(200)
    expect(two.body).toEqual(one.body)
    expect((await shoots()).map((s) => [s.name, s.frameCount])).toEqual([['Lock 7', 1]])
    const { frame } = (await server.ask<FramePage>(`/api/frames/${one.body.frameId}`)).body
    expect(frame).toMatchObject({ fileName: 'gate.dng', inPlace: join(disk.path, 'allowed/Lock 7/gate.dng') })
    put(another(), 'allowed/Lock 7', 'sluice.dng')
    expect((await open('allowed/Lock 7/sluice.dng')).body.shootId).toBe(one.body.shootId)
  })

  it('is the frame that has it already, whatever it is called', async () => {
    const bytes = another()
    const shoot = await server.newShoot({ name: 'Mills' })
    const frameId = await server.frame(shoot.id, 'mill.dng', bytes)
    put(bytes, 'allowed', 'copy.dng')
    expect((await open('allowed/copy.dng')).body).toEqual({ shootId: shoot.id, frameId })
  })

  it.each([
    ['elsewhere/secret.dng', 403, /^The server may not read that file\./],
    ['allowed/link.dng', 403, /^The server may not read that file\./],
    ['allowed/none.dng', 404, 'There is no such file on the server.'],
    ['allowed/Lock 7', 400, 'This is a folder. Give the path of one picture.'],
    ['allowed/notes.txt', 422, /./],
  ] as const)('is refused with a sentence: %s', async (path, status, message) => {
    put(another(), 'elsewhere', 'secret.dng')
    put(new TextEncoder().encode('no picture at all'), 'allowed', 'notes.txt')
    if (path.includes('link')) symlinkSync(join(disk.path, 'elsewhere/secret.dng'), join(disk.path, path))
    const before = await shoots()
    const answer = await open(path)
    expect(answer.status).toBe(status)
    expect(answer.body.message).toMatch(message)
    // nothing is left of it
    expect(await shoots()).toEqual(before)
  })

  it('has a whole path', async () => {
    expect((await server.send<Opened>('POST', '/api/open', { path: 'gate.dng' })).status).toBe(400)
  })
})
