import type { GiveSettingsSchema, Job } from '@dunkelkammer/contract'
import type { Engine, Picture } from '@dunkelkammer/engine'
import { randomUUID } from 'node:crypto'
import type { z } from 'zod'
import type { Finds } from '../library/finds'
import type { Frames } from '../library/frames'
import type { Versions } from '../library/versions'
import { notFound } from '../problem'
import type { Activity } from './activity'
import { giveSettings, type GivenFrame } from './giveSettings'
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

/** Takes on a job that gives settings to frames. @throws HttpProblem 404 where none of them is there */
export function startSettings(services: SettingsServices, wish: z.output<typeof GiveSettingsSchema>): Job {
  const { frames, versions, jobs, activity } = services
  const { id = randomUUID(), ids, label, give } = wish
  const rows = new Map(frames.rows(ids).map((row) => [row.id, row]))
  const shown = versions.shownOf([...rows.values()])
  const wanted = ids.flatMap((frame): GivenFrame[] => {
    const versionId = shown.get(frame)
    if (versionId === undefined) return []
    const { fileName, metadata } = rows.get(frame)!
    const open = opening(services, frame)
    return [{ frameId: frame, versionId, fileName, asShot: metadata.asShot, open }]
  })
  if (wanted.length === 0) throw notFound('frame')
  const title = `${label}: ${wanted.length === 1 ? wanted[0].fileName : `${wanted.length} frames`}`
  const engine = () => services.engine()
  const [from] = give.kind === 'changes' && give.from ? frames.rows([give.from]) : []
  const given = { batch: id, label, give, asShot: from?.metadata.asShot }
  return jobs.add(
    'settings',
    title,
    wish,
    (report) => giveSettings(wanted, given, { engine, versions, activity, report }),
    { id, made: { batch: id, versions: wanted.map((f) => f.versionId) } },
  )
}
