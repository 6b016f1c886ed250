import type { StepId, Triple } from '@dunkelkammer/core'
import { sentence } from '../../api/client'
import { developmentAtom, drawnAtom, pictureAtom, squareAtom } from '../state/atoms'
import type { Bench, Hold, PictureTool, Place } from '../state/types'

/** Fractions of the frame to pixels of the picture. */
export function onPicture({ get }: Bench, at: Place): readonly [number, number] {
  const square = get(squareAtom)
  return square.toSource(at.x * square.width, at.y * square.height) ?? [0, 0]
}

/** Fractions of the frame to sensor coordinates, also where they lie outside of the picture. */
export function aroundSensor(bench: Bench, at: Place): Place {
  const { size } = bench.get(squareAtom)
  const long = Math.max(size.width, size.height)
  const [x, y] = onPicture(bench, at)
  return { x: x / long, y: y / long }
}

/** Fractions of the frame to sensor coordinates, held to the picture. */
export function onSensor(bench: Bench, at: Place): Place {
  const { x, y } = aroundSensor(bench, at)
  return { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) }
}

/** Says what a tool met. */
export const sayProblem = (bench: Bench) => (error: unknown) => bench.say(sentence(error))

/** Draws a line, and hands its ends over when it is let go. */
export const drawLine =
  ({ set }: Bench, done: (from: Place, to: Place) => void): NonNullable<PictureTool['grasp']> =>
  (from) => {
    let to = from
    set(drawnAtom, { from, to })
    return {
      move(at) {
        to = at
        set(drawnAtom, { from, to })
      },
      end() {
        set(drawnAtom, undefined)
        done(from, to)
      },
      cancel: () => set(drawnAtom, undefined),
    }
  }

/**
 * A drag up or down that works on the light underneath. What that is has to be asked for: until it is known the
 * hand may have moved on, or have let go.
 * @param before the step whose light is meant
 * @param begin what to do with the light: a function of the way up, or nothing where there is nothing to work on
 */
export function pullLight(
  bench: Bench,
  at: Place,
  before: StepId,
  begin: (light: Triple) => ((up: number) => void) | undefined,
): Hold {
  const { get } = bench
  const since = get(developmentAtom)
  let up = 0
  let over = false
  let put: ((up: number) => void) | undefined
  void get(pictureAtom)
    ?.ask('lightBefore', get(developmentAtom), before, at.x, at.y)
    .then((light) => {
      put = begin(light)
      if (!put) return
      if (up !== 0) put(up)
      if (over) bench.endGesture()
    }, sayProblem(bench))
  return {
    move(_, by) {
      up = by.up
      put?.(up)
    },
    end() {
      over = true
      if (put) bench.endGesture()
    },
    cancel() {
      put = undefined
      begin = () => undefined
      bench.dropGesture(since)
    },
  }
}
