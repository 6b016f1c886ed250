import { apply, atan, pow, radians, sinCos, tan, type Matrix3, type Point } from '../math'
import type { CropSettings } from '../steps/crop/schema'
import type { EnlargeSettings } from '../steps/enlarge/schema'
import type { FallOffSettings } from '../steps/fallOff/schema'
import type { FringesSettings } from '../steps/fringes/schema'
import type { LensSettings } from '../steps/lens/schema'
import type { LevelSettings } from '../steps/level/schema'
import type { PerspectiveSettings } from '../steps/perspective/schema'
import { HALF_DIAGONAL_35 } from './models'
import { boundsOf, holdsBox, largestBox, roomFor, type Box } from './polygon'
import { transpose, turnedCamera } from './rotation'

/** Settings of the steps that squaring up is made of. */
export interface SquareSettings {
  lens: LensSettings
  fringes: FringesSettings
  fallOff: FallOffSettings
  level: LevelSettings
  perspective: PerspectiveSettings
  crop: CropSettings
  enlarge: EnlargeSettings
}

/** Gains over the picture, as a file has them: by channel, `across` x `down` values, from corner to corner of a box. */
export interface ShadingMap {
  across: number
  down: number
  /** In fractions of the upright picture: place of the first value and of the last. */
  left: number
  top: number
  right: number
  bottom: number
  gains: readonly Float32Array[]
}

/** What a lens does to a frame, as far as it is known: by a profile, by the file, or by hand. */
export interface LensFaults {
  /** Radius on the sensor over ideal radius, by channel: red, green, blue; radii in half diagonals. */
  factors: readonly ((r: number) => number)[]
  /** Light that arrives, by radius on the sensor and channel. */
  fallOff?: (r: number) => number
  /** Where the axis meets the sensor, half diagonals from the middle of the upright picture. */
  centre: Point
  /** Tangential terms by channel (DNG 1.7, WarpRectilinear). */
  tangential?: readonly Point[]
  shading?: ShadingMap
  /** Gains without which the file's picture is not right; they are no choice. */
  due?: ShadingMap
}

/** Views assumed where a file does not say: 35 mm on full film. */
const USUAL_FOCAL = 35
/** How far out tables of radii reach, half diagonals. */
export const RADIUS_REACH = 3
export const RADIUS_ENTRIES = 1024
/** Entries per half diagonal. */
const PER_RADIUS = (RADIUS_ENTRIES - 1) / RADIUS_REACH
/** Outline points along each side of the picture. */
const OUTLINE = 24
/** A frame is at most so many times as wide as the picture. */
const LARGEST = 2

/** Everything on one way from a place of the finished frame to places of the sensor's upright picture. */
export class Square {
  /** Of the frame, pixels. */
  readonly width: number
  readonly height: number
  /** The frame on the plane of the squared-up picture, pixels of the sensor, 0 the plane's middle. */
  readonly box: Box
  /** The picture's outline on that plane. */
  readonly outline: readonly Point[]
  /** Nothing is moved: every pixel stays where it is. */
  readonly still: boolean
  /** Nothing is changed at all. */
  readonly plain: boolean

  /** Whether the lens's faults move anything. */
  private readonly bent: boolean
  private readonly half: number
  private readonly focal: number
  /** Plane to view: undoes turn, mirror and level. */
  private readonly undo: readonly [number, number, number, number]
  /** View to ideal picture, directions of the turned camera to those of the one that was there. */
  private readonly back: Matrix3
  private readonly stretch: Point
  private readonly softened: boolean
  private readonly soft: number
  private readonly factors: readonly ((r: number) => number)[]
  private readonly centre: Point
  private readonly tangential?: readonly Point[]

