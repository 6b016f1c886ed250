import {
  forOthers,
  MOST_AREAS,
  wishesOf,
  type Area,
  type Development,
  type FindWish,
} from '@dunkelkammer/core'
import type { Engine, Picture } from '@dunkelkammer/engine'
import { randomUUID } from 'node:crypto'
import type { Versions } from '../library/versions'
import { toProblem } from '../problem'
import type { Activity } from './activity'
import type { JobOutcome, JobReport } from './queue'

/** A frame that an area is pasted into. */
export interface PasteFrame {
  versionId: string
  fileName: string
  open(engine: Engine, signal: AbortSignal): Promise<Picture>
}

/** What a job works with. */
interface At {
  engine: () => Engine | Promise<Engine>
  versions: Pick<Versions, 'change' | 'standing'>
  /** It gives way to whoever is at work. */
  activity: Activity
  report: JobReport
}

/** What a job has made: the area of each version. */
export type AreasMade = readonly { versionId: string; area: string }[]

const frames = (count: number) => (count === 1 ? '1 frame' : `${count} frames`)

const withAreas = (d: Development, change: (all: readonly Area[]) => Area[]): Development => ({
  ...d,
  steps: { ...d.steps, areas: { areas: change(d.steps.areas.areas) } },
})

const nameOf = (wish: FindWish): string => (wish.kind === 'found' ? wish.what : 'near and far')

/**
 * Pastes an area into frames, one entry in the log of each, and then looks in each for what the area wants found: it is
 * there when the frame is opened, and where it is not, that is said.
 */
export async function pasteArea(
  asked: readonly PasteFrame[],
  pasted: Area,
  at: At,
): Promise<JobOutcome & { made: AreasMade }> {
  const { versions, report } = at
  const area = forOthers(pasted)
  const made: { versionId: string; area: string }[] = []
  const having: PasteFrame[] = []
  const name = area.name || 'Area'
  for (const frame of asked) {
    // requests that came in meanwhile go first
    await new Promise((done) => setImmediate(done))
    const id = randomUUID().slice(0, 13)
    try {
      const there = versions.standing(frame.versionId).development.steps.areas.areas.length
      if (there >= MOST_AREAS) {
        report.problem(`${frame.fileName}: there can be no more than ${MOST_AREAS} areas.`)
        continue
      }
      versions.change(frame.versionId, `${name} pasted`, (d) =>
        withAreas(d, (all) => [...all, { ...area, id, maskOf: undefined }]),
      )
      made.push({ versionId: frame.versionId, area: id })
      having.push(frame)
    } catch (error) {
      report.problem(`${frame.fileName}: ${toProblem(error).message}`)
    }
  }
  const { missing, looked } = await findIn(having, area, at)
  const said = [`${name} pasted into ${frames(made.length)}.`]
  if (missing > 0) said.push(`In ${frames(missing)} something was not found.`)
  // what has been pasted stays, and is found when a frame is opened
  if (looked < having.length) said.push(`Looking was stopped after ${frames(looked)}.`)
  return { message: said.join(' '), made }
}

/** @returns how many frames it looked in, and in how many of them something is missing */
async function findIn(
  having: readonly PasteFrame[],
  area: Area,
  { engine, versions, activity, report }: At,
): Promise<{ looked: number; missing: number }> {
  const wishes = wishesOf(area.mask)
  if (wishes.length === 0) return { looked: having.length, missing: 0 }
  let missing = 0
  for (const [i, frame] of having.entries()) {
    if (report.signal.aborted) return { looked: i, missing }
    report.progress(i / having.length, `pasted, looked at ${i} of ${frames(having.length)}`)
    const start = Date.now()
    try {
      const working = await engine()
      const picture = await frame.open(working, report.signal)
      try {
        const { development } = versions.standing(frame.versionId)
        const not: string[] = []
        for (const wish of wishes)
          if ((await picture.ask('found', development, wish)) === 0) not.push(nameOf(wish))
        if (not.length > 0) {
          missing++
          report.problem(
            `${frame.fileName}: no ${not.join(', no ')} was found; that part holds nothing there.`,
          )
        }
      } finally {
        working.close(picture)
      }
    } catch (error) {
      if (report.signal.aborted) return { looked: i, missing }
      report.problem(`${frame.fileName}: ${toProblem(error).message}`)
    }
    await activity.stepBack(Date.now() - start, report.signal)
  }
  return { looked: having.length, missing }
}

/** Takes the areas of a job back, whatever was done since. @returns frames that had one */
export function takeAreasBack(versions: Pick<Versions, 'change'>, made: AreasMade): number {
  let count = 0
  for (const { versionId, area } of made)
    try {
      const without = (d: Development) => withAreas(d, (all) => all.filter((a) => a.id !== area))
      if (versions.change(versionId, 'Pasted area taken back', without)) count++
    } catch (error) {
      // a version that is no more has nothing to take back
      if (toProblem(error).code !== 'not-found') throw error
    }
  return count
}
