import {
  changesBetween,
  doneAgain,
  eachItem,
  forOthers,
  itemsOf,
  wishesOf,
  withPortion,
  type Area,
  type Change,
  type Development,
  type FindWish,
  type FoundAnew,
  FOUND_WORDS,
} from '@dunkelkammer/core'
import type { SharedSettings } from '@dunkelkammer/contract'
import { foundAnew, withLight, type Engine, type Picture } from '@dunkelkammer/engine'
import { randomUUID } from 'node:crypto'
import type { Versions } from '../library/versions'
import { toProblem } from '../problem'
import type { Activity } from './activity'
import type { JobOutcome, JobReport } from './kinds'

/** White in numbers. */
type White = { kelvin: number; tint: number }

/** A frame that is given settings. */
export interface GivenFrame {
  frameId: string
  /** The light that its camera took it for, where that is known. */
  asShot?: White
  versionId: string
  fileName: string
  open(engine: Engine, signal: AbortSignal): Promise<Picture>
}

/** What a job works with. */
interface At {
  engine: () => Engine | Promise<Engine>
  versions: Pick<Versions, 'change' | 'each' | 'standing'>
  /** It gives way to whoever is at work. */
  activity: Activity
  report: JobReport
}

/** What all frames are given, and under which name histories have it. */
export interface Given {
  /** Names the whole of it: it is taken back by that. */
  batch: string
  label: string
  give: SharedSettings
  /** The light that the camera took the frame for on which changes were made. */
  asShot?: White
}

/** Frames that are changed in one go: a disk takes its time for each, and requests have to wait so long. */
const AT_ONCE = 64

const frames = (count: number) => (count === 1 ? '1 frame' : `${count} frames`)
const nameOf = (wish: FindWish): string => (wish.kind === 'found' ? wish.what : 'near and far')

/** The settings of a frame's version with what is given. */
function withGiven(
  d: Development,
  { give, asShot }: Pick<Given, 'give' | 'asShot'>,
  frame: GivenFrame,
): Development {
  if (give.kind === 'light') {
    const light = give.light[frame.frameId]
    return light ? withLight(d, light) : d
  }
  return give.kind === 'portion'
    ? withPortion(d, give.portion, give.strength, () => randomUUID())
    : give.how === 'difference'
      ? doneAgain(...fromWhites(d, give.changes, asShot, frame.asShot), give.how)
      : doneAgain(d, give.changes, give.how)
}

/** A white balance as shot in the numbers that it amounts to. */
const inNumbers = <T>(settings: T, white: White): T =>
  (settings as { source?: unknown }).source === 'as-shot' ? { ...settings, ...white } : settings

/** Where changes take the white balance by number, it starts on both sides from what the camera took. */
function fromWhites(
  d: Development,
  changes: readonly Change[],
  there: White | undefined,
  here: White | undefined,
): [Development, readonly Change[]] {
  const isByNumber = ({ part, now }: Change) =>
    part === 'cameraColour' && (now.settings as { source?: unknown }).source === 'kelvin'
  if (!there || !here || !changes.some(isByNumber)) return [d, changes]
  const cameraColour = inNumbers(d.steps.cameraColour, here)
  const numbered = changes.map((c) =>
    isByNumber(c) ? { ...c, before: { ...c.before, settings: inNumbers(c.before.settings, there) } } : c,
  )
  return [{ ...d, steps: { ...d.steps, cameraColour } }, numbered]
}

/** What has to be found anew in each picture, after the rest is set. */
function automaticOf(give: SharedSettings): readonly FoundAnew[] {
  if (give.kind === 'light') return []
  if (give.kind === 'changes') return give.automatic
  return give.strength > 0 ? give.portion.automatic : []
}

/** Areas that come to a version, or were changed in it, as far as they want something found. */
function areasOf(give: SharedSettings): readonly Area[] {
  if (give.kind === 'light') return []
  if (give.kind === 'portion') return give.portion.areas
  return give.changes.flatMap(({ part, now }) => (part === 'areas' ? (itemsOf(now.settings) as Area[]) : []))
}

/** What is given for other pictures: what was corrected by hand in areas of its own is found anew there. */
function givenToOthers(give: SharedSettings): SharedSettings {
  if (give.kind !== 'changes') return give
  const areaForOthers = (change: Change) => eachItem(change, (item) => forOthers(item as Area))
  return { ...give, changes: give.changes.map((c) => (c.part === 'areas' ? areaForOthers(c) : c)) }
}

/**
 * Gives settings to frames, one entry in the log of each, and then finds in each what has to be found anew: it is there
 * when the frame is opened, and where it is not, that is said.
 */
