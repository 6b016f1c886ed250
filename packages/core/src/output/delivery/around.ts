import { z } from 'zod'
import { deliveredSize, type DeliveredSize, type DeliverySize, type Extent } from './size'

/** sRGB as #rrggbb. */
export const HexSchema = z.string().regex(/^#[0-9a-f]{6}$/i, 'a colour as #rrggbb')

/** A border or mat around a picture; widths in hundredths of the picture's short edge. */
export const BorderSchema = z.strictObject({
  width: z.number().min(0.1).max(50).default(5),
  /** What it is wider by below the picture. */
  below: z.number().min(0).max(50).default(0),
  colour: HexSchema.default('#ffffff'),
  /** Width of a line along the picture's edge, of the border's width; 0 for none. */
  line: z.number().min(0).max(5).default(0),
  lineColour: HexSchema.default('#000000'),
})
export type Border = z.infer<typeof BorderSchema>

/** A picture's place in its file. */
export interface Layout extends Extent {
  picture: DeliveredSize
  left: number
  top: number
  /** Width of the line along the picture's edge, pixels. */
  line: number
}

/** Where a picture of this size lies in its file: the border is part of the size that is asked for. */
export function layoutOf(size: DeliverySize, border: Border | null, picture: Extent): Layout {
  if (!border) {
    const delivered = deliveredSize(size, picture)
    const { width, height } = delivered
    return { width, height, picture: delivered, left: 0, top: 0, line: 0 }
  }
  const [side, below] = [border.width / 100, border.below / 100]
  const widths = (short: number) => {
    const all = Math.max(1, Math.round(short * side))
    return {
      side: all,
      below: all + Math.round(short * below),
      line: Math.round((short * border.line) / 100),
    }
  }
  const own = widths(Math.min(picture.width, picture.height))
  const outer = deliveredSize(size, {
    width: picture.width + 2 * own.side,
    height: picture.height + own.side + own.below,
  })
  // either the picture's width is its short edge, or its height
  const short = Math.min(outer.width / (1 + 2 * side), outer.height / (1 + 2 * side + below))
  const found = size.by === 'full' ? own : widths(short)
  const inner = {
    width: Math.max(1, outer.width - 2 * found.side),
    height: Math.max(1, outer.height - found.side - found.below),
  }
  return {
    width: inner.width + 2 * found.side,
    height: inner.height + found.side + found.below,
    picture:
      size.by === 'fill'
        ? deliveredSize({ ...size, ...inner, enlarge: true }, picture)
        : { ...inner, whole: inner, x: 0, y: 0 },
    ...{ left: found.side, top: found.side, line: found.line },
  }
}
