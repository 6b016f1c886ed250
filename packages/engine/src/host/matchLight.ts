import {
  chosenNeutral,
  exposureOf,
  lightBetween,
  log2,
  neutralFromXy,
  startDevelopment,
  toneQuantiles,
  whiteOf,
  xyFromNeutral,
  type CameraColour,
  type Development,
  type SmallPicture,
  type Triple,
} from '@dunkelkammer/core'
import { hold, round } from './rounding'
import type { Picture } from './picture'

/** What of a picture counts where another is matched to it. */
export interface PictureLight {
  /** Camera channels, not balanced, white level 1. */
  small: SmallPicture
  colour: CameraColour
  /** Maker and model. */
  camera: string
  /** Signal of the same light by the camera's settings, in stops. */
  exposure?: number
  /** Stops that the file itself has its picture made brighter by. */
  lift: number
  /** What the development makes of it. */
  neutral: Triple
  ev: number
}

/**
 * What a match goes by: the scene where both pictures show the same, else the camera's exposure, else how bright the
 * picture is.
 */
export type MatchedBy = 'scene' | 'exposure' | 'brightness'

/** Exposure and white that make a picture agree with another one. */
export interface LightMatch {
  by: MatchedBy
  /** Stops. */
  ev: number
  kelvin: number
  tint: number
}

/** The range of the exposure. */
const STOPS = { min: -5, max: 5 }
const PLAIN = startDevelopment()

/** How far a step of a development is let in; nothing where it is switched off. */
const letIn = ({ off, strength }: Development, step: 'exposure' | 'cameraColour') =>
  off.includes(step) ? 0 : (strength[step] ?? 1)

/** Reads the light of a picture. The picture is taken as it stands in the file: a crop hides nothing. */
export async function lightOf(picture: Picture, development: Development): Promise<PictureLight> {
  const { colour, metadata, baselineExposure } = picture.frame
  const { balance } = picture
  const seen = await picture.ask('small', PLAIN, 'cameraColour')
  const white =
    letIn(development, 'cameraColour') > 0 ? development.steps.cameraColour : PLAIN.steps.cameraColour
  return {
    small: { ...seen, rgb: seen.rgb.map((v, i) => v / balance[i % 3]) },
    colour,
    camera: `${metadata.make ?? ''} ${metadata.model ?? ''}`,
    exposure: exposureOf(metadata),
    lift: log2(balance[1]) + baselineExposure,
    neutral: chosenNeutral(white, colour),
    ev: development.steps.exposure.ev * letIn(development, 'exposure'),
  }
}

/** The white of a neutral in the steps that it is set in. */
function setWhite(colour: CameraColour, neutral: Triple) {
  const { kelvin, tint } = whiteOf(colour, neutral)
  return { kelvin: round(kelvin, 10), tint: round(tint, 0.5) }
}

/** Exposure and white that a picture stands at. */
export const standingLight = ({ ev, colour, neutral }: PictureLight) => ({
  ev: round(hold(ev, STOPS), 0.01),
  ...setWhite(colour, neutral),
})

const ratioOf = (stops: Triple) => stops.map((s) => 2 ** (s - stops[1]))

/** What makes a picture agree with another one, on a development that lets exposure and white in wholly. */
export function matchLight(to: PictureLight, own: PictureLight): LightMatch {
  const noted =
    to.exposure !== undefined && own.exposure !== undefined ? own.exposure - to.exposure : undefined
  const stops = to.camera === own.camera ? lightBetween(to.small, own.small) : undefined
  // the same light for another camera, or what the light has become
  const same = neutralFromXy(own.colour, xyFromNeutral(to.colour, to.neutral))
  const neutral = stops ? (to.neutral.map((v, c) => v * ratioOf(stops)[c]) as unknown as Triple) : same
  const [by, brighter] = ((): [MatchedBy, number] => {
    if (stops) return ['scene', stops[1]]
    if (noted !== undefined) return ['exposure', noted]
    const [[a], [b]] = [to, own].map(({ small }) => toneQuantiles(small, [0.5]))
    return ['brightness', b - a]
  })()
  return {
    by,
    ev: round(hold(to.ev + to.lift - own.lift - brighter, STOPS), 0.01),
    ...setWhite(own.colour, neutral),
  }
}

/** A development with its exposure and white as they were matched. */
export function withLight(
  d: Development,
  { ev, kelvin, tint }: Pick<LightMatch, 'ev' | 'kelvin' | 'tint'>,
): Development {
  const isSet = (id: string) => id === 'exposure' || id === 'cameraColour'
  const strength = Object.fromEntries(Object.entries(d.strength).filter(([id]) => !isSet(id)))
  return {
    ...d,
    strength,
    off: d.off.filter((id) => !isSet(id)),
    steps: {
      ...d.steps,
      exposure: { ev },
      cameraColour: { ...d.steps.cameraColour, source: 'kelvin', kelvin, tint },
    },
  }
}
