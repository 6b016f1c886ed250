import { z } from 'zod'
import { BulkNameSchema } from '../bulk'
import { FINDABLE } from './find/findable'
import { choiceField, numberField, shareField, switchField } from '../steps/field'

/** A place in sensor coordinates: 1 is the long edge. It may lie beyond the picture. */
const place = z.number().min(-4).max(5)
const placeTuple = z.tuple([place, place])

/** Ends of a range of tones, EV from the scene's middle grey; at its end a range is open. */
export const TONE_RANGE = { least: -10, most: 6 } as const

/** Tones from to, in the light of the scene as the camera saw it: no setting moves them. */
export const ToneRangeSchema = z.object({
  from: numberField(TONE_RANGE.least, TONE_RANGE.most, TONE_RANGE.least, { label: 'From', unit: 'EV' }),
  to: numberField(TONE_RANGE.least, TONE_RANGE.most, TONE_RANGE.most, { label: 'To', unit: 'EV' }),
  /** EV over which it runs out, below and above. */
  below: numberField(0, 8, 1, { label: 'Run out below', unit: 'EV' }),
  above: numberField(0, 8, 1, { label: 'Run out above', unit: 'EV' }),
})
export type ToneRange = z.infer<typeof ToneRangeSchema>

export const MOST_COLOUR_SAMPLES = 16

/** Colours near those of samples, however light or dark, in the light of the scene. */
export const ColourRangeSchema = z.object({
  /** Oklab's a and b over its lightness. */
  samples: z
    .array(z.tuple([z.number().min(-2).max(2), z.number().min(-2).max(2)]))
    .max(MOST_COLOUR_SAMPLES)
    .default([]),
  /** Farthest from a sample, in the same terms. */
  reach: numberField(0, 0.5, 0.06, { label: 'Reach', step: 0.005 }),
  softness: numberField(0, 0.5, 0.04, { label: 'Softness', step: 0.005 }),
})
export type ColourRange = z.infer<typeof ColourRangeSchema>

/** What cannot be reached from the middle of a shape without crossing an edge of the picture is left out. */
export const EdgeLimitSchema = z.object({
  /** Across the edges that hold it, Oklab. */
  contrast: numberField(0.01, 0.4, 0.08, { label: 'Contrast of the edge', step: 0.005 }),
})
export type EdgeLimit = z.infer<typeof EdgeLimitSchema>

export const SHAPE_WAYS = ['add', 'take', 'common'] as const

/** How many regions a picture may be divided into. */
export const REGION_COUNTS = { least: 4, start: 40, most: 600 } as const
/** Most regions that a shape takes. */
export const MOST_REGIONS = 400

/** Most places that are compared with. */
export const MOST_LIKES = 32

/** A place of the picture that something is to resemble, or not. */
export const AlikeSampleSchema = z.object({
  x: place,
  y: place,
  /** Whether it is to resemble it. */
  like: z.boolean().default(true),
  /** How far around it that counts, long edges. */
  reach: numberField(0.005, 4, 0.4, { label: 'Reach' }),
  strength: shareField(0, 1, 1, 'Strength'),
})
export type AlikeSample = z.infer<typeof AlikeSampleSchema>

/** What resembles some places, in colour, tone and texture, more than it resembles others. */
export const AlikeSchema = z.object({
  samples: z.array(AlikeSampleSchema).max(MOST_LIKES).default([]),
  /** How unlike them it may be. */
  tolerance: shareField(0.02, 1, 0.25, 'Tolerance'),
})
export type Alike = z.infer<typeof AlikeSchema>

/** Most strokes that correct what was found, and most corners of each. */
export const MOST_CORRECTIONS = { strokes: 40, corners: 64 } as const

/** A stroke over what belongs to what was found, or does not. */
export const CorrectionSchema = z.object({
  belongs: z.boolean().default(true),
  at: z.array(placeTuple).min(1).max(MOST_CORRECTIONS.corners),
})
export type Correction = z.infer<typeof CorrectionSchema>

const common = {
  id: z.string().min(1).max(40),
  on: switchField(true, 'On'),
  /** What it does to the shapes before it. */
  way: choiceField(SHAPE_WAYS, 'add', 'Way', { add: 'added', take: 'taken away', common: 'kept in common' }),
  strength: shareField(0, 1, 1, 'Strength'),
  invert: switchField(false, 'Invert'),
  /** It holds only where the scene's light is within them. */
  tones: ToneRangeSchema.optional(),
  colours: ColourRangeSchema.optional(),
  /** For what is drawn or painted: it ends at an edge around its middle. */
  edge: EdgeLimitSchema.optional(),
  /** It holds only what resembles some places. */
  alike: AlikeSchema.optional(),
}
const pathed = { x: place, y: place, path: BulkNameSchema.optional() }

