import {
  apply,
  findDirections,
  fitBend,
  fitFringes,
  HALF_DIAGONAL_35,
  levelAngle,
  turnByGuides,
  turnFor,
  turnedCamera,
  type Development,
  type FoundBend,
  type Guide,
  type StraightEdge,
  type Square,
  type StraightLine,
  type Wanted,
} from '@dunkelkammer/core'
import type { Picture } from './picture'

/** Something asked for that the picture does not give. */
export class NothingFound extends Error {}

const NO_LINES = 'No reliable lines were found. Draw some on the picture, or set the angle by hand.'
/** A lens that is no fisheye bends less, at half the diagonal. */
const MOST_BEND = 0.2
/** Least length of a straight edge, parts of the long edge. */
const SHORT = 0.02

const halfOf = ({ width, height }: { width: number; height: number }) => Math.hypot(width, height) / 2

/** The development as if nothing but the lens had been squared up. */
const lensOnly = (d: Development): Development => ({
  ...d,
  off: [...d.off.filter((id) => id !== 'lens'), 'level', 'perspective', 'crop'],
})

const focalOf = (picture: Picture) => (picture.frame.metadata.focalLength35 ?? 35) / HALF_DIAGONAL_35

/** The picture's straight edges without the lens's faults, half diagonals from its middle. */
async function straightLines(picture: Picture, development: Development): Promise<StraightLine[]> {
  const { segments } = await picture.ask('lines', development, SHORT)
  const square = await picture.square(lensOnly(development))
  return segments.map((s) => ({
    from: square.sourceToIdeal(s.x0, s.y0),
    to: square.sourceToIdeal(s.x1, s.y1),
  }))
}

/**
 * Degrees clockwise that level the picture, by the lines in it.
 * @throws NothingFound where it has none that could be trusted
 */
export async function findLevel(picture: Picture, development: Development): Promise<number> {
  const lines = await straightLines(picture, development)
  const found = findDirections(lines, focalOf(picture))
  // what perspective does to them comes before
  const m = turnedCamera(development.steps.perspective)
  const angle = levelAngle({
    down: found.down && apply(m, found.down),
    level: found.level && apply(m, found.level),
  })
  if (angle === undefined || Math.abs(angle) > 45) throw new NothingFound(NO_LINES)
  return Math.round(angle * 100) / 100
}

/**
 * The turn of the camera that makes the picture's uprights parallel, its level lines parallel, its horizon level.
 * @throws NothingFound where it has no lines that could be trusted
 */
export async function findTurn(
  picture: Picture,
  development: Development,
  wanted: Wanted,
): Promise<{ tilt: number; swing: number; roll: number }> {
  const lines = await straightLines(picture, development)
  const turn = turnFor(findDirections(lines, focalOf(picture)), wanted, 1)
  if (!turn || [turn.tilt, turn.swing, turn.roll].some((a) => Math.abs(a) > 60))
    throw new NothingFound(NO_LINES)
  return rounded(turn)
}

const rounded = (turn: { tilt: number; swing: number; roll: number }) => ({
  tilt: Math.round(turn.tilt * 100) / 100,
  swing: Math.round(turn.swing * 100) / 100,
  roll: Math.round(turn.roll * 100) / 100,
})

/** The turn of the camera that lines drawn on the picture ask for. */
export function turnOfGuides(picture: Picture, square: Square, guides: readonly Guide[]) {
  const long = Math.max(picture.width, picture.height)
  const lines = guides.map(({ is, from, to }) => ({
    is,
    from: square.sourceToIdeal(from[0] * long, from[1] * long),
    to: square.sourceToIdeal(to[0] * long, to[1] * long),
  }))
  const turn = rounded(turnByGuides(lines, focalOf(picture)))
  const hold = (v: number) => Math.min(Math.max(v, -60), 60)
  return { tilt: hold(turn.tilt), swing: hold(turn.swing), roll: hold(turn.roll) }
}

