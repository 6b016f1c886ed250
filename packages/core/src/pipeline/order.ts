import {
  colourNoise,
  baseRendering,
  cameraColour,
  defects,
  demosaic,
  noise,
  lens,
  fringes,
  fallOff,
  level,
  perspective,
  crop,
  edgeColour,
  exposure,
  greenBalance,
  highlights,
  evenLighting,
  recovery,
  tones,
  points,
  primaries,
  curve,
  rangeCurve,
  hueNodes,
  colourfulness,
  tints,
  monochrome,
  toning,
  look,
  edgeBurn,
  grain,
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
  noise,
  demosaic,
  colourNoise,
  // where every pixel comes from: one map, one resampling
  lens,
  fringes,
  fallOff,
  level,
  perspective,
  crop,
  // on the picture, camera colours
  cameraColour,
  edgeColour,
  // scene light, working space
  exposure,
  evenLighting,
  recovery,
  tones,
  points,
  // display light, working space: tone first
  baseRendering,
  primaries,
  curve,
  rangeCurve,
  // lightness, hue and colourfulness
  hueNodes,
  colourfulness,
  tints,
  monochrome,
  toning,
  look,
  // finish
  edgeBurn,
  grain,
]
