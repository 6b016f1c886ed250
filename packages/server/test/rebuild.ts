import type { FramePage, Shoot, ShootPage } from '@dunkelkammer/contract'
import { bulkName, changesBetween, encodePath, type Development } from '@dunkelkammer/core'
import { readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import type { TestServer } from './server'

/** A change of a version's settings from where it stands. @returns the entry's id */
export async function change(
  server: TestServer,
  frameId: string,
  label: string,
  how: (d: Development) => Development,
  index = 0,
): Promise<string> {
  const { versions } = (await server.ask<FramePage>(`/api/frames/${frameId}`)).body
  const { id: version, head, development } = versions[index]
  const id = crypto.randomUUID()
  const changes = changesBetween(development, how(development))
  const operation = { kind: 'change', id, parent: head, label, changes, time: new Date().toISOString() }
  const { status, body } = await server.send('POST', `/api/versions/${version}/log`, {
    base: head,
    operations: [operation],
  })
  if (status !== 200) throw new Error(JSON.stringify(body))
  return id
}

/** Settings with a step changed. */
export const setting =
  (step: keyof Development['steps'], part: object) =>
  (d: Development): Development => ({ ...d, steps: { ...d.steps, [step]: { ...d.steps[step], ...part } } })

/** Paints a patch along a path, whose points lie apart from the settings. */
export async function paint(server: TestServer, frameId: string, at: number): Promise<void> {
  const bytes = encodePath([
    { x: -at, y: 0 },
    { x: at, y: 0.02 },
  ])
  const path = bulkName(bytes)
  await server.ask(`/api/bulk/${path}`, { method: 'PUT', body: Buffer.from(bytes) })
  const patch = { id: 'a', shape: 'stroke', path, x: 0.5, y: 0.4, radius: 0.02, source: [0.1, 0.1] }
  await change(server, frameId, 'Patch added', setting('patches', { patches: [patch] }))
}

/** All that a library says of its shoots and frames, but for what is made anew. */
export async function wholeLibrary(server: TestServer) {
  const shoots = (await server.ask<Shoot[]>('/api/shoots')).body
  const out = []
  for (const { id, name, created, atImport } of shoots) {
    const page = (await server.ask<ShootPage>(`/api/shoots/${id}`)).body
    const frames = []
    for (const shown of page.frames) {
      const frame = { ...shown, thumb: undefined }
      const { versions, removed, ...more } = (await server.ask<FramePage>(`/api/frames/${frame.id}`)).body
      const logs = []
      for (const version of versions) {
        const { entries } = (await server.ask<{ entries: object[] }>(`/api/versions/${version.id}/log`)).body
        logs.push(entries.map((e) => ({ ...e, number: undefined })))
      }
      const plain = versions.map((v) => ({
        ...v,
        entries: v.entries.map((e) => ({ ...e, number: undefined })),
      }))
      frames.push({ frame, versions: plain, removed, shown: more.shown, logs })
    }
    out.push({ id, name, created, atImport, frames })
  }
  return out
}

/** Removes the database of a library whose server has ended. */
export function loseDatabase(library: string): void {
  for (const name of readdirSync(library).filter((n) => n.startsWith('library.db')))
    rmSync(join(library, name))
}

/** The bytes of a frame's delivery. */
export async function delivered(server: TestServer, frameId: string, longEdge = 300): Promise<Buffer> {
  const job = await server.deliver(frameId, {
    fileName: 'a',
    format: { kind: 'tiff' },
    size: { by: 'long edge', pixels: longEdge },
  })
  if (job.state !== 'done') throw new Error(job.message)
  return Buffer.from(await (await fetch(`${server.url}/api/jobs/${job.id}/files/0`)).arrayBuffer())
}
