import { srgb } from '../colour'
import { decode } from '../output/target'

/** Linear light of the 256 levels of encoded sRGB. */
export const LIGHT_OF_LEVEL: readonly number[] = Array.from({ length: 256 }, (_, i) =>
  decode(srgb.curve, i / 255),
)
