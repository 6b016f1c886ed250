import type { Correction } from '../schema'
import { corrected } from './corrected'
import type { Findable } from './findable'
import { findGround } from './ground'
import { distancesIn, type Distances } from './distance'
import { matte, matteBorder } from './matte'
import type { Rough } from './rough'
import { findSky, findSkyAgain } from './sky'
import { enlarged, reduced, reducedSize, type Seen } from './small'
import { findSubject } from './subject'
import { findWater } from './water'

/** Long edges of the picture in which things are looked for, and in which the sky's border is looked for again. */
const COARSE = 320
const MIDDLE = 640

export interface Found {
  /** How much of each place it is, 0..1. */
  share: Float32Array
  /** How sure that is, 0..1; 0 where nothing was found. */
  confidence: number
}

const bySmall: Record<Findable, (small: Seen) => Rough> = {
  sky: findSky,
  water: findWater,
  ground: (small) => findGround(small, findSky(small).inside, findWater(small).inside),
  subject: (small) => findSubject(small, findSky(small).inside),
}

/**
 * Finds something in a picture, with a border as fine as that.
 * @param seen the whole picture standing upright, 1280 pixels across or so
 * @param corrections strokes on it over what belongs and what does not
 * @param onRough called once it is known about where it is
 */
export function find(
  what: Findable,
  seen: Seen,
  corrections: readonly Correction[] = [],
  onRough?: () => void,
): Found {
  const coarse = reduced(seen, COARSE)
  const { inside, confidence, end } = corrected(coarse.small, bySmall[what](coarse.small), corrections)
  onRough?.()
  if (confidence === 0) return { share: new Float32Array(seen.width * seen.height), confidence }
  // what was corrected by hand is not looked for again
  if (what !== 'sky' || corrections.length > 0) {
    const rough = enlarged(inside, coarse.small, coarse.by, seen)
    return { share: matteBorder(seen, rough, coarse.by + 1, end), confidence }
  }
  const middle = reduced(seen, MIDDLE)
  const again = enlarged(inside, coarse.small, coarse.by / middle.by, middle.small)
  const rough = enlarged(findSkyAgain(middle.small, again, end), middle.small, middle.by, seen)
  return { share: matte(seen, rough, end), confidence }
}

/** Long edge of the picture that is divided into regions, and the contrast of their borders. */
export const REGIONS_AT = 640
const BORDER = 0.05

/** Some places of the picture that is divided, with a border as fine as a larger one. @param inside 0 or 1 */
export function fineShare(seen: Seen, inside: Uint8Array): Float32Array {
  const small = reducedSize(seen, REGIONS_AT)
  return matteBorder(seen, enlarged(inside, small, small.by, seen), small.by + 1, BORDER)
}

/** A rough order of what is near and far in a picture. */
export function distances(seen: Seen): Distances {
  const { small, by } = reduced(seen, COARSE)
  const { far, confidence } = distancesIn(small, findSky(small).inside)
  return { far: enlarged(far, small, by, seen), confidence }
}
