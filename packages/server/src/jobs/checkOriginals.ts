import type { Frames } from '../library/frames'
import type { Originals } from '../library/originals'
import type { Activity } from './activity'
import { progressLine } from './importFolder'
import { z } from 'zod'
import { defineKind, type JobOutcome, type JobReport } from './kinds'

const WHAT = {
  missing: 'The original is missing. Bring the file in again to put it back.',
  changed:
    'The original has changed since it was brought in. Bring the unchanged file in again to put it back.',
  unreadable: 'The original cannot be read.',
} as const

interface CheckServices {
  originals: Originals
  frames: Frames
  activity: Activity
}

export const checkKind = (services: CheckServices) =>
  defineKind({ schema: z.object({}), run: (_, report) => checkOriginals(services, report) })

/** Compares every original with its hash and names the frames of those that are not as they came in. */
async function checkOriginals(
  { originals, frames, activity }: CheckServices,
  report: JobReport,
): Promise<JobOutcome> {
  const all = originals.all()
  const began = Date.now()
  let bad = 0
  for (const [i, row] of all.entries()) {
    report.signal.throwIfAborted()
    report.progress(i / all.length, progressLine(i, all.length, (Date.now() - began) / 1000))
    const since = performance.now()
    const state = await originals.check(row).catch(() => 'unreadable' as const)
    if (state !== 'sound') {
      bad++
      for (const name of frames.namesOf(row.hash)) report.problem(`${name}: ${WHAT[state]}`)
    }
    await activity.stepBack(performance.now() - since, report.signal)
  }
  const counted = `${all.length} ${all.length === 1 ? 'original' : 'originals'} checked`
  return {
    message: bad ? `${counted}, ${bad} not as brought in.` : `${counted}, all as brought in.`,
  }
}
