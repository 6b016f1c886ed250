import { metadataWith } from '@dunkelkammer/engine/words'
import { IdSchema, type Job, type NewFilesSchema } from '@dunkelkammer/contract'
import {
  appliedAt,
  DeliverySchema,
  readPresetText,
  withPortion,
  writeMadeBy,
  type Delivery,
  type Development,
  type FoundAnew,
} from '@dunkelkammer/core'
import { foundAnew, type Engine, type Picture } from '@dunkelkammer/engine'
import {
  filesOf,
  holdsPages,
  isEnded,
  makeFiles,
  type FrameSource,
  type Part,
} from '@dunkelkammer/engine/deliveries'
import { DoesNotFit } from '@dunkelkammer/engine/encode'
import { randomUUID } from 'node:crypto'
import { existsSync, realpathSync } from 'node:fs'
import { basename, dirname, extname, join } from 'node:path'
import { z } from 'zod'
import type { Frames } from '../library/frames'
import type { Bulk } from '../library/bulk'
import type { LibraryFolder } from '../library/folder'
import type { PresetShelf } from '../library/presets'
import type { ColourProfiles } from '../library/profiles'
import { withinRoots } from '../library/roots'
import { textOf, type FrameRow } from '../library/rows'
import type { Shoots } from '../library/shoots'
import type { Sidecars } from '../library/sidecars/sidecars'
import { writeXmp } from '../library/sidecars/xmp'
import type { Versions } from '../library/versions'
import type { Finds } from '../library/finds'
import { HttpProblem, notFound, toProblem } from '../problem'
import type { HandOvers } from '../handOver/handOvers'
import type { Programs } from '../handOver/programs'
import { AWAITED_SHARE, type Activity } from './activity'
import { inSeconds } from './importFolder'
import { defineKind, type JobOutcome, type JobReport } from './kinds'
import type { JobParts } from './partsJournal'
import type { JobQueue } from './queue'
import { opening } from './startSettings'

/** What deliveries are made with. */
export interface DeliverServices {
  frames: Frames
  versions: Versions
  shoots: Shoots
  finds: Finds
  folder: LibraryFolder
  presets: PresetShelf
  profiles: ColourProfiles
  sidecars: Sidecars
  bulk: Bulk
  parts: JobParts
  activity: Activity
  handOvers: HandOvers
  programs: Programs
  roots: readonly string[]
  engine(): Engine | Promise<Engine>
}

/** Files up to which somebody is taken to wait for them. */
const AWAITED_FILES = 3
/** Share of the time that more of them take while somebody is at work. */
const BATCH_SHARE = 0.4

/** What is to be made: by which deliveries, of which versions as they stood when it was asked for. */
export const DeliverOrderSchema = z.object({
  deliveries: z.array(DeliverySchema).min(1),
  frames: z.array(z.object({ id: IdSchema, versionId: IdSchema, entry: z.string().nullable() })).min(1),
  presets: z.array(z.object({ file: z.unknown(), strength: z.number() })),
})
type DeliverOrder = z.output<typeof DeliverOrderSchema>

/** Frames with the versions that are to be delivered, in the order in which they were asked for. */
export function chosenFrames(
  { frames, versions }: Pick<DeliverServices, 'frames' | 'versions'>,
  wanted: z.output<typeof NewFilesSchema>['frames'],
): { row: FrameRow; versionId: string }[] {
  const rows = new Map(frames.rows(wanted.map((f) => f.id)).map((row) => [row.id, row]))
  const shown = versions.shownOf([...rows.values()])
  return wanted.flatMap(({ id, versionId = shown.get(id) }) => {
    const row = rows.get(id)
    return row && versionId !== undefined ? [{ row, versionId }] : []
  })
}

