import {
  automaticExposure,
  automaticPoints,
  automaticTones,
  automaticWhite,
  FRAME_STEPS,
  GRIPS,
  interestWeights,
  kelvinFromXy,
  KELVIN,
  log2,
  TINT,
  xyFromNeutral,
  BLACK_POINT,
  WHITE_POINT,
  type Development,
  type InterestArea,
  type SmallPicture,
  type Square,
  type StepId,
} from '@dunkelkammer/core'
import type { Picture } from './picture'
import { hold, round } from './rounding'

/** What can be set from the picture's statistics. */
export const AUTOMATICS = ['white', 'exposure', 'points', 'tones'] as const
export type Automatic = (typeof AUTOMATICS)[number]

/** Areas in sensor coordinates as they lie in the frame that is shown, 1 its long edge; those outside of it are left out. */
export function framedAreas(areas: readonly InterestArea[], square: Square, long: number): InterestArea[] {
  const side = Math.max(square.width, square.height)
  const hold = (v: number, most: number) => Math.min(Math.max(v, 0), most)
  return areas.flatMap(({ x, y, width, height }) => {
    const corners = [
      [x, y],
      [x + width, y],
      [x, y + height],
      [x + width, y + height],
    ].map(([u, v]) => square.toFrame(u * long, v * long))
    if (corners.some((c) => !c)) return []
    const xs = corners.map((c) => hold(c![0], square.width) / side)
    const ys = corners.map((c) => hold(c![1], square.height) / side)
    const area = {
      x: Math.min(...xs),
      y: Math.min(...ys),
      width: Math.max(...xs) - Math.min(...xs),
      height: Math.max(...ys) - Math.min(...ys),
    }
    return area.width > 0 && area.height > 0 ? [area] : []
  })
}

/**
 * The development with some of its ordinary controls set from the picture: first the white balance, then exposure,
 * then the points, then the grips, each seeing what the ones before did. Areas of interest count most.
 * @param strength 0 to 1.5 of the way from where nothing is set
 */
export async function automatic(
  picture: Picture,
  development: Development,
  which: readonly Automatic[],
  strength: number,
): Promise<Development> {
  // what is switched off would hide what is to be judged
  const frame = [...FRAME_STEPS] as StepId[]
  const kept = Object.entries(development.strength).filter(([id]) => frame.includes(id as StepId))
  let now: Development = {
    ...development,
    off: development.off.filter((id) => frame.includes(id)),
    strength: Object.fromEntries(kept),
  }
  const square = await picture.square(now)
  const interest = framedAreas(now.interest, square, Math.max(picture.width, picture.height))
  const see = async (until: StepId): Promise<SmallPicture> => {
    const small = await picture.ask('small', now, until)
    return { ...small, weights: interestWeights(small.width, small.height, interest) }
  }
  const set = (steps: Partial<Development['steps']>) => {
    now = { ...now, steps: { ...now.steps, ...steps } }
  }
  if (which.includes('white')) {
    const { colour } = picture.frame
    const seen = await see('cameraColour')
    const unbalanced = { ...seen, rgb: seen.rgb.map((v, i) => v / picture.balance[i % 3]) }
    const found = automaticWhite(unbalanced, colour)
    // by strength from what the camera chose, in mireds
    const from = kelvinFromXy(xyFromNeutral(colour, colour.asShotNeutral))
    const to = kelvinFromXy(xyFromNeutral(colour, found))
    const mired = 1e6 / from.kelvin + strength * (1e6 / to.kelvin - 1e6 / from.kelvin)
    const kelvin = round(hold(1e6 / mired, KELVIN), 10)
    const tint = round(hold(from.tint + strength * (to.tint - from.tint), TINT), 1)
    set({ cameraColour: { ...now.steps.cameraColour, source: 'kelvin', kelvin, tint } })
  }
  if (which.includes('exposure')) {
    const ev = automaticExposure(await see('exposure'))
    set({ exposure: { ev: round(hold(ev * strength, { min: -5, max: 5 }), 0.05) } })
  }
  if (which.includes('points')) {
    const found = automaticPoints(await see('points'))
    const { none, to } = BLACK_POINT
    // a black point is light: half of it is a stop lower
    const black = found.black > none && strength > 0 ? found.black + log2(strength) : none
    const white = WHITE_POINT.start + strength * (found.white - WHITE_POINT.start)
    set({
      points: {
        black: round(hold(black, { min: none, max: to }), 0.1),
        white: round(hold(white, { min: WHITE_POINT.from, max: WHITE_POINT.to }), 0.05),
      },
    })
  }
  if (which.includes('tones')) {
    const found = automaticTones(await see('tones'), now.steps.tones)
    const tones = { ...found }
    for (const g of GRIPS)
      tones[g] = { ...found[g], lift: round(hold(found[g].lift * strength, { min: -3, max: 3 }), 0.05) }
    set({ tones })
  }
  return { ...development, steps: now.steps }
}