export const ShapeSchema = z.discriminatedUnion('kind', [
  /** All of it on one side of a line, nothing on the other. */
  z.object({
    ...common,
    kind: z.literal('ramp'),
    /** Where it begins to run out, and where nothing is left. */
    from: placeTuple,
    to: placeTuple,
    /** Where half is left, a share of the way. */
    middle: shareField(0.05, 0.95, 0.5, 'Middle'),
  }),
  z.object({
    ...common,
    kind: z.literal('oval'),
    x: place,
    y: place,
    across: numberField(0.001, 4, 0.2, { label: 'Half width' }),
    down: numberField(0.001, 4, 0.15, { label: 'Half height' }),
    turn: numberField(-180, 180, 0, { label: 'Turn', unit: '°', step: 1 }),
    /** Share of its radius over which it runs out. */
    softness: shareField(0, 1, 0.5, 'Softness'),
    /** From its middle to that of its inner ring, in radii of the oval along its axes. */
    shift: z.tuple([z.number().min(-1).max(1), z.number().min(-1).max(1)]).default([0, 0]),
  }),
  /** What a closed way goes around. */
  z.object({
    ...common,
    ...pathed,
    kind: z.literal('outline'),
    /** Width over which it runs out, half of it to either side, long edges. */
    softness: numberField(0, 0.2, 0.005, { label: 'Softness' }),
  }),
  /** A painted way. */
  z.object({
    ...common,
    ...pathed,
    kind: z.literal('stroke'),
    radius: numberField(0.0005, 0.3, 0.03, { label: 'Size' }),
    softness: shareField(0, 1, 0.5, 'Softness'),
    /** How much it adds or takes. */
    /** Moves its border to an edge of the picture that is near. */
    follow: switchField(false, 'Follow edges'),
    flow: shareField(0.01, 1, 1, 'Flow'),
    /** How much there is at most where it adds, and is left at least where it takes. */
    limit: shareField(0.01, 1, 1, 'Limit'),
  }),
  z.object({ ...common, kind: z.literal('tones'), range: ToneRangeSchema.prefault({}) }),
  z.object({ ...common, kind: z.literal('colours'), range: ColourRangeSchema.prefault({}) }),
  /** Something that is looked for anew in every picture. */
  z.object({
    ...common,
    kind: z.literal('found'),
    what: z.enum(FINDABLE),
    /** For the picture on which they were drawn. */
    corrections: z.array(CorrectionSchema).max(MOST_CORRECTIONS.strokes).default([]),
  }),
  /** What is about as far away: 0 the nearest of the picture, 1 the farthest. */
  z.object({
    ...common,
    kind: z.literal('distance'),
    from: shareField(0, 1, 0, 'From'),
    to: shareField(0, 1, 0.4, 'To'),
    softness: shareField(0, 1, 0.2, 'Softness'),
  }),
  /** Those of the regions that a picture divides into which lie at some places. */
  z.object({
    ...common,
    kind: z.literal('regions'),
    at: z.array(placeTuple).max(MOST_REGIONS).default([]),
    /** How many regions the picture divides into. */
    count: z.number().int().min(REGION_COUNTS.least).max(REGION_COUNTS.most).default(REGION_COUNTS.start),
  }),
  /** What resembles some places more than others. */
  z.object({ ...common, kind: z.literal('alike'), like: AlikeSchema.prefault({}) }),
])
export type Shape = z.infer<typeof ShapeSchema>
export type ShapeKind = Shape['kind']

export const MOST_SHAPES = 500

/** What is done to a mask as a whole, in this order. Sizes are shares of the long edge. */
export const MaskRefinementSchema = z.object({
  /** Across what is dropped, and what is filled. */
  specks: numberField(0, 0.05, 0, { label: 'Remove specks' }),
  gaps: numberField(0, 0.05, 0, { label: 'Close gaps' }),
  /** How far it becomes larger all around; less than 0 smaller. */
  grow: numberField(-0.05, 0.05, 0, { label: 'Grow' }),
  /** How far its border may be moved to an edge of the picture. */
  edges: numberField(0, 0.03, 0, { label: 'Follow edges' }),
  /** How far beside its border each place is taken for a mixture of what lies inside and outside. */
  matte: numberField(0, 0.02, 0, { label: 'Matte the border' }),
  softness: numberField(0, 0.1, 0, { label: 'Softness' }),
  contrast: shareField(0, 1, 0, 'Contrast'),
  /** How far it is the share of the light that comes from inside, instead of the share of the place. */
  ownLight: shareField(0, 1, 0, 'Own light at the edge'),
})
export type MaskRefinement = z.infer<typeof MaskRefinementSchema>

export const MaskSchema = z.object({
  /** What it is before its first shape. */
  start: z.enum(['nothing', 'everything']).default('nothing'),
  shapes: z.array(ShapeSchema).max(MOST_SHAPES).default([]),
  invert: switchField(false, 'Invert'),
  refined: MaskRefinementSchema.prefault({}),
})
export type Mask = z.infer<typeof MaskSchema>

/** Whether a shape was drawn in a place of its own, and not picked by what the picture shows. */
export const isDrawn = ({ kind }: Shape): boolean =>
  kind === 'ramp' || kind === 'oval' || kind === 'outline' || kind === 'stroke'

/** Whether all of a picture has to be looked at for a shape, in one go. */
export const isFound = ({ kind }: Shape): boolean =>
  kind === 'found' || kind === 'distance' || kind === 'alike' || kind === 'regions'

/** Whether a shape reads the picture. */
export const readsPicture = (shape: Shape): boolean =>
  shape.kind === 'tones' ||
  shape.kind === 'colours' ||
  !!shape.tones ||
  !!shape.colours ||
  !!shape.alike ||
  isFound(shape) ||
  (!!shape.edge && isDrawn(shape)) ||
  (shape.kind === 'stroke' && shape.follow)