/** Takes on a job that makes files. @throws HttpProblem 404 where none of the frames is there */
export async function startDelivery(
  services: DeliverServices & { jobs: JobQueue },
  { id = randomUUID(), frames: wanted, deliveries, presets }: z.output<typeof NewFilesSchema>,
): Promise<Job> {
  const { versions, parts, jobs } = services
  const chosen = chosenFrames(services, wanted)
  if (chosen.length === 0) throw notFound('frame')
  for (const delivery of deliveries) {
    await checkPlace(delivery, services.roots)
    if (delivery.handOver?.to === 'program') services.programs.require(delivery.handOver.program)
    if (typeof delivery.space === 'object') await services.profiles.bytes(delivery.space.profile)
  }
  const order: DeliverOrder = {
    deliveries,
    frames: chosen.map(({ row, versionId }) => ({
      id: row.id,
      versionId,
      entry: versions.headOf(versionId),
    })),
    presets: presets.map(({ id: preset, strength }) => ({ file: services.presets.file(preset), strength })),
  }
  const names = deliveries.map((d) => d.name).join(', ')
  const title = `${names}: ${chosen.length === 1 ? chosen[0].row.fileName : `${chosen.length} frames`}`
  return jobs.add('deliver', title, order, {
    id,
    parts: (tx) => {
      parts.begin(
        tx,
        id,
        filesOf(chosen.length, deliveries).map(({ number, frame, delivery }) => {
          const { row, versionId } = chosen[frame]
          const all = holdsPages(deliveries[delivery]) && chosen.length > 1
          return {
            ...{ number, frameId: row.id, versionId, delivery },
            frameName: all ? `${chosen.length} frames` : row.fileName,
            deliveryName: deliveries[delivery].name,
          }
        }),
      )
    },
  })
}

/** @throws HttpProblem where a delivery's folder may not be used */
export async function checkPlace({ place }: Delivery, roots: readonly string[]): Promise<void> {
  if (place.in === 'folder') await withinRoots(place.path, roots)
}

/** The folder that a delivery's files go to. @throws HttpProblem where there is none for this frame */
export function folderFor(
  { place, name }: Delivery,
  beside: string | undefined,
  { folder, roots }: Pick<DeliverServices, 'folder' | 'roots'>,
): string {
  switch (place.in) {
    case 'library':
      return join(folder.deliveries, place.subfolder)
    case 'folder': {
      // it may have become a link elsewhere since it was checked
      const real = existsSync(place.path) ? realpathSync(place.path) : undefined
      if (!real) throw new HttpProblem(404, 'not-found', `The folder of “${name}” is no longer there.`)
      const allowed = roots.map((root) => realpathSync(root))
      if (!allowed.some((root) => real === root || real.startsWith(join(root, '/'))))
        throw new HttpProblem(403, 'outside', `The server may not write into the folder of “${name}”.`)
      return join(real, place.subfolder)
    }
    case 'beside':
      if (beside === undefined)
        throw new HttpProblem(
          409,
          'in-library',
          'The original is kept in the library, and nothing is put beside it there. Choose a folder for this delivery.',
        )
      return join(beside, place.subfolder)
  }
}

/** What is known of a frame for the names of its files. */
export const factsOf = (row: FrameRow, shoot: string, version: string): FrameSource['facts'] => ({
  name: basename(row.fileName, extname(row.fileName)),
  ...{ shoot, version, stars: row.rating, taken: row.metadata.taken },
  ...{ camera: row.metadata.model, lens: row.metadata.lens },
})

export function sourceOf(services: DeliverServices, order: DeliverOrder, id: string): FrameSource {
  const { frames, versions, shoots, sidecars, bulk } = services
  const asked = order.frames.find((f) => f.id === id)!
  const [row] = frames.rows([id])
  if (!row) throw new HttpProblem(404, 'not-found', 'The frame has been removed.')
  const { name } = versions.standing(asked.versionId)
  const { development, automatic } = withPresets(
    versions.at(asked.versionId, asked.entry).development,
    order.presets,
  )
  const place = frames.original(id)
  const text = textOf(row)
  return {
    facts: factsOf(row, shoots.require(row.shootId).name, name),
    development,
    original: place.path,
    beside: place.inPlace ? dirname(place.path) : undefined,
    originalName: row.fileName,
    open: opening(services, id),
    found: (picture: Picture) =>
      foundAnew(picture, development, automatic).then((found) => found.development),
    metadata: (original) => metadataWith(original, text),
    xmp(delivery, made) {
      const { metadata, keepSettings } = delivery
      if (metadata === 'nothing') return undefined
      const words = { delivery: delivery.name, version: name, development: made }
      const madeBy = keepSettings ? writeMadeBy(words, (bulkName) => bulk.find(bulkName)) : undefined
      return metadata === 'words'
        ? writeXmp(text, 0, 'none', { madeBy })
        : writeXmp(text, row.rating, row.mark, { madeBy, label: row.metadata.label })
    },
    sidecar: () => Promise.resolve(sidecars.textFor(row)),
  }
}

