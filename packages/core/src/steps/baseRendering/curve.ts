import { log2, pow } from '../../math'

/** Scene value that the base rendering leaves where it is. */
export const MID_GREY = 0.18
/** Scene value that becomes display white: two thirds of a stop above diffuse white. */
const SCENE_WHITE = 1.6
/** Below it contrast goes back toward 1, so that deep shade keeps its drawing. */
const TOE = 0.03
/** Display value from which on colours begin to give way to white. */
const WHITE_FROM = 0.8

/**
 * y = ceiling * p / (p + K) with p = x * (x + TOE)^(c - 1), where y(MID_GREY) = MID_GREY and y(SCENE_WHITE) = 1.
 */
export interface RenderingCurve {
  c: number
  K: number
  ceiling: number
}

const raised = (x: number, c: number) => x * pow(x + TOE, c - 1)

function through(c: number): RenderingCurve {
  const g = raised(MID_GREY, c)
  const w = raised(SCENE_WHITE, c)
  const K = (w * g * (1 - MID_GREY)) / (MID_GREY * w - g)
  return { c, K, ceiling: (w + K) / w }
}

/** Stops out per stop in at mid grey. */
export const slopeAtGrey = ({ c, K }: RenderingCurve): number =>
  ((1 + ((c - 1) * MID_GREY) / (MID_GREY + TOE)) * K) / (raised(MID_GREY, c) + K)

/** Contrast at mid grey by grade: 1 at grade 0, each grade harder by the same factor. */
export const gradeSlope = (grade: number): number => pow(1.195, grade)

/** The sigmoid whose contrast at mid grey is that of the grade. */
export function renderingCurve(grade: number): RenderingCurve {
  const wanted = gradeSlope(grade)
  let low = 0.6
  let high = 6
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (slopeAtGrey(through(middle)) < wanted) low = middle
    else high = middle
  }
  return through((low + high) / 2)
}

/** Display value of a grey of scene value x. */
export function renderGrey(curve: RenderingCurve, x: number): number {
  if (x <= 0) return 0
  const p = raised(x, curve.c)
  return Math.min((curve.ceiling * p) / (p + curve.K), 1)
}

/** Scene stops around mid grey to display stops around mid grey. */
export const renderStops = (curve: RenderingCurve, stops: number): number =>
  log2(Math.max(renderGrey(curve, MID_GREY * pow(2, stops)), 1e-9) / MID_GREY)

/** The grade whose rendering a picture is taken to have had that comes already rendered. */
const USUAL_GRADE = 2
const LIFT_SIZE = 2048
let lift: number[] | undefined

/**
 * Undoes the usual rendering: factors from display light to scene light over the square root of the size 0..1, so that
 * a finished picture goes through the same steps as a raw one and at the start comes out as it was. It depends on
 * nothing and takes a while, so it is made once.
 */
export const liftTable = (): readonly number[] => (lift ??= makeLift())

function makeLift(): number[] {
  const curve = renderingCurve(USUAL_GRADE)
  const sceneOf = (y: number) => {
    let low = 0
    let high = SCENE_WHITE * 1.01
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2
      if (renderGrey(curve, middle) < y) low = middle
      else high = middle
    }
    return (low + high) / 2
  }
  const gains = Array.from({ length: LIFT_SIZE }, (_, i) => {
    const y = (i / (LIFT_SIZE - 1)) ** 2
    return y > 0 && y < 1 ? sceneOf(y) / y : SCENE_WHITE
  })
  gains[0] = gains[1]
  return gains
}

/** The six numbers of the kernel. */
export const curveBlock = ({ c, K, ceiling }: RenderingCurve, toWhite = true): number[] => [
  c - 1,
  K,
  ceiling,
  WHITE_FROM,
  toWhite ? 1 / (1 - WHITE_FROM) : 0,
  TOE,
]
