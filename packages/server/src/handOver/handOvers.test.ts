import type { Frame, HandedOver, Job, Shoot } from '@dunkelkammer/contract'
import type { DeliveryInput } from '@dunkelkammer/core'
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { another, fileOf, startServer, temporary, until, type TestServer } from '../../test/server'

/** Inverts the file that it is given, as another file in the same folder or over it. */
const PROGRAM = `
import sharp from '${import.meta.resolve('sharp')}'
import { renameSync } from 'node:fs'
const [file, to] = process.argv.slice(2)
await sharp(file).negate().withIccProfile('srgb').tiff({ compression: 'none' }).toFile(file + '.part')
renameSync(file + '.part', to === 'over' ? file : file.replace(/\\.tif$/, '-inverted.tif'))
`

let library: ReturnType<typeof temporary>
let elsewhere: ReturnType<typeof temporary>
let server: TestServer
let shoot: Shoot
let first: string
let folder: string
const start = (returnsMs = 60) =>
  startServer(library.path, {
    roots: [elsewhere.path],
    env: {
      DUNKELKAMMER_PROGRAMS: join(elsewhere.path, 'programs.json'),
      DUNKELKAMMER_RETURNS_MS: String(returnsMs),
    },
  })
beforeEach(async () => {
  library = temporary()
  elsewhere = temporary()
  folder = join(elsewhere.path, 'out')
  mkdirSync(folder)
  const script = join(elsewhere.path, 'program.mjs')
  writeFileSync(script, PROGRAM)
  const programs = {
    Inverter: [process.execPath, script, '{file}', 'beside'],
    'In place': [process.execPath, script, '{file}', 'over'],
    Missing: [join(elsewhere.path, 'no such program')],
    Fails: [process.execPath, '-e', 'process.exit(3)'],
  }
  writeFileSync(join(elsewhere.path, 'programs.json'), JSON.stringify(programs))
  server = await start()
  shoot = await server.newShoot({ name: 'Mills' })
  first = await server.frame(shoot.id, 'HM1.dng', another())
})
afterEach(async () => {
  await server.kill()
  library.remove()
  elsewhere.remove()
})

const TIFF = { name: 'Retouch', format: { kind: 'tiff', compression: 'none' } } as const
const order = (part: Partial<DeliveryInput>) => ({
  ...TIFF,
  size: { by: 'long edge', pixels: 80 } as const,
  place: { in: 'folder', path: folder } as const,
  ...part,
})
const handOver = async (part: Partial<DeliveryInput> = {}) => {
  const job = await server.deliver(first, order({ handOver: { to: 'folder' }, ...part }))
  expect(job.state).toBe('done')
}
const frames = async (): Promise<Frame[]> => (await server.page(shoot.id)).frames
const waiting = async () => (await server.ask<HandedOver[]>('/api/handed-over')).body
const back = (count: number, ...known: string[]) =>
  until(async () => {
    const made = (await frames()).filter((f) => f.id !== first && !known.includes(f.id))
    return made.length === count && made
  })
/** The count is noted after the frame is there. */
const counted = (count: number) =>
  until(async () => {
    const [handed] = await waiting()
    return handed.back === count && handed
  })
const problem = () => until(async () => (await waiting())[0].problem)
const picture = (value: number) =>
  sharp({ create: { width: 160, height: 80, channels: 3, background: { r: value, g: value, b: value } } })
    .tiff({ compression: 'none' })
    .toBuffer()
const edited = async (name: string, value: number) => writeFileSync(join(folder, name), await picture(value))

it('a program gets the file, and what it makes of it is a frame with the first', async () => {
  await server.send('PATCH', '/api/frames', {
    changes: [{ ids: [first], rating: 4, mark: 'keep', text: { caption: 'The sluice', keywords: ['mill'] } }],
  })
  expect((await server.ask<string[]>('/api/programs')).body).toContain('Inverter')
  await handOver({ handOver: { to: 'program', program: 'Inverter' } })
  const [made] = await back(1)
  expect(made).toMatchObject({ fileName: 'HM1-inverted.tif', stack: first, rating: 4, mark: 'keep' })
  expect(made.text).toMatchObject({ caption: 'The sluice', keywords: ['mill'] })
  const light = async (path: string) => (await sharp(path).stats()).channels[1].mean
  const original = await fetch(`${server.url}/api/frames/${made.id}/original`)
  const returned = (await sharp(Buffer.from(await original.arrayBuffer())).stats()).channels[1].mean
  const given = (await light(join(folder, 'HM1.tif'))) / 257
  expect(Math.abs(returned - (255 - given)) < 2 || Math.abs(returned / 257 - (255 - given)) < 2).toBe(true)
  expect(await counted(1)).toMatchObject({ frameId: first, program: 'Inverter', shootId: shoot.id })
})