export function withPresets(
  start: Development,
  presets: DeliverOrder['presets'],
): { development: Development; automatic: FoundAnew[] } {
  const automatic: FoundAnew[] = []
  let development = start
  for (const { file, strength } of presets) {
    const { preset } = readPresetText(JSON.stringify(file))
    const by = appliedAt(preset, strength)
    development = withPortion(development, preset.portion, by, () => randomUUID())
    if (by > 0) automatic.push(...preset.portion.automatic)
  }
  return { development, automatic }
}

const sentence = (error: unknown) => (error instanceof DoesNotFit ? error.message : toProblem(error).message)

export const deliverKind = (services: DeliverServices) =>
  defineKind<DeliverOrder>({
    schema: DeliverOrderSchema,
    run: (order, report) => deliver(services, order, report),
    cancelled: (said) =>
      said ? `Cancelled at ${said.split(',')[0]}. Files that were made stay.` : 'Cancelled.',
    pauses: true,
    again: (id) => services.parts.again(id),
  })

async function deliver(
  services: DeliverServices,
  order: DeliverOrder,
  report: JobReport,
): Promise<JobOutcome> {
  const { activity, parts } = services
  const journal = parts.journal(report.id)
  const all = journal.parts()
  const handOver = (part: Part) => services.handOvers.give(report.id, part, order.deliveries[part.delivery])
  // a stop may have come between the making of a file and its being given away
  for (const part of all) if (part.state === 'done') handOver(part)
  const shares = new Map<number, number>()
  const before = all.filter(isEnded).length
  const began = Date.now()
  const tell = () => {
    const ended = all.filter(isEnded).length
    const done = ended + [...shares.values()].reduce((a, b) => a + b, 0)
    const seconds = (Date.now() - began) / 1000
    report.progress(
      done / all.length,
      all.length > 1 ? madeLine(ended, all.length, done - before, seconds) : undefined,
    )
  }
  const share = all.length > AWAITED_FILES ? BATCH_SHARE : AWAITED_SHARE
  let told = 0
  await makeFiles({
    ...{ journal, deliveries: order.deliveries, signal: report.signal, sentence },
    frames: order.frames.map(({ id }) => id),
    frame: (id) => sourceOf(services, order, id),
    folder: (delivery, source) => folderFor(delivery, source.beside, services),
    engine: () => services.engine(),
    profile: (id) => services.profiles.bytes(id),
    stepBack: (ms) => activity.stepBack(ms, report.signal, share),
    onPart(part, done) {
      const ended = isEnded(part)
      if (ended) shares.delete(part.number)
      else shares.set(part.number, done)
      if (part.state === 'done') {
        noteDelivered(services, order, part)
        handOver(part)
      }
      // a sentence is written each time that it is told
      if (ended || Date.now() - told > 500) {
        told = Date.now()
        tell()
      }
    },
  })
  return outcome(all, order, report)
}

function noteDelivered({ frames, versions }: DeliverServices, order: DeliverOrder, part: Part): void {
  const delivery = order.deliveries[part.delivery]
  for (const { id, versionId, entry } of order.frames) {
    if (id !== part.frame && !holdsPages(delivery)) continue
    // worked on since it was asked for: what was delivered is not what it is now
    const revision = versions.headOf(versionId) === entry ? versions.revisionOf(versionId) : undefined
    frames.markDelivered(id, delivery.name, revision)
  }
}

const madeLine = (ended: number, all: number, done: number, seconds: number) =>
  done <= 0 || seconds < 1
    ? `${ended} of ${all}`
    : `${ended} of ${all}, ${inSeconds(((all - ended) * seconds) / done)} left`

function outcome(all: readonly Part[], order: DeliverOrder, report: JobReport): JobOutcome {
  const of = (state: Part['state']) => all.filter((p) => p.state === state)
  const [made, skipped, failed] = [of('done'), of('skipped'), of('failed')]
  for (const part of [...failed, ...skipped])
    report.problem(`${order.deliveries[part.delivery].name}: ${part.message ?? 'It could not be made.'}`)
  if (all.length === 1) {
    if (failed.length === 1)
      throw new HttpProblem(500, 'not-made', failed[0].message ?? 'It could not be made.')
    const [part] = all
    return part.state === 'done'
      ? { message: `Saved as ${basename(part.file!)}.`, fileName: basename(part.file!) }
      : { message: 'Not made: a file of that name is there.' }
  }
  const words = [`${made.length} ${made.length === 1 ? 'file' : 'files'} made`]
  if (skipped.length) words.push(`${skipped.length} passed over`)
  if (failed.length) words.push(`${failed.length} failed`)
  return { message: `${words.join(', ')}.`, retries: failed.length > 0 }
}
