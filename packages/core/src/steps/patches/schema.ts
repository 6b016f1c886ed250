import { z } from 'zod'
import { BulkNameSchema } from '../../bulk'
import { numberField, shareField, switchField, worded } from '../field'

/** Smallest and largest radius of a spot, long edges. */
export const SPOT = { least: 0.0005, most: 0.1, start: 0.006 } as const

export const PATCH_KINDS = ['heal', 'clone', 'fill'] as const

/** A disc; a way with a width; what a closed way goes around. */
export const PATCH_SHAPES = ['spot', 'stroke', 'outline'] as const

/** Largest box around an outline, long edges times long edges. */
export const MOST_OUTLINE = 0.08

/** A place in sensor coordinates: 1 is the long edge. It may lie beyond the picture, where there is nothing to mend. */
const place = z.number().min(-1).max(2)

export const PatchSchema = z.object({
  id: z.string().min(1).max(40),
  shape: z.enum(PATCH_SHAPES).default('spot'),
  /**
   * Heal: texture from the source, light and colour from around the target. Clone: the source as it is. Fill: put
   * together from many places; it has no source.
   */
  kind: z.enum(PATCH_KINDS).default('heal'),
  on: switchField(true, 'On'),
  /** It covers dust on the sensor, which lies at the same place in other frames. */
  dust: z.literal(true).optional(),
  /** Middle of the spot; of a stroke or an outline what its path is told from. */
  x: place,
  y: place,
  /** The way of a stroke or an outline, as bulk data. Without it they are a spot. */
  path: BulkNameSchema.optional(),
  /** Of a spot, and half the width of a stroke. */
  radius: numberField(SPOT.least, SPOT.most, SPOT.start, { label: 'Radius' }),
  /** From the middle of the patch to the middle of its source, sensor coordinates. */
  source: z.tuple([z.number().min(-2).max(2), z.number().min(-2).max(2)]).default([0, 0]),
  /** What a fill found, as bulk data. Until it is there, the patch changes nothing. */
  filled: BulkNameSchema.optional(),
  /** An outline in sensor coordinates that a fill takes nothing from, as bulk data. */
  avoid: BulkNameSchema.optional(),
  /** Share of the radius over which it fades out; of an outline, of half the lesser side of its box. */
  softness: shareField(0, 1, 0.3, 'Softness'),
  opacity: shareField(0, 1, 1, 'Opacity'),
  /** Degrees by which the source is turned, clockwise. */
  turn: numberField(-180, 180, 0, { label: 'Turn the source', unit: '°', step: 1 }),
  mirror: switchField(false, 'Mirror the source'),
})
export type Patch = z.infer<typeof PatchSchema>

/** Whether a patch changes the picture as it is. */
export const takesEffect = ({ on, opacity, kind, filled }: Patch): boolean =>
  on && opacity > 0 && (kind !== 'fill' || filled !== undefined)

export const MOST_PATCHES = 2000

export const PatchesSchema = z.object({
  patches: worded(z.array(PatchSchema).max(MOST_PATCHES).default([]), { label: 'Patches', belongs: 'frame' }),
})
export type PatchesSettings = z.infer<typeof PatchesSchema>
