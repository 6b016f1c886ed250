import { z } from 'zod'
import { HexSchema } from './around'

/** Places of a mark in its file. */
export const MARK_PLACES = [
  'top left',
  'top',
  'top right',
  'left',
  'middle',
  'right',
  'bottom left',
  'bottom',
  'bottom right',
] as const
export type MarkPlace = (typeof MARK_PLACES)[number]

/** Most characters of a mark's picture, in base64. */
export const MOST_MARK = 1_400_000

const common = {
  place: z.enum(MARK_PLACES).default('bottom right'),
  /** From the edges, in hundredths of the file's short edge. */
  inset: z.number().min(0).max(50).default(3),
  opacity: z.number().min(0.01).max(1).default(0.7),
}

/** Words or a picture laid over the finished picture; sizes in hundredths of the file's short edge. */
export const MarkSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('words'),
    text: z.string().trim().min(1, 'words are needed').max(200),
    colour: HexSchema.default('#ffffff'),
    /** Height of a line. */
    size: z.number().min(0.5).max(50).default(3),
    ...common,
  }),
  z.strictObject({
    kind: z.literal('picture'),
    /** A PNG, base64. */
    data: z
      .string()
      .max(MOST_MARK, 'a picture of at most 1 MB')
      .regex(/^iVBORw0KGgo[A-Za-z0-9+/]*={0,2}$/, 'a PNG picture'),
    /** Its longer side. */
    size: z.number().min(0.5).max(100).default(15),
    ...common,
  }),
])
export type Mark = z.infer<typeof MarkSchema>

/** Where something of this size goes. */
export function placeOfMark(
  { place, inset }: Mark,
  file: { width: number; height: number },
  own: { width: number; height: number },
): { x: number; y: number } {
  const from = (inset / 100) * Math.min(file.width, file.height)
  const along = (low: boolean, high: boolean, whole: number, part: number) =>
    Math.round(low ? from : high ? whole - part - from : (whole - part) / 2)
  const words = place.split(' ')
  return {
    x: along(words.includes('left'), words.includes('right'), file.width, own.width),
    y: along(words.includes('top'), words.includes('bottom'), file.height, own.height),
  }
}
