import type { FramePage, Job, Shoot } from '@dunkelkammer/contract'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { root, startServer, temporary, until, type TestServer } from '../../test/server'

const library = temporary()
let server: TestServer
beforeAll(async () => {
  server = await startServer(library.path)
})
afterAll(async () => {
  await server.kill()
  library.remove()
})

const shootWith = (preset: string, strength = 1) =>
  server.newShoot({ atImport: { preset: { id: preset, strength } } })
const file = (name: string) => readFileSync(join(root, `packages/demo/frames/${name}.dng`))
const bringIn = (shoot: Shoot, name: string) => server.frame(shoot.id, `${name}.dng`, file(name))
const frame = async (id: string) => (await server.ask<FramePage>(`/api/frames/${id}`)).body

it('frames come in with a preset as the first entry of their history', async () => {
  const id = await bringIn(await shootWith('grain-coarse', 0.5), 'HM0417')
  const { versions, frame: made } = await frame(id)
  const [{ entries, begun, development }] = versions
  expect(entries.map((e) => e.label)).toEqual(['Coarse grain'])
  expect(entries[0].preset).toMatchObject({ preset: 'grain-coarse', strength: 0.5, from: null })
  expect(begun.steps.grain.strength).toBe(0)
  expect(development.strength.grain).toBe(0.5)
  expect(made.edited).toBe(true)
})

it('what a preset leaves to each picture is found there', async () => {
  const shoot = await shootWith('auto-white')
  const ids = [await bringIn(shoot, 'HM0521'), await bringIn(shoot, 'HM0417')]
  const job = await until(async () => {
    const { body } = await server.ask<Job[]>('/api/jobs')
    return body.find((j) => j.kind === 'settings' && j.state === 'done')
  })
  expect(job.message).toBe('Automatic white balance: 2 frames.')
  for (const id of ids)
    expect((await frame(id)).versions[0].development.steps.cameraColour.source).toBe('kelvin')
})

it('comes in as taken where the preset is no more', async () => {
  const id = await bringIn(await shootWith('gone'), 'HM0403')
  expect((await frame(id)).versions[0].entries).toEqual([])
})
