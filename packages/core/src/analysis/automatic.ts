import {
  kelvinFromXy,
  lampById,
  neutralFromXy,
  xyFromKelvin,
  xyFromNeutral,
  type CameraColour,
} from '../colour'
import { exp2, log2, type Triple } from '../math'
import { working } from '../colour'
import type { TonesSettings } from '../steps/tones/schema'
import { BLACK_POINT, WHITE_POINT, type PointsSettings } from '../steps/points/schema'

/** A picture made small: interleaved RGB, and how much each pixel counts (all 1 where not given). */
export interface SmallPicture {
  width: number
  height: number
  rgb: Float32Array
  weights?: Float32Array
}

/** How much more what lies in an area of interest counts. */
const INTEREST = 12

/**
 * Weights of pixels from areas of interest.
 * @param areas rectangles with the picture's long edge as 1
 */
export function interestWeights(
  width: number,
  height: number,
  areas: readonly { x: number; y: number; width: number; height: number }[],
): Float32Array {
  const out = new Float32Array(width * height).fill(1)
  const long = Math.max(width, height)
  for (const a of areas)
    for (let y = Math.max(0, Math.floor(a.y * long)); y < Math.min(height, (a.y + a.height) * long); y++)
      for (let x = Math.max(0, Math.floor(a.x * long)); x < Math.min(width, (a.x + a.width) * long); x++)
        out[y * width + x] = INTEREST
  return out
}

const BINS = 2048
const FROM = -14
const PER_STOP = BINS / 24

/** Where shares of the picture (by weight) lie, in stops around mid grey of scene light. */
export function toneQuantiles({ rgb, weights }: SmallPicture, shares: readonly number[]): number[] {
  const [wr, wg, wb] = working.toXyz.slice(3, 6)
  const bins = new Float64Array(BINS)
  let all = 0
  for (let i = 0, k = 0; i < rgb.length; i += 3, k++) {
    const y = Math.max(wr * rgb[i] + wg * rgb[i + 1] + wb * rgb[i + 2], 1e-5)
    const w = weights ? weights[k] : 1
    bins[Math.min(Math.max(Math.floor((log2(y / 0.18) - FROM) * PER_STOP), 0), BINS - 1)] += w
    all += w
  }
  return shares.map((share) => {
    let sum = 0
    let k = 0
    while (k < BINS - 1 && sum + bins[k] < share * all) sum += bins[k++]
    return FROM + (k + 0.5) / PER_STOP
  })
}

const held = (v: number, low: number, high: number) => Math.min(Math.max(v, low), high)

/** Display white of a picture as it starts, stops above mid grey. */
const WHITE = WHITE_POINT.start
/** Where the body of a picture lies well, stops around mid grey: what is meant dark or bright stays so. */
const BODY = { from: -1.7, to: 0.9 }
/** Most stops that a picture is made brighter or darker by. */
const MOST = { up: 2.5, down: 1 }

/**
 * Exposure by the picture's own tones: a body of tones that lies too dark or too bright goes most of the way to where it lies well,
 * and no light that is not tiny is brought near display white.
 * @param picture scene light before the exposure
 */
export function automaticExposure(picture: SmallPicture): number {
  // where something was marked, lights elsewhere do not stand in its way
  const bright = picture.weights?.includes(INTEREST) ? 0.8 : 0.99
  const [low, quarter, middle, most, top] = toneQuantiles(picture, [0.1, 0.25, 0.5, 0.9, bright])
  const body = (quarter + middle + held(most, middle, middle + 3)) / 3
  if (body >= BODY.from) {
    // down only by as much as lights lie beyond white
    const over = held(top - WHITE, 0, MOST.down)
    return body > BODY.to ? -Math.min(Math.max(0.7 * (body - BODY.to), over), MOST.down) : 0
  }
  // what is wide in range is meant to be: nights stay nights
  const trust = 1 / (1 + Math.max(most - low - 5, 0) / 4)
  const wanted = 0.75 * (BODY.from - body) * (0.4 + 0.6 * trust)
  return held(Math.min(wanted, Math.max(WHITE - 0.4 - top, 0)), 0, MOST.up)
}

/**
 * Black and white point toward the ends of the picture's tones, part of the way: nothing to speak of is cut off.
 * @param picture scene light as exposed
 */
export function automaticPoints(picture: SmallPicture): PointsSettings {
  const [black, white] = toneQuantiles(picture, [0.0005, 0.999])
  const free = white + 0.3
  return {
    // a true black is a little; a picture without dark tones is not forced to have one
    black: black < -10 ? BLACK_POINT.none : held(black - 0.7, BLACK_POINT.none, -5),
    white: free < WHITE ? Math.max(WHITE + 0.5 * (free - WHITE), 2.6) : held(free, WHITE, 4.2),
  }
}