  /**
   * @param size of the upright picture
   * @param focal35 focal length on full 35 mm film, where known
   * @param laid red and blue lie on green already
   */
  constructor(
    readonly size: { width: number; height: number },
    readonly settings: SquareSettings,
    readonly lens: LensFaults | undefined,
    focal35?: number,
    laid = false,
  ) {
    const { level, perspective, crop } = settings
    this.half = Math.sqrt(size.width ** 2 + size.height ** 2) / 2
    this.focal = (focal35 ?? USUAL_FOCAL) / HALF_DIAGONAL_35
    const [s, c] = sinCos(radians(level.angle))
    const m = level.mirror ? -1 : 1
    // turn x mirror x rotation, inverted: rotation back, mirror, turn back
    const turn = [
      [1, 0, 0, 1],
      [0, 1, -1, 0],
      [-1, 0, 0, -1],
      [0, -1, 1, 0],
    ][level.turns]
    const mirrored = [m * turn[0], m * turn[1], turn[2], turn[3]]
    this.undo = [
      c * mirrored[0] + s * mirrored[2],
      c * mirrored[1] + s * mirrored[3],
      -s * mirrored[0] + c * mirrored[2],
      -s * mirrored[1] + c * mirrored[3],
    ]
    this.back = transpose(turnedCamera(perspective))
    this.stretch = [1 / perspective.size, 1 / (perspective.size * (1 + perspective.squeeze))]
    this.softened = perspective.soften > 0
    this.soft = 1 - perspective.soften / 2
    this.factors = this.guarded(this.faultsOf(laid))
    this.centre = lens?.centre ?? [0, 0]
    this.tangential = lens?.tangential?.some(([a, b]) => a !== 0 || b !== 0) ? lens.tangential : undefined

    this.bent =
      this.tangential !== undefined || this.factors.some((f) => [0.2, 0.5, 0.8, 1].some((r) => f(r) !== 1))
    const { tilt, swing, roll, squeeze } = perspective
    const moved =
      this.bent ||
      level.angle !== 0 ||
      tilt !== 0 ||
      swing !== 0 ||
      roll !== 0 ||
      squeeze !== 0 ||
      perspective.size !== 1 ||
      this.softened
    this.outline = moved ? this.traceOutline() : this.corners()
    this.box = this.frameOf(crop, moved)
    this.width = Math.max(Math.round(this.box.width), 1)
    this.height = Math.max(Math.round(this.box.height), 1)
    const whole =
      this.width === size.width && this.height === size.height && this.box.x === 0 && this.box.y === 0
    this.still = !moved && whole && level.turns === 0 && !level.mirror
    this.plain = this.still && !this.shades
  }

  /** Size of the finished picture: the frame, enlarged. */
  get finished(): { width: number; height: number } {
    const { factor } = this.settings.enlarge
    return { width: Math.round(this.width * factor), height: Math.round(this.height * factor) }
  }

  /** Whether red and blue lie elsewhere than green. */
  get fringed(): boolean {
    const [red, green, blue] = this.factors
    return (
      this.tangential !== undefined ||
      [0.1, 0.3, 0.5, 0.7, 0.9, 1].some((r) => red(r) !== green(r) || blue(r) !== green(r))
    )
  }

  /** Whether light is evened out. */
  get shades(): boolean {
    const { lens, fallOff } = this.settings
    return (
      fallOff.ev !== 0 ||
      this.lens?.due !== undefined ||
      (lens.fallOff !== 0 && (this.lens?.fallOff !== undefined || this.lens?.shading !== undefined))
    )
  }

  /** Gain at a radius on the sensor, half diagonals. */
  gain = (r: number): number => {
    const { lens, fallOff } = this.settings
    const by = this.lens?.fallOff ? 1 / Math.max(1 + lens.fallOff * (this.lens.fallOff(r) - 1), 0.02) : 1
    const most = pow(2, fallOff.ev) - 1
    return by * (1 + (r > 0 ? most * pow(r, fallOff.shape) : 0))
  }

  /** Place of the upright picture, in pixels, that a place of the frame shows; channel 0 red, 1 green, 2 blue. */
  toSource(x: number, y: number, channel: 0 | 1 | 2 = 1): Point | undefined {
    const { box, width, height } = this
    return this.planeToSource(box.x - width / 2 + x, box.y - height / 2 + y, channel)
  }

  /** Where a place of the upright picture lies in the frame, in pixels; it may lie outside. */
  toFrame(x: number, y: number): Point | undefined {
    const at = this.sourceToPlane(x, y)
    return at && [at[0] - this.box.x + this.width / 2, at[1] - this.box.y + this.height / 2]
  }

