import { z } from 'zod'
import { MaskSchema } from '../../masks/schema'
import { ColourfulnessSchema } from '../colourfulness/schema'
import { CurveSchema } from '../curve/schema'
import { DodgeSchema } from '../dodge/schema'
import { ExposureSchema } from '../exposure/schema'
import { shareField, switchField, worded } from '../field'
import { HazeSchema } from '../haze/schema'
import { HueNodesSchema } from '../hueNodes/schema'
import { LightSchema } from '../light/schema'
import { NoiseSchema, type NoiseSettings } from '../noise/schema'
import { RecoverySchema } from '../recovery/schema'
import { ReliefSchema } from '../relief/schema'
import { SharpenSchema } from '../sharpen/schema'
import { TintsSchema } from '../tints/schema'
import { TonesSchema } from '../tones/schema'
import { UnsharpSchema } from '../unsharp/schema'

/** The steps that an area may have, each by its own settings; those that are missing do nothing there. */
export const AreaStepsSchema = z.strictObject({
  noise: NoiseSchema.optional(),
  sharpen: SharpenSchema.optional(),
  unsharp: UnsharpSchema.optional(),
  light: LightSchema.optional(),
  haze: HazeSchema.optional(),
  exposure: ExposureSchema.optional(),
  recovery: RecoverySchema.optional(),
  tones: TonesSchema.optional(),
  relief: ReliefSchema.optional(),
  curve: CurveSchema.optional(),
  hueNodes: HueNodesSchema.optional(),
  colourfulness: ColourfulnessSchema.optional(),
  tints: TintsSchema.optional(),
  dodge: DodgeSchema.optional(),
})
export type AreaSteps = z.infer<typeof AreaStepsSchema>
export type AreaStepId = keyof AreaSteps

/**
 * Settings of a step in an area that do nothing yet.
 * @param whole those of the whole picture, which some stand in place of
 */
export const newAreaStep = (id: AreaStepId, whole: { noise: NoiseSettings }): AreaSteps =>
  id === 'noise' ? { noise: whole.noise } : { [id]: AreaStepsSchema.shape[id].unwrap().parse({}) }

export const AreaSchema = z.object({
  id: z.string().min(1).max(40),
  name: z.string().max(80).default(''),
  on: switchField(true, 'On'),
  /** How far its steps are let in; beyond 1 they do more than their settings say. */
  strength: shareField(0, 2, 1, 'Strength'),
  mask: MaskSchema.prefault({}),
  /** The area whose mask it uses in place of its own, as long as that is there. */
  maskOf: z.string().min(1).max(40).optional(),
  steps: AreaStepsSchema.prefault({}),
})
export type Area = z.infer<typeof AreaSchema>

export const MOST_AREAS = 200

export const AreasSchema = z.object({
  areas: worded(z.array(AreaSchema).max(MOST_AREAS).default([]), { label: 'Areas', belongs: 'frame' }),
})
export type AreasSettings = z.infer<typeof AreasSchema>

/** The area whose mask one is let in by: another one, and the one that uses in turn, or its own. */
export function maskedBy(area: Area, all: readonly Area[]): Area {
  let now = area
  // a ring of areas has the mask of the one that it was begun with
  for (let i = 0; i < all.length && now.maskOf !== undefined; i++) {
    const next = all.find(({ id }) => id === now.maskOf)
    if (!next || next.id === area.id) break
    now = next
  }
  return now
}

/** An area for another picture: what was corrected by hand in its own is found anew there. */
export const forOthers = (area: Area): Area => ({
  ...area,
  mask: {
    ...area.mask,
    shapes: area.mask.shapes.map((s) => (s.kind === 'found' ? { ...s, corrections: [] } : s)),
  },
})

/** Whether an area can change the picture: it is on, and its mask may hold something. */
export const isAtWork = ({ on, strength }: Area, { mask }: Pick<Area, 'mask'>): boolean =>
  on &&
  strength > 0 &&
  (mask.start === 'everything' || mask.invert || mask.shapes.some((s) => s.on && s.way === 'add'))
