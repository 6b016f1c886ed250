import type { Raster } from '../memory'
import type { Rect, SensorFrame } from '../raw'
import { asShotBalance } from '../colour'
import type { PictureContext } from '../steps'

/** A picture opened in an engine: where its mosaic lies, and what its steps may know. Plain data. */
export interface OpenPicture {
  id: number
  mosaic: Raster
  active: Rect
  picture: Rect
  /** Black of the four places of the pattern, then the factor on what is above it. */
  levels: readonly number[]
  context: PictureContext
}

/** Joins a file's description with the place of its mosaic in memory. */
export function describePicture(id: number, frame: SensorFrame, mosaic: Raster): OpenPicture {
  const balance = asShotBalance(frame.colour)
  const gains = frame.pattern.map((colour, i) => balance[colour] / (frame.white - frame.black[i]))
  return {
    id,
    mosaic,
    active: frame.active,
    picture: frame.picture,
    levels: [...frame.black, ...gains],
    context: {
      width: frame.picture.width,
      height: frame.picture.height,
      pattern: frame.pattern,
      colour: frame.colour,
      balance,
      noise: frame.noise,
    },
  }
}