  /** From the plane of the squared-up picture, 0 its middle, to the upright picture. */
  planeToSource(x: number, y: number, channel: 0 | 1 | 2 = 1): Point | undefined {
    const view = this.planeToView(x, y)
    const ideal = this.viewToIdeal(view[0], view[1])
    return ideal && this.idealToSource(ideal[0], ideal[1], channel)
  }

  /** And back. */
  sourceToPlane(x: number, y: number): Point | undefined {
    const ideal = this.sourceToIdeal(x, y)
    const [a, b, c] = apply(transpose(this.back), [ideal[0], ideal[1], this.focal])
    if (c < 1e-3 * this.focal) return undefined
    let view: Point = [(this.focal * a) / c, (this.focal * b) / c]
    if (this.softened) {
      const r = Math.sqrt(view[0] ** 2 + view[1] ** 2)
      if (r > 1e-9) {
        const k = (this.focal * tan(this.soft * atan(r / this.focal))) / (this.soft * r)
        view = [view[0] * k, view[1] * k]
      }
    }
    const [u, v] = [view[0] / this.stretch[0], view[1] / this.stretch[1]]
    const [m0, m1, m2, m3] = this.undo
    // of unit determinant up to sign: its inverse is its transpose
    return [(m0 * u + m2 * v) * this.half, (m1 * u + m3 * v) * this.half]
  }

  /** The upright picture without the lens's faults, in half diagonals from its middle. */
  sourceToIdeal(x: number, y: number): Point {
    const [ox, oy] = this.centre
    const sx = (x - this.size.width / 2) / this.half - ox
    const sy = (y - this.size.height / 2) / this.half - oy
    const at = Math.sqrt(sx * sx + sy * sy)
    if (at < 1e-9) return [ox + sx, oy + sy]
    const k = radiusAt(this.factors[1], at) / at
    let px = sx * k
    let py = sy * k
    if (this.tangential)
      for (let i = 0; i < 8; i++) {
        const [dx, dy] = this.bendBy(px, py, 1)
        px += sx - dx
        py += sy - dy
      }
    return [ox + px, oy + py]
  }

  /**
   * Numbers for the kernel `map_line`.
   * @param scale pixels of the wanted frame per pixel of the whole one
   * @param source size in which the picture that is read is at hand
   */
  numbers(scale: number, source: { width: number; height: number }): Float32Array {
    const { box, half, size, undo, stretch, back, focal, centre } = this
    const k = 1 / (scale * half)
    const [a, b, c, d] = [
      undo[0] * stretch[0],
      undo[1] * stretch[0],
      undo[2] * stretch[1],
      undo[3] * stretch[1],
    ]
    const x0 = (box.x - this.width / 2) / half
    const y0 = (box.y - this.height / 2) / half
    const h = [
      ...[back[0], back[1], back[2] * focal],
      ...[back[3], back[4], back[5] * focal],
      ...[back[6] / focal, back[7] / focal, back[8]],
    ]
    const numbers = [
      ...[a * k, b * k, a * x0 + b * y0],
      ...[c * k, d * k, c * x0 + d * y0],
      ...h,
      ...centre,
      ...[
        PER_RADIUS,
        RADIUS_ENTRIES - 1.001,
        (half * source.width) / size.width,
        source.width / 2,
        source.height / 2,
      ],
      ...[0, 1, 2].flatMap((ch) => this.tangential?.[ch] ?? [0, 0]),
      this.softened ? 1 : 0,
      (half * source.height) / size.height,
      this.bent ? 1 : 0,
      this.shades ? 1 : 0,
    ]
    return Float32Array.from(numbers)
  }

  /** Its tables: factors by radius for red, green, blue, gain by radius on the sensor, softening. */
  tables(): Float32Array {
    const { shades } = this
    const tables = new Float32Array(5 * RADIUS_ENTRIES)
    for (let i = 0; i < RADIUS_ENTRIES; i++) {
      const r = i / PER_RADIUS
      for (let ch = 0; ch < 3; ch++) tables[ch * RADIUS_ENTRIES + i] = this.factors[ch](r)
      tables[3 * RADIUS_ENTRIES + i] = shades ? this.gain(r) : 1
      tables[4 * RADIUS_ENTRIES + i] = this.softened ? this.softening(r) : 1
    }
    return tables
  }

