import type { Development, FoundAnew } from '@dunkelkammer/core'
import { automatic, AUTOMATICS } from './automatic'
import type { Picture } from './picture'
import { findLevel, NothingFound } from './squaring'

/**
 * The development with some of its settings found in the picture: the level first, then white balance and tone. Where
 * lines tell no level, that stays as it is.
 * @returns also what was looked for and is not there
 */
export async function foundAnew(
  picture: Picture,
  development: Development,
  which: readonly FoundAnew[],
): Promise<{ development: Development; missing: FoundAnew[] }> {
  let now = development
  const missing: FoundAnew[] = []
  if (which.includes('level')) {
    try {
      const angle = await findLevel(picture, now)
      now = { ...now, steps: { ...now.steps, level: { ...now.steps.level, angle } } }
    } catch (error) {
      if (!(error instanceof NothingFound)) throw error
      missing.push('level')
    }
  }
  const rest = AUTOMATICS.filter((a) => which.includes(a))
  if (rest.length > 0) now = await automatic(picture, now, rest, 1)
  return { development: now, missing }
}
