import { aroundMiddle, simplified } from '@dunkelkammer/core'
import { Drawing, outline } from '../picture/drawing'
import { keepPath } from '../picture/paths'
import { hoverOver } from '../picture/Ring'
import { onSensor, sayProblem } from '../picture/touch'
import { developmentAtom, pictureAtom } from '../state/atoms'
import type { Bench, Hold, Place, ToolKind } from '../state/types'
import { withColour, withTone } from './ranges'
import { addShape, changeShape, newShape, shapeAtom, wayAtom, type Shape } from './shapes'

/** Pixels of the screen from which on a press draws. */
const PULL = 4
/** How far the corners of an outline that was drawn freely may leave its way, long edges. */
const CORNERS = 8e-4
const SMALLEST = 0.002

/** Draws a shape by its first and last place; it is one step, and the tool is put away. */
function drawn(
  bench: Bench,
  at: Place,
  make: (from: Place, to: Place) => Partial<Shape>,
  shape: Shape,
): Hold {
  const since = bench.get(developmentAtom)
  const from = onSensor(bench, at)
  let there = false
  return {
    move(to, by) {
      if (!there && Math.hypot(by.right, by.up) < PULL) return
      const part = make(from, onSensor(bench, to))
      if (there) changeShape(bench, shape.id, part, 'Shape added', shape.id)
      else there = addShape(bench, { ...shape, ...part } as Shape)
    },
    end() {
      bench.endGesture()
      if (there) bench.take(undefined)
    },
    cancel() {
      if (there) bench.dropGesture(since)
    },
  }
}

const ends = (from: Place, to: Place): Partial<Shape> => ({ from: [from.x, from.y], to: [to.x, to.y] })

export const DRAW_RAMP: ToolKind = {
  id: 'shape-ramp',
  label: 'Picture: drag from where the ramp is full to where nothing is left',
  stage: 'shape',
  draws: true,
  begin: (bench) => ({
    grasp: (at) =>
      drawn(bench, at, ends, newShape({ kind: 'ramp', way: bench.get(wayAtom), from: [0, 0], to: [0, 1] })),
  }),
}

const radii = (from: Place, to: Place): Partial<Shape> => ({
  x: from.x,
  y: from.y,
  across: Math.max(Math.abs(to.x - from.x), SMALLEST),
  down: Math.max(Math.abs(to.y - from.y), SMALLEST),
})

export const DRAW_OVAL: ToolKind = {
  id: 'shape-oval',
  label: 'Picture: drag from the middle of the oval to its edge',
  stage: 'shape',
  draws: true,
  begin: (bench) => ({
    grasp: (at) => drawn(bench, at, radii, newShape({ kind: 'oval', way: bench.get(wayAtom), x: 0, y: 0 })),
  }),
}

/** Makes a shape of an outline. */
function close(bench: Bench, corners: readonly Place[]): void {
  const { path, ...middle } = aroundMiddle(simplified(corners, CORNERS))
  if (path.length < 3) return
  const shape = newShape({ kind: 'outline', way: bench.get(wayAtom), ...middle, path: keepPath(path) })
  addShape(bench, shape)
  bench.endGesture()
  bench.take(undefined)
}

export const DRAW_OUTLINE: ToolKind = {
  id: 'shape-outline',
  label: 'Picture: draw around a place, or click its corners; the first corner closes it',
  stage: 'shape',
  Overlay: () => <Drawing closes />,
  begin: (bench) => ({
    grasp: (at) => outline(bench, at, (corners) => close(bench, corners)),
    hover: hoverOver(bench),
  }),
}

/** Takes what is at a place into the range of the shape in the hand, or into its limiter. */
const sample =
  (
    take: (shape: Shape, scene: { tone: number; colour: [number, number] }) => Partial<Shape>,
    label: string,
  ) =>
  (bench: Bench) => ({
    press(at: Place) {
      const { get } = bench
      const shape = get(shapeAtom)
      const picture = get(pictureAtom)
      if (!shape || !picture) return
      picture.ask('scene', get(developmentAtom), at.x, at.y).then((scene) => {
        changeShape(bench, shape.id, (now) => take(now, scene), label)
      }, sayProblem(bench))
    },
  })

export const PICK_TONE: ToolKind = {
  id: 'shape-tone',
  label: 'Picture: click tones that belong to the range',
  stage: 'shape',
  begin: sample(
    (shape, { tone }) =>
      shape.kind === 'tones'
        ? { range: withTone(shape.range, tone) }
        : { tones: withTone(shape.tones!, tone) },
    'Tone sampled',
  ),
}

export const PICK_COLOUR: ToolKind = {
  id: 'shape-colour',
  label: 'Picture: click colours that belong to the range',
  stage: 'shape',
  begin: sample(
    (shape, { colour }) =>
      shape.kind === 'colours'
        ? { range: withColour(shape.range, colour) }
        : { colours: withColour(shape.colours!, colour) },
    'Colour sampled',
  ),
}
