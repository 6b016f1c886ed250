import type { z } from 'zod'
import type { Kernels } from '../kernels/kernels'
import type { Raster, Scratch } from '../memory'
import type { CameraColour, FileProfile } from '../colour'
import type { Triple } from '../math'
import type { CfaPattern, SensorFrame } from '../raw'
import type { NoiseModels } from './noise/model'

/** The seven parts of the work, in order. */
export const STAGES = ['square-up', 'expose', 'balance', 'refine', 'mend', 'shape', 'finish'] as const
export type StageId = (typeof STAGES)[number]

/** What was found out about a mosaic as a whole; maps of cells in the engine's memory. */
export interface SurveyMaps {
  /** Red over green, blue over green: 32-bit floats, width x height each. */
  red: number
  blue: number
  width: number
  height: number
  /** Sensor pixels of a cell. */
  cell: number
  /** Gain on greens beside red, in larger cells. */
  greens: { map: number; width: number; height: number; cell: number }
  clipped: boolean
  uneven: boolean
}

/** What a step may know of the picture besides its settings. */
export interface PictureContext {
  /** Size of the frame that is shown, in sensor pixels: the picture standing upright, squared up and cropped. */
  width: number
  height: number
  /** The same as the sensor lay. */
  sensorSize: { width: number; height: number }
  layout: SensorFrame['layout']
  referred: SensorFrame['referred']
  pattern: CfaPattern
  colour: CameraColour
  /** Stops that the maker wants added. */
  baselineExposure: number
  /** The maker's own rendering. */
  profile?: FileProfile
  /** Factor that the mosaic's channels were given on reading, smallest 1. */
  balance: Triple
  /** Variance = a * signal + b by colour, signal 0..1 before balancing. */
  noise?: readonly { a: number; b: number }[]
  /** The same, and what others say of it. */
  noiseModels: NoiseModels
  survey?: SurveyMaps
}

/** A piece of the picture that a step works on, with its surroundings already in it. */
export interface Tile {
  /** Place of the first sample; sensor pixels times `scale`, for a mosaic its own pixels. */
  x: number
  y: number
  /** Picture pixels per sensor pixel: 1 at full size. */
  scale: number
  /** One plane for a mosaic, three for a picture; a step may replace it. */
  raster: Raster
  /** What the three planes of a picture hold: linear RGB, or Oklab for the steps that ask for it. */
  colours: 'rgb' | 'oklab'
  /** The quick way will do where a step knows two: for a picture that is dragged, or shown small. */
  draft?: boolean
  /** The whole picture's size in the tile's pixels. */
  whole: { width: number; height: number }
  kernels: Kernels
  scratch: Scratch
}

/** What a step found out about the picture as a whole before it runs on tiles. */
export interface StepSurvey<S> {
  /** Whether it looks at the picture as it is before this step; where not, its maps depend on settings alone. */
  looks: boolean
  /** What of the settings its maps depend on. */
  key(settings: S): string
  /** Bytes of its maps. */
  bytes(settings: S, overview: { width: number; height: number }): number
  /**
   * Makes the maps.
   * @param overview the picture made small, OVERVIEW long, linear working space; without samples where it does not look
   * @param target byte address of the maps
   */
  run(overview: Raster, settings: S, target: number, kernels: Kernels, scratch: Scratch): void
}

/** Where a step's maps lie in the engine's memory, and the size of the overview they were made from. */
export interface Surveyed {
  at: number
  width: number
  height: number
  /** Stops that the light was multiplied by since they were made. */
  lift?: number
}

/** Long edge of the overview: a map of local brightness needs no more, and it is made anew while controls move. */
export const OVERVIEW = 384

/**
 * One computation of the pipeline. A step knows neither who asks nor what comes before or after; switching off,
 * strength, tiles and caches are the pipeline's business.
 */
export interface Step<S, P = unknown> {
  id: string
  /** What the photographer calls it; a part of another step has no name of its own. */
  name?: string
  /** Whose settings, strength and switch it goes by, where it has none of its own: a second part of another step. */
  settingsOf?: string
  stage: StageId
  /** Made for one frame, and not taken along to another. */
  belongs?: 'frame'
  schema: z.ZodType<S>
  /** Brings older settings up, each by one version; their number says the version of today. Values may be anything. */
  migrations?: readonly ((old: never) => unknown)[]
  /** Settings that change nothing. An essential step has a start instead, from which it departs. */
  neutral: S
  /** Settings without it, switched off or let in by 0, where that is not what it is at the start. */
  absent?: S
  /** Runs even at its neutral settings, since the picture is not one without it; let in by the strength of its fields. */
  essential: boolean
  /** Its result is worth keeping while later steps change. */
  keep: boolean
  /**
   * A step on the mosaic is left out where the file holds linear colours. One on the frame does not run on tiles: it
   * is part of the one map that says where every pixel comes from. One on the whole works on the full picture in place.
   * One of passes is run as other steps, in areas.
   */
  takes: 'mosaic' | 'frame' | 'picture' | 'whole' | 'passes'
  /** What its result is made of; says where a linear or camera file leaves the pipeline. */
  yields: 'mosaic' | 'camera' | 'scene' | 'display'
  /** What it wants the planes to hold; where not said, linear RGB. */
  colours?: 'rgb' | 'oklab'
  /** What its settings do to the picture, in few words: asked where they are not as at the start. */
  says?(settings: S): string | readonly string[]
  /** Settings that change nothing, though they are not the neutral ones. */
  idle?(settings: S): boolean
  /** A picture that is only looked over, or shown quickly and small, can do without. */
  spare?: boolean
  /** It has a quick way besides the best. */
  drafts?: boolean
  /** It may run in an area too, after it has run for the whole picture. */
  inArea?: true
  /** In an area it runs in place of its run for the whole picture, on what that began with. */
  instead?: true
  /** What it runs with is made by the pipeline of more than the development; planning leaves it out. */
  given?: boolean
  survey?: StepSurvey<S>
  /** Where it does nothing but multiply all light by one number: that number. Maps of later steps need not wait for it. */
  scales?(settings: S): number
  /** Light so many times as strong comes out so many times as strong. */
  follows?: boolean
  /** Name of a table of colours that it needs, which the engine is given from outside. */
  table?(settings: S): string | undefined
  /** Pixels of surroundings a tile needs. */
  reach(settings: S, scale: number, context: PictureContext, draft?: boolean): number
  /**
   * Tables, matrices, statistics: once per change of the settings. What depends on the frame's size belongs into `run`,
   * which is told of it: the frame's size changes while it is dragged.
   */
  prepare(settings: S, context: PictureContext): P
  run(tile: Tile, prepared: P, surveyed?: Surveyed): void
}

/** A step with its id, and with the schema that its settings are of. */
export type Defined<Id extends string, Schema extends z.ZodType, P = unknown> = Step<z.output<Schema>, P> & {
  id: Id
  schema: Schema
}

/** Keeps the types of id, settings and prepared data together where a step is defined. */
export const defineStep = <const Id extends string, Schema extends z.ZodType, P>(
  step: Defined<Id, Schema, P> & { name: string; settingsOf?: never },
) => step

/** The same for a second part of a step. */
export const definePart = <const Id extends string, Schema extends z.ZodType, P>(
  part: Defined<Id, Schema, P> & { settingsOf: string },
) => part

/** Byte addresses of the three planes of a tile. */
export const planes = (r: Raster): readonly [number, number, number] => {
  const size = r.stride * r.height * 4
  return [r.offset, r.offset + size, r.offset + 2 * size]
}

/** Floats in one plane of a tile. */
export const planeLength = (r: Raster): number => r.stride * r.height
