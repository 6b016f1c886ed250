import { stepById, type Plan, type PlannedStep, type Surveyed } from '@dunkelkammer/core'
import { NOTHING, type Kept } from '../cache'
import type { Framed as Frame } from '../framing'
import type { Releasable } from '../resources'
import { keyOf, unscaled, withoutAreas } from './keys'
import type { Ground } from './ground'
import type { Overview } from './overview'
import { sketchKey } from './sketch'

/** Maps for the steps that look at the picture as a whole, and tables for those that go by one. */
export class Surveys {
  constructor(
    private readonly ground: Ground,
    private readonly overview: Overview,
  ) {}

  /** A plan's later steps with their maps. @param held they are put here, to be released after use */
  async steps(plan: Plan, frame: Frame, held: Releasable[]): Promise<PlannedStep[]> {
    const out: PlannedStep[] = []
    for (const planned of plan.render) {
      const { survey, table } = stepById.get(planned.id)!
      const name = table?.(planned.settings)
      if (name !== undefined) {
        const resource = await this.ground.resources.get('table', name)
        held.push(resource)
        out.push({ ...planned, surveyed: resource.value })
      } else if (survey) out.push({ ...planned, surveyed: await this.maps(plan, frame, planned, out, held) })
      else out.push(planned)
    }
    return out
  }

  private async maps(
    plan: Plan,
    frame: Frame,
    { id, settings }: PlannedStep,
    all: readonly PlannedStep[],
    held: Releasable[],
  ): Promise<Surveyed> {
    const { before, lift } = unscaled(withoutAreas(all))
    const survey = stepById.get(id)!.survey!
    const { section, pool } = this.ground
    const overview = survey.looks ? await this.overview.take(plan, frame) : undefined
    try {
      const source = overview?.raster ?? { ...NOTHING, offset: 0 }
      const { width, height } = source
      const looked = survey.looks ? [sketchKey(plan), frame.key, width, keyOf(before)] : []
      const key = ['survey', id, survey.key(settings), ...looked].join(' ')
      const maps: Kept = await section.take(key, async () => {
        const kept = section.cache.bytes(survey.bytes(settings, source))
        try {
          await pool.run({
            ...{ kind: 'surveyStep', picture: frame.open, steps: before, source, step: id, settings },
            target: kept.raster.offset,
          })
          return kept
        } catch (error) {
          kept.drop()
          throw error
        }
      })
      held.push(maps)
      return { at: maps.raster.offset, width, height, lift }
    } finally {
      overview?.release()
    }
  }
}