/** Share of a picture that must be dark for it to be opened. */
const LARGE = 0.03

/**
 * Lifts of the grips that open what is large and dark and keep the drawing of what is bright.
 * @param picture scene light as exposed
 */
export function automaticTones(picture: SmallPicture, now: TonesSettings): TonesSettings {
  const [p3, p20, p80, p98] = toneQuantiles(picture, [LARGE, 0.2, 0.8, 0.98])
  // only what lies below counts, and never all of the way
  const open = (is: number, from: number, share: number, most: number) =>
    Math.round(held((from - is) * share, 0, most) * 20) / 20
  const shadows = open(p20, -2.7, 0.5, 1.3)
  const deep = open(p3, -3.6, 0.6, 1.8)
  return {
    deepShadows: { ...now.deepShadows, lift: deep },
    shadows: { ...now.shadows, lift: Math.max(shadows, Math.round(deep * 8) / 20) },
    midTones: { ...now.midTones, lift: 0 },
    highlights: { ...now.highlights, lift: 0 - open(-p80, -2.1, 0.35, 0.6) },
    brightHighlights: { ...now.brightHighlights, lift: 0 - open(-p98, -2.7, 0.5, 1) },
  }
}

/** Grey-world: the mean of the channels is called neutral (Buchsbaum 1980). Largest 1. */
export function greyWorld({ rgb, weights }: SmallPicture): Triple {
  const sum = [0, 0, 0]
  for (let i = 0, k = 0; i < rgb.length; i += 3, k++)
    for (let c = 0; c < 3; c++) sum[c] += Math.max(rgb[i + c], 0) * (weights ? weights[k] : 1)
  const top = Math.max(...sum, 1e-9)
  return [Math.max(sum[0] / top, 1e-3), Math.max(sum[1] / top, 1e-3), Math.max(sum[2] / top, 1e-3)]
}

/** Grey-edge: so is the mean of the differences between neighbours (van de Weijer, Gevers and Gijsenij 2007). */
function greyEdge({ width, height, rgb, weights }: SmallPicture): Triple {
  const sum = [0, 0, 0]
  for (let y = 1; y < height; y++)
    for (let x = 1; x < width; x++) {
      const k = y * width + x
      const w = weights ? weights[k] : 1
      for (let c = 0; c < 3; c++) {
        const dx = rgb[3 * k + c] - rgb[3 * (k - 1) + c]
        const dy = rgb[3 * k + c] - rgb[3 * (k - width) + c]
        // differences of logarithms would treat shade as light; the root lies between
        sum[c] += w * Math.sqrt(dx * dx + dy * dy)
      }
    }
  const top = Math.max(...sum, 1e-9)
  return [Math.max(sum[0] / top, 1e-3), Math.max(sum[1] / top, 1e-3), Math.max(sum[2] / top, 1e-3)]
}

/** Half widths of the preferences, in mireds and in units of tint. */
const MIREDS = 75
const TINTS = 14
/** Share of the picture that must be grey under a light for it to count as much as the mean. */
const TRUST = 0.1
/** How close in the logarithms of the ratios a colour counts as grey. */
const NEAR = 0.12
/** Cells of the counts along an edge, and the logarithms of ratios that they reach to. */
const CELLS = 96
const SPAN = 3
const UNIT = (2 * SPAN) / (CELLS - 1)
const cell = (v: number) => Math.round(((v + SPAN) / (2 * SPAN)) * (CELLS - 1))

/** Colours of a picture as logarithms of the ratios to green, counted in cells. */
interface Colours {
  counts: Float64Array
  all: number
}

function countColours({ rgb, weights }: SmallPicture): Colours {
  const counts = new Float64Array(CELLS * CELLS)
  let all = 1e-9
  for (let i = 0, k = 0; i < rgb.length; i += 3, k++) {
    const [r, g, b] = [rgb[i], rgb[i + 1], rgb[i + 2]]
    const top = Math.max(r, g, b)
    // the blown and the black say nothing of colour
    if (!(Math.min(r, g, b) > 1e-4) || top > 0.95) continue
    const x = cell(log2(r / g))
    const y = cell(log2(b / g))
    if (x < 0 || y < 0 || x >= CELLS || y >= CELLS) continue
    const w = (weights ? weights[k] : 1) * Math.sqrt(top)
    counts[y * CELLS + x] += w
    all += w
  }
  return { counts, all }
}

