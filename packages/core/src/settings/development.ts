import { z } from 'zod'
import { BaseRenderingSchema } from '../steps/baseRendering/schema'
import { CameraColourSchema } from '../steps/cameraColour/schema'
import { DefectsSchema } from '../steps/defects/schema'
import { NoiseSchema } from '../steps/noise/schema'
import { DemosaicSchema } from '../steps/demosaic/schema'
import { LensSchema } from '../steps/lens/schema'
import { FringesStepSchema } from '../steps/fringes/schema'
import { FallOffSchema } from '../steps/fallOff/schema'
import { LevelSchema } from '../steps/level/schema'
import { PerspectiveSchema } from '../steps/perspective/schema'
import { SharpenSchema } from '../steps/sharpen/schema'
import { UnsharpSchema } from '../steps/unsharp/schema'
import { AfterNoiseSchema } from '../steps/afterNoise/schema'
import { HazeSchema } from '../steps/haze/schema'
import { ReliefSchema } from '../steps/relief/schema'
import { EnlargeSchema } from '../steps/enlarge/schema'
import { CropSchema } from '../steps/crop/schema'
import { EdgeColourSchema } from '../steps/edgeColour/schema'
import { ExposureSchema } from '../steps/exposure/schema'
import { GreenBalanceSchema } from '../steps/greenBalance/schema'
import { HighlightsSchema } from '../steps/highlights/schema'
import { EvenLightingSchema } from '../steps/evenLighting/schema'
import { RecoverySchema } from '../steps/recovery/schema'
import { TonesSchema } from '../steps/tones/schema'
import { PointsSchema } from '../steps/points/schema'
import { PrimariesSchema } from '../steps/primaries/schema'
import { CurveSchema } from '../steps/curve/schema'
import { RangeCurveSchema } from '../steps/rangeCurve/schema'
import { HueNodesSchema } from '../steps/hueNodes/schema'
import { ColourfulnessSchema } from '../steps/colourfulness/schema'
import { TintsSchema } from '../steps/tints/schema'
import { MonochromeSchema } from '../steps/monochrome/schema'
import { ToningSchema } from '../steps/toning/schema'
import { LookSchema } from '../steps/look/schema'
import { EdgeBurnSchema } from '../steps/edgeBurn/schema'
import { GrainSchema } from '../steps/grain/schema'
import { STAGES, STEP_IDS } from '../steps/step'

/** Format of the settings; older ones are brought up by `migrate`. */
export const SETTINGS_VERSION = 1

const share = z.number().min(0).max(1)
const AreaSchema = z.object({ x: share, y: share, width: share, height: share })
export type InterestArea = z.infer<typeof AreaSchema>
export const MOST_PINS = 8

/** All settings of one version of a frame. Missing parts take their defaults, unknown parts are refused. */
export const DevelopmentSchema = z.strictObject({
  format: z.literal(SETTINGS_VERSION).default(SETTINGS_VERSION),
  steps: z
    .strictObject({
      defects: DefectsSchema.prefault({}),
      greenBalance: GreenBalanceSchema.prefault({}),
      highlights: HighlightsSchema.prefault({}),
      noise: NoiseSchema.prefault({}),
      demosaic: DemosaicSchema.prefault({}),
      lens: LensSchema.prefault({}),
      fringes: FringesStepSchema.prefault({}),
      fallOff: FallOffSchema.prefault({}),
      level: LevelSchema.prefault({}),
      perspective: PerspectiveSchema.prefault({}),
      crop: CropSchema.prefault({}),
      enlarge: EnlargeSchema.prefault({}),
      sharpen: SharpenSchema.prefault({}),
      unsharp: UnsharpSchema.prefault({}),
      afterNoise: AfterNoiseSchema.prefault({}),
      cameraColour: CameraColourSchema.prefault({}),
      edgeColour: EdgeColourSchema.prefault({}),
      haze: HazeSchema.prefault({}),
      exposure: ExposureSchema.prefault({}),
      evenLighting: EvenLightingSchema.prefault({}),
      recovery: RecoverySchema.prefault({}),
      tones: TonesSchema.prefault({}),
      points: PointsSchema.prefault({}),
      relief: ReliefSchema.prefault({}),
      baseRendering: BaseRenderingSchema.prefault({}),
      primaries: PrimariesSchema.prefault({}),
      curve: CurveSchema.prefault({}),
      rangeCurve: RangeCurveSchema.prefault({}),
      hueNodes: HueNodesSchema.prefault({}),
      colourfulness: ColourfulnessSchema.prefault({}),
      tints: TintsSchema.prefault({}),
      monochrome: MonochromeSchema.prefault({}),
      toning: ToningSchema.prefault({}),
      look: LookSchema.prefault({}),
      edgeBurn: EdgeBurnSchema.prefault({}),
      grain: GrainSchema.prefault({}),
    })
    .prefault({}),
  /** How far each step is let in, 1 where not said. */
  strength: z.partialRecord(z.enum(STEP_IDS), z.number().min(0).max(1.5)).default({}),
  /** Steps that are switched off, their settings kept. */
  off: z.array(z.enum(STEP_IDS)).default([]),
  /** What counts most for the automatics: rectangles in sensor coordinates, 1 the long edge. */
  interest: z.array(AreaSchema).max(12).default([]),
  /** Places whose readings are kept in sight, in the same coordinates. */
  pins: z
    .array(z.object({ x: share, y: share }))
    .max(MOST_PINS)
    .default([]),
  /** Stages held off for a moment: their steps run as at the start. */
  held: z.array(z.enum(STAGES)).default([]),
})
export type Development = z.infer<typeof DevelopmentSchema>

/** What a frame starts with: nothing but the base rendering at its normal grade. */
export const startDevelopment = (): Development => DevelopmentSchema.parse({})

/** Older formats by number: each brings settings up by one. */
const MIGRATIONS: Readonly<Record<number, (old: Record<string, unknown>) => Record<string, unknown>>> = {}

/**
 * Settings from a file or database of any format up to this one.
 * @throws z.ZodError where they are not settings; RangeError where they come from a newer Dunkelkammer
 */
export function readDevelopment(stored: unknown): Development {
  let data = stored
  if (data && typeof data === 'object' && 'format' in data) {
    const format = Number((data as { format: unknown }).format)
    if (format > SETTINGS_VERSION) throw new RangeError('These settings were made by a newer Dunkelkammer.')
    for (let f = format; f < SETTINGS_VERSION; f++) data = MIGRATIONS[f](data as Record<string, unknown>)
  }
  return DevelopmentSchema.parse(data ?? {})
}
