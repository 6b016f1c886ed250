import type { FramePage, ShootPage } from '@dunkelkammer/contract'
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { StartProblem } from '../problem'
import { backupLibrary } from './backup'
import { checkBackup, restoreLibrary } from './restore'
import {
  another,
  filesIn,
  put,
  root,
  startServer,
  temporary,
  until,
  type TestServer,
} from '../../test/server'

let place: ReturnType<typeof temporary>
let library: string
let to: string
let back: string
let server: TestServer
beforeEach(async () => {
  place = temporary()
  library = join(place.path, 'library')
  to = join(place.path, 'backup')
  back = join(place.path, 'back')
  server = await startServer(library, { roots: [place.path] })
})
afterEach(async () => {
  await server.kill()
  place.remove()
})

interface Outcome {
  code: number
  out: string
  err: string
}
/** What the program does, within this process. */
async function run([command, ...rest]: string[], at = library): Promise<Outcome> {
  try {
    const { problems, ...counts } =
      command === 'restore'
        ? await restoreLibrary(rest[0], at)
        : rest[0] === '--check'
          ? await checkBackup(rest[1])
          : await backupLibrary(at, rest[0])
    const code = problems.length ? 1 : 0
    return { code, out: Object.values(counts).join(' '), err: problems.join('\n') }
  } catch (error) {
    if (!(error instanceof StartProblem)) throw error
    return { code: 1, out: '', err: error.message }
  }
}
/** The program itself. */
function asProgram(args: string[], at = library): Outcome {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [join(root, 'dist/node/backup.js'), ...args],
    {
      encoding: 'utf8',
      env: { ...process.env, DUNKELKAMMER_LIBRARY: at, INIT_CWD: place.path },
    },
  )
  expect(stderr).not.toMatch(/\n\s+at /)
  return { code: status!, out: stdout.trim(), err: stderr.trim() }
}
/** What a library shows, thumbnails apart. */
async function shown(s: TestServer) {
  const shoots = (await s.ask<{ id: string; name: string }[]>('/api/shoots')).body
  const pages = []
  for (const { id } of shoots) {
    const { shoot, frames } = (await s.ask<ShootPage>(`/api/shoots/${id}`)).body
    const each = []
    for (const f of frames) {
      const { versions } = (await s.ask<FramePage>(`/api/frames/${f.id}`)).body
      const original = Buffer.from(await (await fetch(`${s.url}/api/frames/${f.id}/original`)).arrayBuffer())
      each.push({ ...f, thumb: '', inPlace: undefined, versions, original: original.toString('base64') })
    }
    pages.push({ name: shoot.name, each })
  }
  return pages
}
const restart = async (at: string) => {
  await server.kill()
  server = await startServer(at, { thumbnails: true })
}
const filled = async () => {
  const shoot = await server.newShoot({ name: 'Lock and kiln' })
  const ids = []
  for (let i = 0; i < 3; i++) ids.push(await server.frame(shoot.id, `${i}.dng`))
  const elsewhere = put(join(place.path, 'card'), { 'stays.dng': another() })
  await server.importFolder(shoot.id, elsewhere, { keep: 'in place' })
  await server.send('PATCH', '/api/frames', {
    changes: [{ ids: [ids[1]], rating: 4, text: { title: 'Gate' } }],
  })
  const version = await server.version(ids[0])
  await server.expose(version, 1)
  await server.ask('/api/looks/table', {
    method: 'POST',
    body: `LUT_3D_SIZE 2\n${'0.5 0.5 0.5\n'.repeat(8)}`,
  })
  await server.deliver(ids[0], { size: { by: 'long edge', pixels: 64 }, fileName: 'gate' })
  return { shoot, ids }
}