/** How much of a picture is nearly grey under a light, and where the middle of that lies from the light. */
function greysUnder({ counts }: Colours, neutral: Triple): { mass: number; x: number; y: number } {
  const cx = log2(neutral[0] / neutral[1])
  const cy = log2(neutral[2] / neutral[1])
  let [mass, mx, my] = [0, 0, 0]
  const reach = Math.ceil((3 * NEAR) / UNIT)
  for (let y = Math.max(0, cell(cy) - reach); y <= Math.min(CELLS - 1, cell(cy) + reach); y++)
    for (let x = Math.max(0, cell(cx) - reach); x <= Math.min(CELLS - 1, cell(cx) + reach); x++) {
      const n = counts[y * CELLS + x]
      if (n === 0) continue
      const dx = x * UNIT - SPAN - cx
      const dy = y * UNIT - SPAN - cy
      const w = n * exp2((-(dx * dx + dy * dy) / (2 * NEAR * NEAR)) * 1.4427)
      mass += w
      mx += w * dx
      my += w * dy
    }
  return { mass, x: cx + mx / Math.max(mass, 1e-9), y: cy + my / Math.max(mass, 1e-9) }
}

/**
 * The light of a picture among lights that exist, by nothing but the picture: of all colour temperatures, with a little tint, the
 * one under which most of the picture is nearly grey, preferring those near the mean of the picture and of its edges and near
 * daylight.
 * @param picture camera channels, not balanced, white level 1
 * @returns camera response to the light's neutral, largest 1
 */
export function estimateWhite(
  picture: SmallPicture,
  camera: CameraColour,
  colours = countColours(picture),
): Triple {
  const world = greyWorld(picture)
  const edges = greyEdge(picture)
  const guess = [0, 1, 2].map((c) => Math.sqrt(world[c] * edges[c])) as unknown as Triple
  const near = kelvinFromXy(xyFromNeutral(camera, guess))
  let best = { score: -1, neutral: guess }
  const lights: { mired: number; tint: number }[] = []
  for (let mired = 80; mired <= 480; mired += 8)
    for (let tint = -24; tint <= 24; tint += 6) lights.push({ mired, tint })
  const daylight = 1e6 / kelvinFromXy(lampById('daylight').xy).kelvin
  for (const { mired, tint } of lights) {
    const neutral = neutralFromXy(camera, xyFromKelvin(held(1e6 / mired, 2000, 15000), tint))
    const { mass, x, y } = greysUnder(colours, neutral)
    const away = (mired - 1e6 / held(near.kelvin, 2000, 15000)) / MIREDS
    const common = (mired - daylight) / (3 * MIREDS)
    const off = tint / TINTS
    const score = mass * exp2(-0.72 * (away * away + common * common + off * off))
    if (score > best.score) {
      // a step from the candidate to the middle of the greys around it; where little is grey, the mean of the picture has its say
      const sure = mass / (mass + TRUST * colours.all)
      const mixed = (own: number, c: number) => exp2(sure * own + (1 - sure) * log2(guess[c] / guess[1]))
      best = { score, neutral: largestOne([mixed(x, 0), 1, mixed(y, 2)]) }
    }
  }
  return best.neutral
}

function largestOne(v: Triple): Triple {
  const top = Math.max(...v)
  return [v[0] / top, v[1] / top, v[2] / top]
}

/**
 * Share of the picture that must be grey under another light for the camera's word to be left, times as much as under that, and
 * degrees between the two. A camera errs little or grossly, and a picture of one thing of one colour says nothing of the light.
 */
const REASON = { share: 0.25, times: 4, degrees: 8, all: 0.85 }

/**
 * White that starts from the camera's own word, which knows the light's mood, and leaves it only where far more of the picture is
 * grey under another light.
 * @param picture camera channels, not balanced, white level 1
 * @returns camera response to the light's neutral, largest 1
 */
export function automaticWhite(
  picture: SmallPicture,
  camera: CameraColour & { asShotNeutral: Triple },
): Triple {
  const taken = largestOne(camera.asShotNeutral)
  const colours = countColours(picture)
  const found = estimateWhite(picture, camera, colours)
  const there = greysUnder(colours, found).mass / colours.all
  const here = greysUnder(colours, taken).mass / colours.all
  const far = angularError(found, taken) > REASON.degrees
  const reason = far && there > REASON.share && there < REASON.all && there > REASON.times * here
  return reason ? found : taken
}

/** Degrees between two neutrals as directions, the usual measure of a white balance. */
export function angularError(a: Triple, b: Triple): number {
  const dot = a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
  const length = (v: Triple) => Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2])
  return (Math.acos(Math.min(dot / (length(a) * length(b)), 1)) * 180) / Math.PI
}