it('a file that is saved over comes back as a frame, each time that it is', async () => {
  await handOver({ handOver: { to: 'program', program: 'In place' } })
  const [made] = await back(1)
  expect(made).toMatchObject({ fileName: 'HM1.tif', stack: first })
  const { id } = (await waiting())[0]
  expect((await server.send('POST', `/api/handed-over/${id}/again`, {})).status).toBe(200)
  expect((await back(2)).map((f) => f.stack)).toEqual([first, first])
  await counted(2)
})

it('joins the stack that the first was put into', async () => {
  const stack = crypto.randomUUID()
  await server.send('PATCH', '/api/frames', { changes: [{ ids: [first], stack }] })
  await handOver()
  await edited('HM1 v2.tif', 90)
  expect((await back(1))[0].stack).toBe(stack)
})

it('takes what is made of the file alone', async () => {
  await edited('HM1 earlier.tif', 10)
  await handOver()
  const others = ['HM12.tif', 'other.tif', '.HM1-hidden.tif', 'HM1.txt']
  for (const [i, name] of others.entries()) await edited(name, 20 + i)
  // delivered there later, and not handed over
  await server.deliver(first, order({ fileName: 'HM1 proof' }))
  await edited('HM1_final.tif', 77)
  expect((await back(1)).map((f) => f.fileName)).toEqual(['HM1_final.tif'])
  // those before would have come by now
  await edited('HM1_final 2.tif', 78)
  expect((await back(2)).map((f) => f.fileName).sort()).toEqual(['HM1_final 2.tif', 'HM1_final.tif'])
})

it('of two files takes the one whose name says more', async () => {
  const second = await server.frame(shoot.id, 'HM1-b.dng', another())
  await handOver()
  await server.deliver(second, order({ handOver: { to: 'folder' } }))
  await edited('HM1-b-done.tif', 50)
  const [made] = await back(1, second)
  expect(made).toMatchObject({ fileName: 'HM1-b-done.tif', stack: second })
})

it('takes what has rested alone, and says what cannot be read', async () => {
  await server.kill()
  // a writer that this machine holds up must not seem to have ended
  server = await start(400)
  await handOver()
  const saves: Buffer[] = []
  for (let n = 0; n < 60; n++) saves.push(await picture(n + 90))
  for (const bytes of saves) {
    writeFileSync(join(folder, 'HM1-slow.tif'), bytes)
    await new Promise((r) => setTimeout(r, 20))
  }
  const [made] = await back(1)
  const original = await fetch(`${server.url}/api/frames/${made.id}/original`)
  expect(Buffer.from(await original.arrayBuffer()).equals(saves.at(-1)!)).toBe(true)
  expect((await counted(1)).problem).toBeUndefined()
  writeFileSync(join(folder, 'HM1-broken.tif'), 'II*\0nothing')
  expect(await problem()).toMatch(/^HM1-broken\.tif: /)
  await edited('HM1-broken.tif', 130)
  await back(2)
  expect((await counted(2)).problem).toBeUndefined()
})

it('waits across a stop, a folder that goes and comes, until it is told not to', async () => {
  await handOver()
  await server.kill()
  await edited('HM1-meanwhile.tif', 60)
  server = await start()
  await back(1)
  renameSync(folder, `${folder} away`)
  expect(await problem()).toBe('The folder is not there.')
  renameSync(`${folder} away`, folder)
  await until(async () => (await waiting())[0].problem === undefined)
  await edited('HM1-after.tif', 61)
  await back(2)
  const [{ id }] = await waiting()
  expect((await server.send('POST', `/api/handed-over/${id}/end`, {})).status).toBe(200)
  expect(await waiting()).toEqual([])
  expect((await server.send('POST', `/api/handed-over/${id}/end`, {})).status).toBe(404)
  expect(existsSync(join(folder, 'HM1.tif'))).toBe(true)
})

it('says what programs there are not, and which do not start', async () => {
  const unknown = order({ handOver: { to: 'program', program: 'Elsewhere' } })
  const refused = await server.send<{ message: string }>('POST', '/api/files', fileOf(first, unknown))
  expect([refused.status, refused.body.message]).toEqual([
    404,
    'The server was started without a program called “Elsewhere”.',
  ])
  await handOver({ handOver: { to: 'program', program: 'Missing' } })
  expect(await problem()).toBe('“Missing” could not be started: is its command right?')
  await server.send('POST', `/api/handed-over/${(await waiting())[0].id}/end`, {})
  await handOver({ handOver: { to: 'program', program: 'Fails' } })
  expect(await problem()).toBe('“Fails” ended with error 3.')
})

it('hands over no pages, and starts with no file that names no programs', async () => {
  const pages = order({ format: { kind: 'pdf' }, handOver: { to: 'folder' } })
  expect((await server.send<Job>('POST', '/api/files', fileOf(first, pages))).status).toBe(400)
  writeFileSync(join(elsewhere.path, 'programs.json'), '{"Retouch": "rm -rf"}')
  await server.kill()
  await expect(start()).rejects.toThrow(/names no programs\. It needs to be JSON such as/)
})
