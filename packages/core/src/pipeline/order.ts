import {
  baseRendering,
  cameraColour,
  defects,
  demosaic,
  exposure,
  greenBalance,
  highlights,
  type Step,
} from '../steps'

/**
 * The steps in the order of their computation. Before them the mosaic is read (levels, as-shot balance), after
 * them comes the output (size, gamut, transfer curve). A new step is one folder in `steps` and one line here.
 */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- each step has settings of its own
export const order: readonly Step<any, any>[] = [
  // on the mosaic, channels balanced as shot
  defects,
  greenBalance,
  highlights,
  demosaic,
  // on the picture, camera colours
  cameraColour,
  // scene light, working space
  exposure,
  // display light, working space
  baseRendering,
]
