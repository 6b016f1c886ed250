import {
  DUST_ROOM,
  dustPatch,
  isMended,
  SURE_DUST,
  type Development,
  type DustSpot,
  type Patch,
} from '@dunkelkammer/core'
import type { Engine } from '@dunkelkammer/engine'
import { randomUUID } from 'node:crypto'
import { FramesSchema } from '@dunkelkammer/contract'
import type { Frames } from '../library/frames'
import type { Versions } from '../library/versions'
import { toProblem } from '../problem'
import { defineKind, type JobOutcome, type JobReport } from './kinds'

/** A frame that is looked at for dust. */
export interface DustFrame {
  versionId: string
  fileName: string
  /** Frames of one camera and size have their dust at the same places. */
  camera: string
  development: Development
  /** Bytes of the original as the engine opens them. */
  read(): Promise<Uint8Array>
}

/** Where dust lies in a frame, and where it would be taken from. */
interface DustFound {
  frame: DustFrame
  spots: readonly (DustSpot & { source?: readonly [number, number] })[]
}

/** From which confidence on a spot is dust where another frame has some at the same place. */
const SURE_AGAIN = 0.15
/** How far apart the same dust may be seen in two frames, in radii. */
const APART = 0.8
/**
 * Looks for dust in frames one after the other; nothing is changed.
 * @throws where it is cancelled
 */
async function lookForDust(
  engine: Engine,
  frames: readonly DustFrame[],
  report: JobReport,
): Promise<DustFound[]> {
  const found: DustFound[] = []
  for (const [i, frame] of frames.entries()) {
    report.signal.throwIfAborted()
    report.progress(i / frames.length, `${i} of ${frames.length} frames looked at`)
    try {
      const picture = await engine.open(await frame.read(), report.signal)
      try {
        const { development } = frame
        const spots = (await picture.ask('dust', development)).filter(
          (d) => d.confidence >= SURE_AGAIN && !isMended(development.steps.patches.patches, d),
        )
        const sourced = []
        for (const spot of spots) {
          const [best] = await picture.ask('sources', development, {
            ...spot,
            radius: spot.radius * DUST_ROOM,
          })
          sourced.push({ ...spot, source: best?.source })
        }
        found.push({ frame, spots: sourced })
      } finally {
        engine.close(picture)
      }
    } catch (error) {
      report.signal.throwIfAborted()
      report.problem(`${frame.fileName}: ${toProblem(error).message}`)
    }
  }
  return found
}

/** The patches that each frame is given: of what is surely dust, there or at the same place in another frame. */
function dustPatches(found: readonly DustFound[]): Map<DustFrame, Patch[]> {
  const sure = (camera: string, { x, y, radius }: DustSpot, but: DustFrame) =>
    found.some(
      ({ frame, spots }) =>
        frame !== but &&
        frame.camera === camera &&
        spots.some(
          (d) =>
            d.confidence >= SURE_DUST && Math.hypot(d.x - x, d.y - y) < APART * Math.max(d.radius, radius),
        ),
    )
  return new Map(
    found.map(({ frame, spots }) => [
      frame,
      spots
        .filter((d) => d.confidence >= SURE_DUST || sure(frame.camera, d, frame))
        .map((d) => dustPatch(d, randomUUID().slice(0, 13), d.source)),
    ]),
  )
}

const places = (count: number) => (count === 1 ? '1 place' : `${count} places`)
const frames = (count: number) => (count === 1 ? '1 frame' : `${count} frames`)

type Patches = Development['steps']['patches']['patches']
const withPatches = (d: Development, change: (all: Patches) => Patches): Development => ({
  ...d,
  steps: { ...d.steps, patches: { patches: change(d.steps.patches.patches) } },
})

/** What a job has made: the patches of each version. */
export type DustMade = readonly { versionId: string; patches: readonly string[] }[]

/** Mends dust in frames: each version that has some gets one entry in its log. */
export async function mendDust(
  engine: Engine,
  asked: readonly DustFrame[],
  versions: Pick<Versions, 'change'>,
  report: JobReport,
): Promise<JobOutcome & { made: DustMade }> {
  const found = dustPatches(await lookForDust(engine, asked, report))
  report.signal.throwIfAborted()
  const made: { versionId: string; patches: string[] }[] = []
  for (const [{ versionId, fileName }, patches] of found) {
    if (patches.length === 0) continue
    try {
      versions.change(versionId, `Dust mended, ${places(patches.length)}`, (d) =>
        withPatches(d, (all) => [...all, ...patches]),
      )
      made.push({ versionId, patches: patches.map((p) => p.id) })
    } catch (error) {
      report.problem(`${fileName}: ${toProblem(error).message}`)
    }
  }
  const count = made.reduce((sum, { patches }) => sum + patches.length, 0)
  const message =
    count === 0
      ? `No dust found in ${frames(asked.length)}.`
      : `Dust mended in ${made.length} of ${frames(asked.length)}, ${places(count)}.`
  return { message, made }
}

/** Takes the patches of a job back, whatever was done since. @returns frames that had some */
export function takeDustBack(versions: Pick<Versions, 'change'>, made: DustMade): number {
  let count = 0
  for (const { versionId, patches } of made)
    try {
      const gone = new Set(patches)
      if (
        versions.change(versionId, 'Dust taken back', (d) =>
          withPatches(d, (all) => all.filter((p) => !gone.has(p.id))),
        )
      )
        count++
    } catch (error) {
      // a version that is no more has nothing to take back
      if (toProblem(error).code !== 'not-found') throw error
    }
  return count
}

interface DustServices {
  frames: Frames
  versions: Versions
  engine(): Engine | Promise<Engine>
}

export const dustKind = ({ frames: all, versions, engine }: DustServices) =>
  defineKind<{ ids: readonly string[] }>({
    schema: FramesSchema.pick({ ids: true }),
    async run({ ids }, report) {
      const rows = new Map(all.rows(ids).map((row) => [row.id, row]))
      const shown = versions.shownOf([...rows.values()])
      const wanted = ids.flatMap((id): DustFrame[] => {
        const [row, versionId] = [rows.get(id), shown.get(id)]
        if (!row || versionId === undefined) return []
        const { make, model } = row.metadata
        return [
          {
            ...{ versionId, fileName: row.fileName, development: versions.standing(versionId).development },
            camera: [make, model, row.width, row.height].join(' '),
            read: () => all.readOriginal(id),
          },
        ]
      })
      return mendDust(await engine(), wanted, versions, report)
    },
    stopped: () =>
      'The server stopped on the way. What was mended is in the history of its frame; look again for the rest.',
  })