/** A line that was drawn, and the places of the edge beneath it, pixels of the picture. */
export type TracedLine = readonly (readonly [number, number])[]

/**
 * Follows the edge beneath a drawn line.
 * @param from, to pixels of the picture
 * @throws NothingFound where there is no edge
 */
export async function traceLine(
  picture: Picture,
  development: Development,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<TracedLine> {
  const reach =
    0.012 + 0.02 * (Math.hypot(to[0] - from[0], to[1] - from[1]) / Math.max(picture.width, picture.height))
  const [traced] = await picture.ask('trace', development, [{ from, to }], reach)
  if (!traced)
    throw new NothingFound('There is no clear edge along this line. Draw it along one, from end to end.')
  return traced
}

/** The bend that makes marked lines straight; distances in pixels of the picture. */
export function bendOf(picture: Picture, lines: readonly TracedLine[], robust = false): FoundBend {
  const half = halfOf(picture)
  const places = lines.map((l) =>
    l.map(([x, y]) => [(x - picture.width / 2) / half, (y - picture.height / 2) / half] as const),
  )
  const found = fitBend(places, robust)
  const round = (v: number) => Math.round(v * 1e5) / 1e5
  return {
    bend: round(found.bend),
    edge: round(found.edge),
    before: found.before * half,
    after: found.after * half,
  }
}

/** A segment made longer at both ends, as its edge may go on where it bends. */
function longer(s: StraightEdge, by: number) {
  const [dx, dy] = [s.x1 - s.x0, s.y1 - s.y0]
  return {
    from: [s.x0 - dx * by, s.y0 - dy * by] as const,
    to: [s.x1 + dx * by, s.y1 + dy * by] as const,
  }
}

/**
 * The bend of the picture's own lines.
 * @throws NothingFound where it has too few long ones, or where bending makes them no straighter
 */
export async function findBend(picture: Picture, development: Development): Promise<FoundBend> {
  const { segments } = await picture.ask('lines', development, 0.06)
  const long = Math.max(picture.width, picture.height)
  const chosen = [...segments]
    .sort((a, b) => Math.hypot(b.x1 - b.x0, b.y1 - b.y0) - Math.hypot(a.x1 - a.x0, a.y1 - a.y0))
    .slice(0, 60)
  const traced = await picture.ask(
    'trace',
    development,
    chosen.map((s) => longer(s, 0.15)),
    0.006,
  )
  const lines = traced.filter((t) => t !== undefined).filter((t) => lengthOf(t) > 0.08 * long)
  const total = lines.reduce((sum, l) => sum + lengthOf(l), 0)
  if (lines.length < 6 || total < 1.2 * long)
    throw new NothingFound('There are too few long lines in this picture. Mark some that should be straight.')
  const found = bendOf(picture, lines, true)
  // a real lens makes most of what is crooked; what bends lines far for little gain is none
  const likely = Math.abs(found.bend) < MOST_BEND && Math.abs(found.edge) < MOST_BEND
  if (!likely || found.after > found.before * 0.75)
    throw new NothingFound('The lines found in this picture do not agree on a distortion. Mark some by hand.')
  return found
}

const lengthOf = (l: TracedLine) => Math.hypot(l[l.length - 1][0] - l[0][0], l[l.length - 1][1] - l[0][1])

/**
 * Lateral fringes, by the picture itself.
 * @throws NothingFound where too little in it has clear edges
 */
export async function findFringes(picture: Picture) {
  const found = fitFringes(await picture.ask('fringes'))
  if (!found) throw new NothingFound('Too few clear edges were found to tell fringes by.')
  const round = (v: number) => Math.min(Math.max(Math.round(v * 1e6) / 1e6, -0.01), 0.01)
  return {
    redSize: round(found.redSize),
    redEdge: round(found.redEdge),
    blueSize: round(found.blueSize),
    blueEdge: round(found.blueEdge),
  }
}
