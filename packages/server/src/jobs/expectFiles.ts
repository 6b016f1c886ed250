import type { ExpectedFile, ExpectedFiles, NewFilesSchema } from '@dunkelkammer/contract'
import { nameFrom } from '@dunkelkammer/core'
import { endingOf, filesOf, holdsPages, numbered, sizeIn } from '@dunkelkammer/engine/deliveries'
import { existsSync } from 'node:fs'
import { statfs } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { z } from 'zod'
import { toProblem } from '../problem'
import { chosenFrames, factsOf, folderFor, type DeliverServices } from './deliverFiles'

/** What a job would make, and where: nothing is made, and nothing is opened. */
export async function expectFiles(
  services: DeliverServices,
  { frames: wanted, deliveries }: z.output<typeof NewFilesSchema>,
): Promise<ExpectedFiles> {
  const { frames, versions, shoots } = services
  const chosen = chosenFrames(services, wanted)
  const names = new Map(chosen.map(({ row }) => [row.shootId, '']))
  for (const id of names.keys()) names.set(id, shoots.require(id).name)
  const files: ExpectedFile[] = []
  const given = new Set<string>()
  const disks = new Set<string>()
  for (const { frame, delivery: d } of filesOf(chosen.length, deliveries)) {
    const { row, versionId } = chosen[frame]
    const delivery = deliveries[d]
    const { name } = versions.standing(versionId)
    const place = frames.original(row.id)
    const facts = factsOf(row, names.get(row.shootId)!, name)
    const size = sizeIn(delivery, row)
    const about = { ...facts, delivery: delivery.name, number: frame + 1, of: chosen.length, ...size }
    const fileName = nameFrom(delivery.fileName, about) + endingOf(delivery, row.fileName)
    const all = holdsPages(delivery) && chosen.length > 1
    const common = { frameId: row.id, frameName: all ? `${chosen.length} frames` : row.fileName, delivery: d }
    try {
      const folder = folderFor(delivery, place.inPlace ? dirname(place.path) : undefined, services)
      disks.add(folder)
      const path = join(folder, fileName)
      const taken = existsSync(path) || given.has(path)
      let free = path
      if (delivery.taken === 'number' || given.has(path))
        for (let n = 2; existsSync(free) || given.has(free); n++) free = numbered(path, n)
      given.add(free)
      files.push({ ...common, path: free, taken })
    } catch (error) {
      files.push({ ...common, path: fileName, taken: false, problem: toProblem(error).message })
    }
  }
  return { files, free: await freeIn([...disks]) }
}

/** Bytes that are free in the fullest of the folders' disks. */
async function freeIn(folders: readonly string[]): Promise<number | undefined> {
  const all = await Promise.all(
    folders.map(async (folder) => {
      let at = folder
      while (!existsSync(at) && dirname(at) !== at) at = dirname(at)
      const { bavail, bsize } = await statfs(at)
      return bavail * bsize
    }),
  ).catch(() => [])
  return all.length > 0 ? Math.min(...all) : undefined
}
