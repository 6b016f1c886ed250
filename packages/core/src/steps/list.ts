import { afterNoise } from './afterNoise/step'
import { areas } from './areas/step'
import { baseRendering } from './baseRendering/step'
import { cameraColour } from './cameraColour/step'
import { colourNoise } from './colourNoise/step'
import { colourfulness } from './colourfulness/step'
import { crop } from './crop/step'
import { curve } from './curve/step'
import { defects } from './defects/step'
import { demosaic } from './demosaic/step'
import { dodge } from './dodge/step'
import { edgeBurn } from './edgeBurn/step'
import { edgeColour } from './edgeColour/step'
import { enlarge, enlargeDetail } from './enlarge/step'
import { evenLighting } from './evenLighting/step'
import { exposure } from './exposure/step'
import { fallOff } from './fallOff/step'
import { mosaicFringes } from './fringes/mosaic'
import { fringes } from './fringes/step'
import { grain } from './grain/step'
import { greenBalance } from './greenBalance/step'
import { haze } from './haze/step'
import { highlights } from './highlights/step'
import { hueNodes } from './hueNodes/step'
import { lens } from './lens/step'
import { level } from './level/step'
import { light } from './light/step'
import { look } from './look/step'
import { monochrome } from './monochrome/step'
import { noise } from './noise/step'
import { patches } from './patches/step'
import { perspective } from './perspective/step'
import { points } from './points/step'
import { primaries } from './primaries/step'
import { rangeCurve } from './rangeCurve/step'
import { recovery } from './recovery/step'
import { relief } from './relief/step'
import { sharpen } from './sharpen/step'
import { tints } from './tints/step'
import { tones } from './tones/step'
import { toning } from './toning/step'
import { unsharp } from './unsharp/step'
import type { Step } from './step'

/**
 * The steps in the order of their computation, each described in its folder: everything else that is said of steps is
 * derived from this list. Before them the mosaic is read (levels, as-shot balance), after them comes the output (size,
 * gamut, transfer curve).
 */
export const STEPS = [
  // on the mosaic, channels balanced as shot
  defects,
  greenBalance,
  highlights,
  noise,
  mosaicFringes,
  demosaic,
  colourNoise,
  // on the full picture, in place
  patches,
  // where every pixel comes from: one map, one resampling
  lens,
  fringes,
  fallOff,
  level,
  perspective,
  crop,
  enlarge,
  // on the frame, camera colours: sharp, once it has its size
  enlargeDetail,
  sharpen,
  unsharp,
  afterNoise,
  // on the picture, camera colours
  cameraColour,
  edgeColour,
  // scene light, working space
  light,
  haze,
  exposure,
  evenLighting,
  recovery,
  tones,
  points,
  relief,
  // display light, working space: tone first
  baseRendering,
  primaries,
  curve,
  rangeCurve,
  // lightness, hue and colourfulness
  hueNodes,
  colourfulness,
  tints,
  dodge,
  monochrome,
  toning,
  look,
  // run by the steps before, in areas
  areas,
  // finish
  edgeBurn,
  grain,
] as const

type Any = (typeof STEPS)[number]
/** What the pipeline is made of: the steps, and second parts of some that run elsewhere, by the same settings. */
export type PartId = Any['id']
type WithSettings = Exclude<Any, { settingsOf: string }>
export type StepId = WithSettings['id']
/** The schema of each step's settings. */
export type StepSchemas = { [S in WithSettings as S['id']]: S['schema'] }

/** Steps that have settings of their own, in the same order. */
export const STEP_IDS = STEPS.filter((s) => !s.settingsOf).map((s) => s.id) as unknown as readonly [
  StepId,
  ...StepId[],
]

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- each step has settings of its own
export const stepById = new Map<PartId, Step<any, any>>(STEPS.map((s) => [s.id, s]))