  /**
   * How many times as far out as green a colour lies, by green's radius on the sensor in half diagonals: a fringe as
   * the settings want it taken out, whatever else is.
   */
  apart(channel: 0 | 2): (at: number) => number {
    const { source, amount, redSize, redEdge, blueSize, blueEdge } = this.settings.fringes
    const [size, edge] = channel === 0 ? [redSize, redEdge] : [blueSize, blueEdge]
    const found = this.lens?.factors
    if (source === 'own') return (at) => 1 + size + edge * at * at
    if (source === 'none' || !found || amount === 0) return () => 1
    return (at) => {
      const r = radiusAt(found[1], at)
      return 1 + amount * (found[channel](r) / found[1](r) - 1)
    }
  }

  private faultsOf(laid: boolean): readonly ((r: number) => number)[] {
    const { distortion } = this.settings.lens
    const found = this.lens?.factors[1]
    const green = (r: number) => (found ? 1 + distortion * (found(r) - 1) : 1)
    if (laid) return [green, green, green]
    const side = (apart: (at: number) => number) => (r: number) => green(r) * apart(r * green(r))
    return [side(this.apart(0)), green, side(this.apart(2))]
  }

  /** Beyond the radius where a lens's formula turns back there is no picture. */
  private guarded(factors: readonly ((r: number) => number)[]) {
    return factors.map((f) => {
      let turn = RADIUS_REACH
      let last = 0
      for (let r = 0.02; r <= RADIUS_REACH; r += 0.02) {
        const now = r * f(r)
        if (!(now > last)) {
          turn = r - 0.04
          break
        }
        last = now
      }
      return turn >= RADIUS_REACH ? f : (r: number) => (r <= turn ? f(r) : 20)
    })
  }

  private softening(r: number): number {
    if (r < 1e-6) return 1
    const angle = atan((this.soft * r) / this.focal) / this.soft
    return angle >= 1.5 ? 1e3 : (this.focal * tan(angle)) / r
  }

  private planeToView(x: number, y: number): Point {
    const [m0, m1, m2, m3] = this.undo
    const [px, py] = [x / this.half, y / this.half]
    let u = (m0 * px + m1 * py) * this.stretch[0]
    let v = (m2 * px + m3 * py) * this.stretch[1]
    if (this.softened) {
      const k = this.softening(Math.sqrt(u * u + v * v))
      u *= k
      v *= k
    }
    return [u, v]
  }

  private viewToIdeal(u: number, v: number): Point | undefined {
    const [a, b, c] = apply(this.back, [u, v, this.focal])
    return c < 1e-3 * this.focal ? undefined : [(this.focal * a) / c, (this.focal * b) / c]
  }

  private bendBy(px: number, py: number, channel: 0 | 1 | 2): Point {
    const r2 = px * px + py * py
    const f = this.factors[channel](Math.sqrt(r2))
    const [k0, k1] = this.tangential?.[channel] ?? [0, 0]
    return [
      px * f + k0 * 2 * px * py + k1 * (r2 + 2 * px * px),
      py * f + k1 * 2 * px * py + k0 * (r2 + 2 * py * py),
    ]
  }

  private idealToSource(x: number, y: number, channel: 0 | 1 | 2): Point {
    const [ox, oy] = this.centre
    const [dx, dy] = this.bendBy(x - ox, y - oy, channel)
    return [(ox + dx) * this.half + this.size.width / 2, (oy + dy) * this.half + this.size.height / 2]
  }

  /** Sides of the picture after quarter turns. */
  private get turnedSides(): Point {
    const { width, height } = this.size
    return this.settings.level.turns % 2 ? [height, width] : [width, height]
  }

  private corners(): Point[] {
    const [w, h] = this.turnedSides
    return [
      [-w / 2, -h / 2],
      [w / 2, -h / 2],
      [w / 2, h / 2],
      [-w / 2, h / 2],
    ]
  }

