import type { Area, Development } from '@dunkelkammer/core'
import type { Job } from '@dunkelkammer/contract'
import type { Versions } from '../library/versions'
import { toProblem } from '../problem'
import { takeSettingsBack, type SettingsMade } from './giveSettings'
import { takeDustBack, type DustMade } from './mendDust'

/** What a job has made that pasted an area, before settings were given in one way. */
type AreasMade = readonly { versionId: string; area: string }[]

function takeAreasBack(versions: Pick<Versions, 'change'>, made: AreasMade): number {
  let count = 0
  for (const { versionId, area } of made)
    try {
      const left = (all: readonly Area[]) => all.filter((a) => a.id !== area)
      const without = (d: Development): Development => ({
        ...d,
        steps: { ...d.steps, areas: { areas: left(d.steps.areas.areas) } },
      })
      if (versions.change(versionId, 'Pasted area taken back', without)) count++
    } catch (error) {
      // a version that is no more has nothing to take back
      if (toProblem(error).code !== 'not-found') throw error
    }
  return count
}

/** Takes back what a job has made. @returns in how many frames */
export async function takeMadeBack(versions: Versions, made: unknown, kind: Job['kind']): Promise<number> {
  if (kind === 'settings') return takeSettingsBack(versions, made as SettingsMade)
  return kind === 'areas'
    ? takeAreasBack(versions, made as AreasMade)
    : takeDustBack(versions, made as DustMade)
}
