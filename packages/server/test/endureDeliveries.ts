import type { HandedOver, Job } from '@dunkelkammer/contract'
import { spawn, type ChildProcess } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { another, randomFrom, root, startServer, temporary } from './server'

const FRAMES = 20
/** Longest time until a kill, milliseconds: less than a batch takes. */
const LONGEST = 2500
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))
const names = Array.from({ length: FRAMES }, (_, i) => `F${String(i + 1).padStart(2, '0')}`)
const DELIVERIES = [
  { name: 'JPEG', format: { kind: 'jpeg' }, size: { by: 'long edge', pixels: 900 } },
  { name: 'TIFF', format: { kind: 'tiff', compression: 'none' } },
]
const wanted = names.flatMap((name) => [`${name}.jpg`, `${name}.tif`]).sort()

export interface DeliveriesOutcome {
  kills: number
  batches: number
  files: number
}

/** Looks at the files of a batch as they lie there. */
class Batch {
  private readonly pictures = new Map<string, string>()

  /** All frames show the same: files of one kind must, too. @throws Error where one is half or doubled */
  async check(folder: string, ended: boolean): Promise<void> {
    const all = readdirSync(folder)
    const files = all.filter((name) => !name.startsWith('.')).sort()
    const strange = files.filter((name) => !wanted.includes(name))
    if (strange.length > 0) throw new Error(`made twice: ${strange.join(', ')}`)
    for (const name of files) {
      const kind = name.slice(-3)
      const pixels = await sharp(join(folder, name)).raw().toBuffer()
      const seen = createHash('sha256').update(pixels).digest('hex')
      if (!this.pictures.has(kind)) this.pictures.set(kind, seen)
      if (this.pictures.get(kind) !== seen) throw new Error(`${name} is not whole`)
    }
    if (!ended) return
    const missing = wanted.filter((name) => !files.includes(name))
    if (missing.length > 0) throw new Error(`missing: ${missing.join(', ')}`)
    if (all.length > files.length)
      throw new Error(`left behind: ${all.filter((n) => n.startsWith('.')).join(', ')}`)
  }
}

/**
 * Kills a server again and again while it makes files of 20 frames, and looks for half files, missing ones, and what was
 * made or handed over twice.
 * @throws Error that says what
 */
export async function endureServer(kills: number, seed: number): Promise<DeliveriesOutcome> {
  const place = temporary()
  const random = randomFrom(seed)
  let server = await startServer(place.path)
  const shoot = await server.newShoot()
  const frames: { id: string }[] = []
  for (const name of names) frames.push({ id: await server.frame(shoot.id, `${name}.dng`, another()) })
  const batch = new Batch()
  let [done, batches, files] = [0, 0, 0]
  while (done < kills) {
    const subfolder = `batch ${++batches}`
    const folder = join(place.path, 'deliveries', subfolder)
    mkdirSync(folder, { recursive: true })
    const deliveries = DELIVERIES.map((d) => ({
      ...{ ...d, place: { in: 'library', subfolder } },
      handOver: d.name === 'TIFF' ? { to: 'folder' } : null,
    }))
    const { body: job } = await server.send<Job>('POST', '/api/files', { frames, deliveries })
    for (;;) {
      await pause(random() * LONGEST)
      const { state } = (await server.ask<Job>(`/api/jobs/${job.id}`)).body
      if (done >= kills || state === 'done') break
      if (state !== 'running' && state !== 'waiting') throw new Error(`the job is ${state}`)
      await server.kill()
      done++
      await batch.check(folder, false)
      server = await startServer(place.path)
    }
    const { state, problems } = await server.ended(job.id)
    if (state !== 'done' || problems.length > 0) throw new Error(`${state}: ${problems.join(', ')}`)
    await batch.check(folder, true)
    const given = (await server.ask<HandedOver[]>('/api/handed-over')).body.filter((h) =>
      h.path.startsWith(folder + '/'),
    )
    const paths = new Set(given.map((h) => h.path))
    if (given.length !== FRAMES || paths.size !== FRAMES) throw new Error(`${given.length} files handed over`)
    files += wanted.length
  }
  await server.kill()
  place.remove()
  return { kills: done, batches, files }
}

/** The same for the shell. @throws Error that says what */
export async function endureShell(kills: number, seed: number): Promise<DeliveriesOutcome> {
  const place = temporary()
  const random = randomFrom(seed)
  for (const name of names) writeFileSync(join(place.path, `${name}.dng`), another())
  for (const d of DELIVERIES) writeFileSync(join(place.path, `${d.name}.json`), JSON.stringify(d))
  const batch = new Batch()
  let [done, batches, files] = [0, 0, 0]
  while (done < kills) {
    const folder = join(place.path, `batch ${++batches}`)
    mkdirSync(folder)
    const start = () =>
      spawn(
        process.execPath,
        [
          ...[join(root, 'dist/node/cli.js'), 'deliver', '--to', folder],
          ...names.map((name) => join(place.path, `${name}.dng`)),
          ...DELIVERIES.flatMap((d) => ['--delivery', join(place.path, `${d.name}.json`)]),
        ],
        { stdio: 'ignore' },
      )
    for (;;) {
      const child = start()
      const code = ended(child)
      if (done < kills) await Promise.race([code, pause(random() * LONGEST)])
      if (done < kills && child.exitCode === null) {
        child.kill('SIGKILL')
        await code
        done++
        await batch.check(folder, false)
      } else if ((await code) === 0) break
      else throw new Error(`the shell ended with ${child.exitCode}`)
    }
    await batch.check(folder, true)
    files += wanted.length
  }
  place.remove()
  return { kills: done, batches, files }
}

const ended = (child: ChildProcess) => new Promise<number | null>((done) => child.on('exit', done))