  private traceOutline(): Point[] {
    const { width: w, height: h } = this.size
    const out: Point[] = []
    const most = LARGEST * Math.max(w, h) * 1.5
    const visit = (x: number, y: number) => {
      const at = this.sourceToPlane(x, y)
      if (!at) return
      const far = Math.max(Math.abs(at[0]), Math.abs(at[1]), most)
      out.push([(at[0] * most) / far, (at[1] * most) / far])
    }
    for (let i = 0; i < OUTLINE; i++) visit((w * i) / OUTLINE, 0)
    for (let i = 0; i < OUTLINE; i++) visit(w, (h * i) / OUTLINE)
    for (let i = OUTLINE; i > 0; i--) visit((w * i) / OUTLINE, h)
    for (let i = OUTLINE; i > 0; i--) visit(0, (h * i) / OUTLINE)
    return out
  }

  private frameOf({ rect, inside }: CropSettings, moved: boolean): Box {
    const { size, outline } = this
    const [w, h] = this.turnedSides
    const long = Math.max(w, h)
    /** Of whole pixels, and where nothing moves, on those of the picture. */
    const snapped = (b: Box): Box => {
      const box = whole(b)
      if (moved) return box
      const on = (at: number, side: number, room: number) =>
        Math.round(room / 2 + at - side / 2) + side / 2 - room / 2
      return { ...box, x: on(b.x, box.width, w), y: on(b.y, box.height, h) }
    }
    if (rect) {
      const at = this.sourceToPlane(rect.centre[0] * long, rect.centre[1] * long) ?? [0, 0]
      const wanted = {
        x: at[0],
        y: at[1],
        width: Math.min(rect.width, LARGEST) * long,
        height: Math.min(rect.height, LARGEST) * long,
      }
      return snapped(inside ? held(outline, wanted, moved) : wanted)
    }
    const asTaken = { x: 0, y: 0, width: w, height: h }
    if (!moved) return asTaken
    if (inside) {
      // the picture as it was, where it still fits
      if (holdsBox(outline, { ...asTaken, width: w - 0.5, height: h - 0.5 })) return asTaken
      const middle = this.sourceToPlane(size.width / 2, size.height / 2) ?? [0, 0]
      return whole(largestBox(outline, { ...asTaken, x: middle[0], y: middle[1] }))
    }
    const around = boundsOf(outline)
    return whole({
      ...around,
      width: Math.min(around.width, LARGEST * long),
      height: Math.min(around.height, LARGEST * long),
    })
  }
}

/** The ideal radius of one on the sensor, by bisection: it grows with that as far as the tables go. */
function radiusAt(factor: (r: number) => number, at: number): number {
  let [low, high] = [0, RADIUS_REACH]
  for (let i = 0; i < 44; i++) {
    const r = (low + high) / 2
    if (r * factor(r) < at) low = r
    else high = r
  }
  return high
}

/** A box of whole pixels about its centre. */
const whole = (b: Box): Box => ({
  ...b,
  width: Math.max(Math.round(b.width), 8),
  height: Math.max(Math.round(b.height), 8),
})

/** A box moved and made smaller as far as needed to lie in the outline. */
function held(outline: readonly Point[], wanted: Box, moved: boolean): Box {
  if (!moved) {
    const bounds = boundsOf(outline)
    const k = Math.min(1, bounds.width / wanted.width, bounds.height / wanted.height)
    const width = wanted.width * k
    const height = wanted.height * k
    const hold = (v: number, room: number, side: number) =>
      Math.min(Math.max(v, (side - room) / 2), (room - side) / 2)
    return { x: hold(wanted.x, bounds.width, width), y: hold(wanted.y, bounds.height, height), width, height }
  }
  // a hair smaller than the outline allows, since that is made of straight pieces
  const room = roomFor(outline, wanted, 1)
  if (room >= 0.999) return wanted
  const k = Math.max(room, 0)
  if (k > 0.4) return { ...wanted, width: wanted.width * k * 0.999, height: wanted.height * k * 0.999 }
  const best = largestBox(outline, { ...wanted, x: boundsOf(outline).x, y: boundsOf(outline).y })
  return { ...best, width: best.width * 0.999, height: best.height * 0.999 }
}
