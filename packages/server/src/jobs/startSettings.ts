import { GiveSettingsSchema, IdSchema, type Job } from '@dunkelkammer/contract'
import type { Engine, Picture } from '@dunkelkammer/engine'
import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import type { Finds } from '../library/finds'
import type { Frames } from '../library/frames'
import type { Versions } from '../library/versions'
import { notFound } from '../problem'
import type { Activity } from './activity'
import { giveSettings, type GivenFrame } from './giveSettings'
import { defineKind } from './kinds'
import type { JobQueue } from './queue'

/** What settings are given with. */
export interface SettingsServices {
  frames: Frames
  versions: Versions
  jobs: JobQueue
  finds: Finds
  activity: Activity
  engine(): Engine | Promise<Engine>
}

/** Opens the picture of a frame, with what was found in it before. */
export const opening =
  ({ frames, finds }: Pick<SettingsServices, 'frames' | 'finds'>, id: string) =>
  async (working: Engine, signal: AbortSignal): Promise<Picture> =>
    working.open(await frames.readOriginal(id), signal, undefined, finds.of(id))

/** What is asked for, and the versions that it is for, as they stood for their frames then. */
const SettingsOrderSchema = GiveSettingsSchema.extend({
  id: z.uuid(),
  versions: z.array(z.tuple([IdSchema, IdSchema])),
})

/** Takes on a job that gives settings to frames. @throws HttpProblem 404 where none of them is there */
export function startSettings(
  { frames, versions, jobs }: Pick<SettingsServices, 'frames' | 'versions' | 'jobs'>,
  wish: z.output<typeof GiveSettingsSchema>,
): Job {
  const { id = randomUUID(), ids, label } = wish
  const rows = frames.rows(ids)
  const shown = versions.shownOf(rows)
  const given = ids.flatMap((frame) => {
    const version = shown.get(frame)
    return version === undefined ? [] : [[frame, version] as [string, string]]
  })
  if (given.length === 0) throw notFound('frame')
  const one = rows.find((row) => row.id === given[0][0])!
  const title = `${label}: ${given.length === 1 ? one.fileName : `${given.length} frames`}`
  return jobs.add(
    'settings',
    title,
    { ...wish, id, versions: given },
    { id, made: { batch: id, versions: given.map(([, version]) => version) } },
  )
}

export const settingsKind = (services: Omit<SettingsServices, 'jobs'>) =>
  defineKind<z.output<typeof SettingsOrderSchema>>({
    schema: SettingsOrderSchema,
    run({ id, label, give, versions: given }, report) {
      const { frames, versions, activity } = services
      const rows = new Map(frames.rows(given.map(([frame]) => frame)).map((row) => [row.id, row]))
      const wanted = given.flatMap(([frame, versionId]): GivenFrame[] => {
        const row = rows.get(frame)
        if (!row) return []
        const { fileName, metadata } = row
        const open = opening(services, frame)
        return [{ frameId: frame, versionId, fileName, asShot: metadata.asShot, open }]
      })
      const [from] = give.kind === 'changes' && give.from ? frames.rows([give.from]) : []
      const engine = () => services.engine()
      const order = { batch: id, label, give, asShot: from?.metadata.asShot }
      return giveSettings(wanted, order, { engine, versions, activity, report })
    },
    stopped: () =>
      'The server stopped on the way. Frames that have the settings keep them; they can be taken back.',
  })
