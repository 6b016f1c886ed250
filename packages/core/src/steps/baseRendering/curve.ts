import { log2, pow } from '../../math'

/** Scene value that the base rendering leaves where it is. */
export const MID_GREY = 0.18
/** Scene value that becomes display white: two thirds of a stop above diffuse white. */
export const SCENE_WHITE = 1.6
/** Below it contrast goes back toward 1, so that deep shade keeps its drawing. */
const TOE = 0.03
/** Display value from which on colours begin to give way to white. */
const WHITE_FROM = 0.8

/**
 * y = ceiling * (P / (P + K))^(1 / h) with P = p^h and p = x * (x + toe)^(c - 1), where y(MID_GREY) = MID_GREY *
 * 2^brightness and y(SCENE_WHITE) = 1.
 */
export interface RenderingCurve {
  c: number
  K: number
  ceiling: number
  toe: number
  /** Hardness of the shoulder; 1 is the plain sigmoid. */
  h: number
}

/** How a rendering departs from the usual one besides its grade. */
export interface Character {
  /** Stops that mid grey is moved by while black, white and the contrast there stay. */
  brightness: number
  /** -1 a shoulder that begins early, 1 one that is reached late. */
  shoulder: number
  /** -1 an open deep shade, 1 a deep one. */
  toe: number
}
export const USUAL: Character = { brightness: 0, shoulder: 0, toe: 0 }

const raised = (x: number, c: number, toe: number) => x * pow(x + toe, c - 1)
/** A power that leaves the plain case to the last bit. */
const power = (x: number, p: number) => (p === 1 ? x : pow(x, p))

function through(c: number, { brightness, shoulder, toe: depth }: Character): RenderingCurve {
  const toe = depth === 0 ? TOE : TOE * pow(4, -depth)
  const h = shoulder === 0 ? 1 : pow(2, shoulder)
  const g = power(raised(MID_GREY, c, toe), h)
  const w = power(raised(SCENE_WHITE, c, toe), h)
  const grey = power(brightness === 0 ? MID_GREY : MID_GREY * pow(2, brightness), h)
  const K = (w * g * (1 - grey)) / (grey * w - g)
  return { c, K, ceiling: power((w + K) / w, 1 / h), toe, h }
}

/** Stops out per stop in at mid grey. */
export const slopeAtGrey = ({ c, K, toe, h }: RenderingCurve): number =>
  ((1 + ((c - 1) * MID_GREY) / (MID_GREY + toe)) * K) / (power(raised(MID_GREY, c, toe), h) + K)

/** Contrast at mid grey by grade: 1 at grade 0, each grade harder by the same factor. */
export const gradeSlope = (grade: number): number => pow(1.195, grade)

/** The sigmoid whose contrast at mid grey is that of the grade. */
export function renderingCurve(grade: number, character: Character = USUAL): RenderingCurve {
  const wanted = gradeSlope(grade)
  let low = 0.3
  let high = 8
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    const { K } = through(middle, character)
    // so soft that white would not be reached: harder
    if (K <= 0 || slopeAtGrey(through(middle, character)) < wanted) low = middle
    else high = middle
  }
  return through((low + high) / 2, character)
}

/** Display value of a grey of scene value x. */
export function renderGrey(curve: RenderingCurve, x: number): number {
  if (x <= 0) return 0
  const p = power(raised(x, curve.c, curve.toe), curve.h)
  return Math.min(curve.ceiling * power(p / (p + curve.K), 1 / curve.h), 1)
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

/** Entries of the kernel's table, and the square root of the light at its end: display white. */
const ENTRIES = 4097
export const TABLE_TOP = Math.sqrt(SCENE_WHITE)

/** What light is multiplied by, over its square root up to display white. */
export function gainsOf(curve: RenderingCurve): Float32Array {
  const out = new Float32Array(ENTRIES)
  for (let i = 1; i < ENTRIES; i++) {
    const x = ((i * TABLE_TOP) / (ENTRIES - 1)) ** 2
    out[i] = renderGrey(curve, x) / x
  }
  // toward black the curve is straight
  out[0] = 2 * out[1] - out[2]
  return out
}

/** The kernel's two numbers of the way to white. */
export const whiteBlock = (toWhite = true): number[] => [WHITE_FROM, toWhite ? 1 / (1 - WHITE_FROM) : 0]
