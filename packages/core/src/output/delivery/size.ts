import { z } from 'zod'

/** Shortest and longest side that may be asked for, pixels. */
export const EDGE = { least: 16, most: 60_000 } as const

/** Kernels that a picture is made smaller or larger with, by the word for each. */
export const RESAMPLING = ['cubic', 'lanczos'] as const
export type Resampling = (typeof RESAMPLING)[number]

const edge = z.number().int().min(EDGE.least).max(EDGE.most)
const box = { width: edge, height: edge }
/** Pixels per inch where nothing says another number. */
export const USUAL_PPI = 300

const ppi = z.number().min(10).max(4800)
const common = {
  /** Whether a picture with fewer pixels is made larger. */
  enlarge: z.boolean().default(false),
  /** Catmull and Rom's cubic, or a sinc of three lobes: crisper, with a little more ringing. */
  kernel: z.enum(RESAMPLING).default('cubic'),
  /** Pixels per inch that the file says; those of the original where missing, or 300. */
  ppi: ppi.optional(),
}

export const DeliverySizeSchema = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('full'), ppi: common.ppi }),
  z.strictObject({ by: z.literal('long edge'), pixels: edge, ...common }),
  z.strictObject({ by: z.literal('short edge'), pixels: edge, ...common }),
  /** As large as fits into a box. */
  z.strictObject({ by: z.literal('fit'), ...box, ...common }),
  /** Exactly a box, cut off where the picture is wider or higher; what is kept lies at a place, 0 to 1 each way. */
  z.strictObject({
    by: z.literal('fill'),
    ...box,
    x: z.number().min(0).max(1).default(0.5),
    y: z.number().min(0).max(1).default(0.5),
    ...common,
  }),
  z.strictObject({ by: z.literal('megapixels'), megapixels: z.number().min(0.01).max(1000), ...common }),
  z.strictObject({ by: z.literal('percent'), percent: z.number().min(1).max(400), ...common }),
  /** As large as fits into a sheet of paper of so many centimetres at the pixels per inch. */
  z.strictObject({
    by: z.literal('print'),
    widthCm: z.number().min(0.5).max(500),
    heightCm: z.number().min(0.5).max(500),
    ...common,
    ppi: ppi.default(USUAL_PPI),
  }),
])
export type DeliverySize = z.infer<typeof DeliverySizeSchema>

export interface Extent {
  width: number
  height: number
}

/** How large a picture is delivered. */
export interface DeliveredSize extends Extent {
  /** Of the whole picture resampled. */
  whole: Extent
  /** Where what is delivered lies in it. */
  x: number
  y: number
}

const CM_PER_INCH = 2.54

/** Factor from a picture to what a size asks for. */
function scaleFor(size: DeliverySize, { width, height }: Extent): number {
  const [long, short] = [Math.max(width, height), Math.min(width, height)]
  // a box stands as the picture does: a sheet is turned for an upright picture, a place on a page is not
  switch (size.by) {
    case 'full':
      return 1
    case 'long edge':
      return size.pixels / long
    case 'short edge':
      return size.pixels / short
    case 'fit':
      return Math.min(size.width / width, size.height / height)
    case 'fill':
      return Math.max(size.width / width, size.height / height)
    case 'megapixels':
      return Math.sqrt((size.megapixels * 1e6) / (width * height))
    case 'percent':
      return size.percent / 100
    case 'print': {
      const [a, b] = [size.widthCm, size.heightCm].map((cm) => (cm / CM_PER_INCH) * size.ppi)
      return Math.min(Math.max(a, b) / long, Math.min(a, b) / short)
    }
  }
}

/** What a size makes of a picture; no side is less than a pixel. */
export function deliveredSize(size: DeliverySize, picture: Extent): DeliveredSize {
  const wanted = scaleFor(size, picture)
  const scale = size.by !== 'full' && size.enlarge ? wanted : Math.min(wanted, 1)
  const sides = (f: number): Extent => ({
    width: Math.max(1, Math.round(picture.width * f)),
    height: Math.max(1, Math.round(picture.height * f)),
  })
  const whole = sides(scale)
  if (size.by !== 'fill') return { ...whole, whole, x: 0, y: 0 }
  // where the picture is too small for the box, the box's shape is kept
  const shrunk = scale / wanted
  const width = Math.min(Math.max(1, Math.round(size.width * shrunk)), whole.width)
  const height = Math.min(Math.max(1, Math.round(size.height * shrunk)), whole.height)
  const at = (free: number, share: number) => Math.round(free * share)
  return { width, height, whole, x: at(whole.width - width, size.x), y: at(whole.height - height, size.y) }
}