describe('a backup of a library at work', () => {
  it('is brought back as it was, originals that lay elsewhere included', async () => {
    await filled()
    const before = await shown(server)
    expect(asProgram(['backup', to])).toMatchObject({ code: 0, err: '' })
    expect(asProgram(['backup', '--check', to])).toMatchObject({ code: 0, err: '' })
    // nothing of the library and the card is left
    await server.kill()
    rmSync(library, { recursive: true })
    rmSync(join(place.path, 'card'), { recursive: true })
    const restored = asProgram(['restore', to], back)
    expect(restored).toMatchObject({ code: 0, err: '' })
    await restart(back)
    expect(await shown(server)).toEqual(before)
    expect(readFileSync(join(back, 'deliveries/gate.jpg'))).toEqual(
      readFileSync(join(to, 'deliveries/gate.jpg')),
    )
    expect(filesIn(join(back, 'looks'))).toHaveLength(1)
    expect((await server.job('POST', '/api/library/check', {})).message).toBe(
      '4 originals checked, all as brought in.',
    )
    // thumbnails are made anew
    const [{ id }] = (await server.ask<{ id: string }[]>('/api/shoots')).body
    await until(async () => (await server.page(id)).frames.every((f) => f.thumb !== ''))
    expect(filesIn(back).filter((f) => /unfinished|restoring/.test(f))).toEqual([])
  })

  it('is right while frames come in and the bin is emptied, round after round', async () => {
    const { shoot } = await filled()
    let going = true
    const work = (async () => {
      while (going) {
        const ids = await Promise.all([1, 2, 3].map((n) => server.frame(shoot.id, `more ${n}.dng`)))
        await server.drop(ids.slice(1))
        await server.ask(`/api/shoots/${shoot.id}/bin`, { method: 'DELETE' })
      }
    })()
    for (let round = 0; round < 3; round++) {
      expect(await run(['backup', to])).toMatchObject({ code: 0, err: '' })
      expect(await run(['backup', '--check', to])).toMatchObject({ code: 0, err: '' })
    }
    going = false
    await work
    expect(await run(['restore', to], back)).toMatchObject({ code: 0, err: '' })
    await restart(back)
    expect((await server.job('POST', '/api/library/check', {})).message).toMatch(/, all as brought in\.$/)
  })

  it('copies only what is new, and says what it could not copy', async () => {
    const { shoot, ids } = await filled()
    expect((await run(['backup', to])).out).toBe('4 4')
    await server.frame(shoot.id, 'new.dng')
    expect(await run(['backup', to])).toEqual({ code: 0, err: '', out: '5 1' })
    // a spoiled original does not take the place of the sound copy
    const bytes = another()
    await server.frame(shoot.id, 'spoiled.dng', bytes)
    const spoiled = filesIn(join(library, 'originals'))
      .map((f) => join(library, 'originals', f))
      .find((f) => readFileSync(f).equals(bytes))!
    truncateSync(spoiled, 1000)
    const outcome = await run(['backup', to])
    expect(outcome.code).toBe(1)
    expect(outcome.err).toBe(`${spoiled} has changed since it was brought in and was left out.`)
    expect((await run(['backup', '--check', to])).code).toBe(0)
    expect(ids).toHaveLength(3)
    expect(filesIn(to).filter((f) => f.startsWith('library-'))).toHaveLength(1)
    expect(filesIn(to).filter((f) => f.includes('unfinished'))).toEqual([])
  })

  it('that is damaged is said, and what is sound in it comes back', async () => {
    await filled()
    await run(['backup', to])
    const victim = filesIn(to).find((f) => f.startsWith('originals/'))!
    const bytes = readFileSync(join(to, victim))
    bytes[5000] ^= 1
    writeFileSync(join(to, victim), bytes)
    const check = await run(['backup', '--check', to])
    expect(check).toMatchObject({
      code: 1,
      err: `${victim} is damaged. Remove it there and make the backup again.`,
    })
    expect(await run(['restore', to], back)).toMatchObject({
      code: 1,
      err: `${victim} is missing from the backup or damaged in it.`,
    })
    expect(existsSync(join(back, victim))).toBe(false)
    rmSync(join(to, victim))
    expect((await run(['backup', to])).code).toBe(0)
    expect((await run(['backup', '--check', to])).code).toBe(0)
    // a damaged database makes no library at all
    const database = filesIn(to).find((f) => f.startsWith('library-'))!
    writeFileSync(join(to, database), readFileSync(join(to, database)).fill(0, 100, 200))
    const other = join(place.path, 'other')
    expect(await run(['restore', to], other)).toMatchObject({
      code: 1,
      err: `The database in ${to} is damaged.`,
    })
    expect(existsSync(join(other, 'dunkelkammer-library'))).toBe(false)
  })

  it('that was cut short goes on the next time', async () => {
    await filled()
    put(to, { 'unfinished/half': 'half', 'originals/ab/abc.dng': 'half' })
    expect(await run(['backup', to])).toMatchObject({ code: 0 })
    expect(await run(['backup', '--check', to])).toMatchObject({ code: 0 })
    put(back, { restoring: 'x', 'unfinished/half': 'half', 'originals/ab/abc.dng': 'half' })
    expect(await run(['restore', to], back)).toMatchObject({ code: 0 })
    expect(existsSync(join(back, 'dunkelkammer-library'))).toBe(true)
  })

  it('overwrites nothing: neither a folder with other files nor a library', async () => {
    await filled()
    await run(['backup', to])
    const mine = put(join(place.path, 'mine'), { 'a.txt': 'mine' })
    expect(await run(['backup', mine])).toMatchObject({
      code: 1,
      err: expect.stringMatching(/holds other files/),
    })
    expect(await run(['restore', to], mine)).toMatchObject({
      code: 1,
      err: expect.stringMatching(/is not empty/),
    })
    expect(await run(['restore', to], library)).toMatchObject({
      code: 1,
      err: expect.stringMatching(/is not empty/),
    })
    expect(filesIn(mine)).toEqual(['a.txt'])
    expect(await run(['restore', mine], back)).toMatchObject({
      code: 1,
      err: `There is no finished backup in ${mine}.`,
    })
    expect((await run(['backup', to], join(place.path, 'nowhere'))).err).toMatch(/^There is no library in /)
    expect(asProgram(['backup'])).toMatchObject({ code: 1, err: expect.stringMatching(/^Use: /) })
    expect(asProgram(['restore', 'mine'], back)).toMatchObject({ code: 1 })
  })
})