export async function giveSettings(
  asked: readonly GivenFrame[],
  { batch, label, give: asGiven, asShot }: Given,
  at: At,
): Promise<JobOutcome> {
  const { versions, report } = at
  const give = givenToOthers(asGiven)
  const having: GivenFrame[] = []
  let changed = 0
  for (let i = 0; i < asked.length && !report.signal.aborted; i += AT_ONCE) {
    // requests that came in meanwhile go first
    await new Promise((done) => setImmediate(done))
    report.progress((i / asked.length) * (wants(give) ? 0.3 : 1))
    const some = asked.slice(i, i + AT_ONCE)
    const frameOf = new Map(some.map((f) => [f.versionId, f]))
    const of = () => ({ gesture: batch, preset: markOf(give) })
    const outcomes = versions.each([...frameOf.keys()], (one, id) =>
      one.change(id, label, (d) => withGiven(d, { give, asShot }, frameOf.get(id)!), of()),
    )
    for (const [at, outcome] of outcomes.entries()) {
      if (outcome instanceof Error) report.problem(`${some[at].fileName}: ${outcome.message}`)
      else having.push(some[at])
      if (outcome === true) changed++
    }
  }
  const stopped = having.length < asked.length && report.signal.aborted
  const { looked, missing } = await findIn(having, { batch, label, give }, at)
  const done = wants(give) ? having.length : changed
  const said = [`${label}: ${frames(done)}.`]
  if (stopped) said.push(`Stopped after ${having.length} of ${frames(asked.length)}.`)
  else if (done < having.length) said.push(`Nothing to change in ${frames(having.length - done)}.`)
  if (missing > 0) said.push(`In ${frames(missing)} something was not found.`)
  // what has been given stays, and is found when a frame is opened
  if (looked < having.length) said.push(`Looking was stopped after ${frames(looked)}.`)
  return { message: said.join(' '), made: { batch, versions: having.map((f) => f.versionId) } }
}

/** How the log names the application of a preset. */
function markOf(give: SharedSettings) {
  if (give.kind !== 'portion' || !give.preset) return undefined
  const { id, name } = give.preset
  return {
    ...{ application: randomUUID(), name, strength: give.strength },
    ...(id !== undefined && { preset: id }),
  }
}

/** Whether something has to be found in each picture. */
const wants = (give: SharedSettings): boolean =>
  automaticOf(give).length > 0 || areasOf(give).some(({ mask }) => wishesOf(mask).length > 0)

/** @returns how many frames it looked in, and in how many of them something is missing */
async function findIn(
  having: readonly GivenFrame[],
  { batch, label, give }: Given,
  { engine, versions, activity, report }: At,
): Promise<{ looked: number; missing: number }> {
  if (!wants(give)) return { looked: having.length, missing: 0 }
  const wishes = [...new Map(areasOf(give).flatMap(({ mask }) => wishesOf(mask)).map((w) => [JSON.stringify(w), w])).values()] // prettier-ignore
  const automatic = automaticOf(give)
  let missing = 0
  for (const [i, frame] of having.entries()) {
    if (report.signal.aborted) return { looked: i, missing }
    report.progress(0.3 + (0.7 * i) / having.length, `set, looked at ${i} of ${frames(having.length)}`)
    const start = Date.now()
    try {
      const working = await engine()
      const picture = await frame.open(working, report.signal)
      try {
        const { development } = versions.standing(frame.versionId)
        const found = await foundAnew(picture, development, automatic)
        const changes = changesBetween(development, found.development)
        // what was set meanwhile stays
        if (changes.length > 0)
          versions.change(frame.versionId, label, (d) => doneAgain(d, changes), { gesture: batch })
        const not: string[] = found.missing.map((what) => FOUND_WORDS[what].toLowerCase())
        for (const wish of wishes)
          if ((await picture.ask('found', found.development, wish)) === 0) not.push(`no ${nameOf(wish)}`)
        if (not.length > 0) {
          missing++
          report.problem(`${frame.fileName}: not found: ${not.join(', ')}.`)
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

/** What a job of this kind has made. */
export interface SettingsMade {
  batch: string
  versions: readonly string[]
}

/** Takes back what a job gave, whatever was done since. @returns frames that had it */
export async function takeSettingsBack(
  versions: Pick<Versions, 'each'>,
  { batch, versions: ids }: SettingsMade,
): Promise<number> {
  let count = 0
  for (let i = 0; i < ids.length; i += AT_ONCE) {
    await new Promise((done) => setImmediate(done))
    // a version that is no more has nothing to take back
    const outcomes = versions.each(ids.slice(i, i + AT_ONCE), (one, id) => one.takeGestureBack(id, batch))
    count += outcomes.filter((o) => o === true).length
  }
  return count
}
