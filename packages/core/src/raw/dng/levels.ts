import { damaged, unsupported } from '../error'
import type { Levels } from '../frame'
import type { Rect } from '../rect'
import type { Ifd } from '../tiff/reader'
import { TAG } from '../tiff/tags'

/** Black and white levels (DNG 1.7, chapters 4 and 5), checked to leave room for a picture. */
export function readLevels(
  ifd: Ifd,
  active: Rect,
  samples: number,
  topValue: number,
  tableTop: number | undefined,
): Levels {
  const dim = ifd.numbers(TAG.BlackLevelRepeatDim)
  const [rows, columns] = dim.length === 2 ? dim : [1, 1]
  const values = ifd.numbers(TAG.BlackLevel)
  if (!(rows >= 1 && columns >= 1 && rows <= 16 && columns <= 16))
    throw unsupported('its black level pattern')
  const count = rows * columns * samples
  // one value a place may stand for all colours
  const each = values.length === rows * columns ? samples : 1
  if (values.length !== 0 && values.length * each !== count) throw damaged('its black levels are incomplete')
  const black = {
    rows,
    columns,
    values: values.length
      ? values.flatMap((v) => new Array<number>(each).fill(v))
      : new Array<number>(count).fill(0),
  }
  const given = ifd.numbers(TAG.WhiteLevel)
  const white = Array.from(
    { length: samples },
    (_, i) => given[Math.min(i, given.length - 1)] ?? tableTop ?? topValue,
  )
  const delta = (tag: number, length: number) => {
    const v = ifd.numbers(tag)
    if (v.length === 0 || v.every((d) => d === 0)) return undefined
    if (v.length !== length || !v.every(isFinite)) throw damaged('its black levels are incomplete')
    return v
  }
  const deltaH = delta(TAG.BlackLevelDeltaH, active.width)
  const deltaV = delta(TAG.BlackLevelDeltaV, active.height)
  const most = (list: readonly number[] | undefined) => list?.reduce((a, b) => Math.max(a, b)) ?? 0
  const highestBlack = Array.from(
    { length: samples },
    (_, sample) => most(black.values.filter((_, i) => i % samples === sample)) + most(deltaH) + most(deltaV),
  )
  if (!black.values.every(isFinite) || !white.every((w, i) => isFinite(w) && w > highestBlack[i]))
    throw damaged('its white level lies below its black level')
  return { black, white, highestBlack, deltaH, deltaV }
}
