import { z } from 'zod'
import type { Extent } from './size'

/** Sheets of paper by their standard's name (ISO 216), millimetres, upright. */
export const PAPERS = { A4: { width: 210, height: 297 }, A3: { width: 297, height: 420 } } as const
export const PAPER_NAMES = ['A4', 'A3', 'own'] as const
export const TURNS = ['as the picture', 'upright', 'lying'] as const

/** Pages of pictures; lengths in millimetres. */
export const SHEET_FIELDS = {
  paper: z.enum(PAPER_NAMES).default('A4'),
  /** Of paper of one's own. */
  width: z.number().min(20).max(5000).default(210),
  height: z.number().min(20).max(5000).default(297),
  /** Which way the paper lies. Where it goes as the picture, the first one on a page tells. */
  turn: z.enum(TURNS).default('as the picture'),
  columns: z.number().int().min(1).max(20).default(1),
  rows: z.number().int().min(1).max(30).default(1),
  margin: z.number().min(0).max(200).default(15),
  /** Between pictures. */
  gap: z.number().min(0).max(100).default(5),
  /** Words below each picture, with the tokens of names; none where empty. */
  caption: z.string().trim().max(300).default(''),
  /** Height of the letters, points. */
  captionSize: z.number().min(4).max(72).default(8),
  /** Lines at the corners of each picture along which it is cut out. */
  cuttingMarks: z.boolean().default(false),
  /** Most pixels per inch that pictures are printed with; smaller ones are not made larger. */
  ppi: z.number().min(30).max(1200).default(300),
}
export const SheetSchema = z.strictObject(SHEET_FIELDS)
export type Sheet = z.infer<typeof SheetSchema>

/** A rectangle on paper, points from its lower left corner. */
export interface PaperRect {
  x: number
  y: number
  width: number
  height: number
}

const POINTS = 72 / 25.4
const POINTS_PER_INCH = 72
/** Of a caption's line, in heights of its letters; half above, half below. */
const LINE = 1.6

export interface Page extends Extent {
  /** Room for pictures, row by row from the top left. */
  cells: PaperRect[]
  /** Height of a caption below each, 0 for none. */
  caption: number
}

/** What a sheet's pages look like, in points. @param first of the pictures on the page */
export function pageOf(sheet: Sheet, first: Extent): Page {
  const paper = sheet.paper === 'own' ? sheet : PAPERS[sheet.paper]
  const [short, long] = [paper.width, paper.height].sort((a, b) => a - b)
  const lying = sheet.turn === 'as the picture' ? lies(sheet, first) : sheet.turn === 'lying'
  const width = (lying ? long : short) * POINTS
  const height = (lying ? short : long) * POINTS
  const caption = sheet.caption ? sheet.captionSize * LINE : 0
  const [margin, gap] = [sheet.margin * POINTS, sheet.gap * POINTS]
  const across = (width - 2 * margin - (sheet.columns - 1) * gap) / sheet.columns
  const down = (height - 2 * margin - (sheet.rows - 1) * gap) / sheet.rows
  const cells: PaperRect[] = []
  for (let row = 0; row < sheet.rows; row++)
    for (let column = 0; column < sheet.columns; column++)
      cells.push({
        x: margin + column * (across + gap),
        y: height - margin - row * (down + gap) - down + caption,
        width: Math.max(across, 0),
        height: Math.max(down - caption, 0),
      })
  return { width, height, cells, caption }
}

/** With several in a row a page lies where that gives each of them more room. */
const lies = ({ columns, rows }: Sheet, { width, height }: Extent) => width * columns > height * rows

/** What is wrong with a sheet, as a sentence; nothing where pictures have room. */
export function sheetProblem(sheet: Sheet): string | undefined {
  const pages = [pageOf(sheet, { width: 2, height: 1 }), pageOf(sheet, { width: 1, height: 2 })]
  const room = Math.min(...pages.flatMap(({ cells: [cell] }) => [cell.width, cell.height]))
  return room < 10 ? 'Margins, gaps and captions leave no room for pictures.' : undefined
}

/** A picture in its cell: as large as fits, in the middle; at most `ppi` pixels to the inch are wanted of it. */
export function inCell(
  cell: PaperRect,
  picture: Extent,
  ppi: number,
): { at: PaperRect; pixels: Extent; ppi: number } {
  const scale = Math.min(cell.width / picture.width, cell.height / picture.height)
  const [width, height] = [picture.width * scale, picture.height * scale]
  const shrink = Math.min(1, ((width / POINTS_PER_INCH) * ppi) / picture.width)
  const pixels = {
    width: Math.max(1, Math.round(picture.width * shrink)),
    height: Math.max(1, Math.round(picture.height * shrink)),
  }
  return {
    at: { x: cell.x + (cell.width - width) / 2, y: cell.y + (cell.height - height) / 2, width, height },
    pixels,
    ppi: Math.round((pixels.width / width) * POINTS_PER_INCH),
  }
}

/** Length of a cutting mark and its distance from the picture, points. */
const CUT = { length: 4 * POINTS, away: 1.5 * POINTS }

/** The lines along which a picture is cut out: two at each corner, outside of it. */
export function cuttingLines({
  x,
  y,
  width,
  height,
}: PaperRect): [x1: number, y1: number, x2: number, y2: number][] {
  return [x, x + width].flatMap((cx, i) =>
    [y, y + height].flatMap((cy, j): [number, number, number, number][] => {
      const [dx, dy] = [i ? 1 : -1, j ? 1 : -1]
      const [from, to] = [CUT.away, CUT.away + CUT.length]
      return [
        [cx + dx * from, cy, cx + dx * to, cy],
        [cx, cy + dy * from, cx, cy + dy * to],
      ]
    }),
  )
}
