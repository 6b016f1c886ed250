import { readFileSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { change, delivered, loseDatabase, paint, setting, wholeLibrary } from '../../server/test/rebuild'
import { startServer, type TestServer } from '../../server/test/server'
import { projectRoot } from '../src/paths'

const FRAMES = 1000
/** Of so many frames one is delivered before and after. */
const DELIVERED = 20

/** Develops a frame, each otherwise. */
async function develop(server: TestServer, id: string, i: number): Promise<void> {
  await change(server, id, 'Exposure', setting('exposure', { ev: (i % 21) / 10 - 0.95 }))
  if (i % 2)
    await change(server, id, 'White', setting('cameraColour', { source: 'kelvin', kelvin: 4000 + i }))
  if (i % 5 === 0) await paint(server, id, 0.02 + i / 20000)
  if (i % 7 === 0) {
    const { id: from } = await server.version(id)
    await server.send('POST', `/api/frames/${id}/versions`, { from, name: `Second of ${i}` })
    await change(server, id, 'Relief', setting('relief', { broad: 0.2 }), 1)
  }
}

/**
 * A library of a thousand frames that loses its database and is rebuilt from its folder and sidecars: what it says of
 * everything, and what is delivered of every twentieth frame, before and after.
 */
export async function rebuildTable(): Promise<string> {
  const library = mkdtempSync(join(tmpdir(), 'dunkelkammer-rebuild-'))
  let server = await startServer(library)
  try {
    const small = readFileSync(join(projectRoot(), 'packages/demo/frames/HM0403.dng'))
    const ids: string[] = []
    for (const [s, name] of ['Morning', 'Kilns', 'Quay', 'Calendar'].entries()) {
      const shoot = await server.newShoot({ name })
      for (let i = s; i < FRAMES; i += 4)
        ids.push(await server.frame(shoot.id, `F${i}.dng`, Buffer.concat([small, Buffer.from(`copy ${i}`)])))
    }
    for (const [i, id] of ids.entries()) {
      await develop(server, id, i)
      const words = { text: { title: `Frame ${i}`, keywords: ['mill', `n${i % 9}`] }, rating: i % 6 }
      await server.send('PATCH', '/api/frames', {
        changes: [{ ids: [id], ...words, mark: i % 11 ? 'none' : 'keep' }],
      })
    }
    let since = performance.now()
    const written = (await server.send<{ inLibrary: number }>('POST', '/api/sidecars', { ids })).body
    const writing = performance.now() - since
    const some = ids.filter((_, i) => i % DELIVERED === 0)
    const before = JSON.stringify(await wholeLibrary(server))
    const files: Buffer[] = []
    for (const id of some) files.push(await delivered(server, id))
    await server.kill()
    loseDatabase(library)
    server = await startServer(library)
    since = performance.now()
    const job = await server.job('POST', '/api/library/unknown/bring-in', {})
    const rebuilding = performance.now() - since
    const after = JSON.stringify(await wholeLibrary(server))
    let same = 0
    for (const [i, id] of some.entries()) if ((await delivered(server, id)).equals(files[i])) same++
    return [
      '| a library of 1,000 frames rebuilt from its folder and sidecars | |',
      '|---|--:|',
      `| sidecars written | ${written.inLibrary} in ${(writing / 1000).toFixed(1)} s |`,
      `| ${job.message} ${job.problems.length} problems | ${(rebuilding / 1000).toFixed(1)} s |`,
      `| all that it says of shoots, frames, versions and logs (${(before.length / 1e6).toFixed(1)} MB) | ${before === after ? 'the same' : 'differs'} |`,
      `| deliveries that are the same to the byte | ${same} of ${some.length} |`,
    ].join('\n')
  } finally {
    await server.kill()
    rmSync(library, { recursive: true, force: true })
  }
}
