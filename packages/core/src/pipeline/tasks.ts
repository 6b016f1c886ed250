import type { Triple } from '../math'
import type { SpaceId } from '../colour'
import type { OutputSpace, PlacedTable, Resampling } from '../output'
import type { SharpenSettings } from '../steps/sharpen/schema'
import type { Raster } from '../memory'
import type { EdgeSample } from '../analysis/softness'
import type { NoiseSample } from '../analysis/noise'
import type { FringeSample } from '../analysis/fringes'
import type { StraightEdge } from '../analysis/lines'
import type { FoundFill } from '../mend/fill/fillMap'
import type { FoundSource } from '../mend/source'
import type { DustSpot } from '../mend/dust'
import type { FoundWire, Strip } from '../mend/wire'
import type { Region } from '../mend/region'
import type { Spot } from '../mend/spot'
import type { SurveyedFrame } from '../analysis/survey'
import type { CfaPattern, Companding, ListedFrame, Rect, SensorFrame, Segment, Storage } from '../raw'
import type { PartId, Tile } from '../steps'
import type { OpenPicture } from './picture'
import type { Findable } from '../masks/find/findable'
import type { MaskLook } from '../masks/look'
import type { DrawnShape, PlannedMask } from '../masks/planned'
import type { Alike, Correction, MaskRefinement } from '../masks/schema'
import type { PlannedStep } from './plan'
import type { ToneSpread } from '../steps/areas/ready'
import type { Warp } from './warp'

/** Reads the structure of the file at `offset`. */
export interface ParseTask {
  kind: 'parse'
  offset: number
  length: number
}

/** Decodes one segment of the file into the sensor's raster. */
export interface DecodeTask {
  kind: 'decode'
  fileOffset: number
  segment: Segment
  storage: Storage
  sensor: Raster
  /** Address and size of a 16-bit linearisation table, size 0 for none. */
  table: number
  tableSize: number
}

/** Mends the places of the sensor that the file says are bad. */
export interface MendListedTask {
  kind: 'mendListed'
  sensor: Raster
  frame: ListedFrame
}

/** Counts rows from..to of the cells of a mosaic. */
export interface SurveyTask {
  kind: 'survey'
  sensor: Raster
  frame: SurveyedFrame
  /** Address of the cells' floats, and cells across. */
  target: number
  across: number
  from: number
  to: number
}

/** Maps from the counted cells; they take three floats a cell. */
export interface SolveSurveyTask {
  kind: 'solveSurvey'
  cells: number
  across: number
  down: number
  pattern: CfaPattern
  /** Factors of the channels as shot. */
  balance: Triple
  target: number
}

/** Mosaic to demosaiced picture, one tile of it. */
export interface DevelopTask {
  kind: 'develop'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  /** In picture coordinates of the sensor, upright or not. */
  region: Rect
  /** The whole picture as it is kept, turned upright. */
  target: Raster
  /** A quarter or so of the work: the target has half the picture's size, or a third. */
  quick?: boolean
  /** The quick way where a step knows two. */
  draft?: boolean
}

/** Lines from..to of the demosaiced picture made smaller. */
export interface ReduceTask {
  kind: 'reduce'
  source: Raster
  target: Raster
  from: number
  to: number
}

/** Lines of a view for the screen. */
export interface ScreenTask {
  kind: 'screen'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  source: Raster
  /** Where the source is not the kept picture, but what the first steps made of a part of it. */
  staged?: Staged
  /** How the frame is sampled from the source, where that has not been done yet. */
  warp?: Warp
  /** What masks are drawn from where they have not been drawn, if that is not the source. */
  origin?: { source: Raster; warp?: Warp }
  scale: number
  /** Part of the source that is shown, lines from..to of it in this task. */
  region: Rect
  from: number
  to: number
  /** Where what is shown goes. */
  shown: ShownAt
  /** An earlier view of the same region that differs from this one within some columns alone, if at all there. */
  earlier?: { shown: ShownAt; columns: [from: number, to: number] }
  /** Levels of 255 from which on, and down to which, a channel counts as clipped. */
  highFrom: number
  lowTo: number
  /** Also count levels over columns. */
  waveform: boolean
  /** The space of the page that shows it. */
  display: SpaceId
  /** Shows how another device would: a table to linear colours of the display. */
  proof?: PlacedTable
  /** Also draws stripes over what lies outside of that device's gamut. */
  stripes?: boolean
  /** Levels are the nearest, not dithered: the picture has no finer ones. */
  nearest?: boolean
}

/** Addresses of what is shown of a region. */
export interface ShownAt {
  /** RGBA layers of the region: picture, clipped highlights, clipped shadows; 0 for not wanted. */
  rgba: number
  highs: number
  lows: number
  /** Counts of levels and of clipped pixels in each cell of the task's lines, SCREEN_COUNTS integers each. */
  counts: number
}

/** Lines from..to of a finished picture, interleaved RGB. */
export interface DeliverTask {
  kind: 'deliver'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  space: OutputSpace
  /** In place of a space: to the encoded colours of a profile. */
  table?: PlacedTable
  source: Raster
  /** Where the frame is not the kept picture as it lies. */
  warp?: Warp
  width: number
  height: number
  /** What the picture is made smaller or larger with. */
  kernel: Resampling
  /** What is undone at the final size. */
  sharpening?: SharpenSettings
  bits: 8 | 16
  /** Stops by which camera light is darkened, so that light beyond white fits in. */
  headroom?: number
  /** Levels are the nearest, not dithered: the picture has no finer ones. */
  nearest?: boolean
  from: number
  to: number
  /** Address of line `from`. */
  target: number
}

/** Lines of 16-bit linear RGB as one tile of a linear DNG. */
export interface PackLinearTask {
  kind: 'packLinear'
  /** Address of the samples, interleaved. */
  source: number
  width: number
  lines: number
  /** Not smaller than that. */
  tile: { width: number; lines: number }
  companding: Companding
}

/** Mean of the demosaiced picture around a place. */
export interface SampleTask {
  kind: 'sample'
  source: Raster
  x: number
  y: number
  radius: number
}

/** What is known of a raster that some steps have worked on already. */
export interface Staged {
  /** Its place in the picture, in pixels of the view. */
  x: number
  y: number
  whole: { width: number; height: number }
  colours: Tile['colours']
}

/** Lines of a view, sampled where that has not been done, after its first steps. */
export interface StageTask {
  kind: 'stage'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  source: Raster
  staged?: Staged
  /** How the frame is sampled from the source, where that has not been done yet. */
  warp?: Warp
  /** As of a view's lines. */
  origin?: ScreenTask['origin']
  scale: number
  region: Rect
  from: number
  to: number
  /** What the planes are to hold. */
  ends: Tile['colours']
  /** Raster of the region's size. */
  target: Raster
}

/** Maps for one step, from the small picture taken through the steps before it. */
export interface SurveyStepTask {
  kind: 'surveyStep'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  source: Raster
  step: PartId
  settings: unknown
  /** Byte address of the maps. */
  target: number
}

/** Samples of the small picture after some steps, or how much of each hue it holds. */
export interface OverviewTask {
  kind: 'overview'
  hues?: boolean
  picture: OpenPicture
  steps: readonly PlannedStep[]
  source: Raster
}

/** What is at a place of the full picture, in three states of the light. */
export interface ReadTask {
  kind: 'read'
  picture: OpenPicture
  /** Steps up to scene light, and those from there to the display. */
  scene: readonly PlannedStep[]
  display: readonly PlannedStep[]
  source: Raster
  warp?: Warp
  /** The space of the page that shows it. */
  space: SpaceId
  x: number
  y: number
  radius: number
}

/** Means around a place. */
export interface Reading {
  /** The camera's channels, 1 its white level. */
  sensor: Triple
  /** Scene light in the working space, 1 diffuse white. */
  linear: Triple
  /** Encoded sRGB, 0..1. */
  output: Triple
  /** CIE Lab (D50) of it. */
  lab: Triple
}

/** What some steps between display light and display light make of all colours. */
export interface TableTask {
  kind: 'table'
  picture: OpenPicture
  steps: readonly PlannedStep[]
  size: number
}

/** What blocks of the mosaic say about lateral fringes. */
export interface FringesTask {
  kind: 'fringes'
  picture: OpenPicture
  /** Their middles, pixels of the picture as the sensor has it. */
  blocks: readonly (readonly [number, number])[]
  size: number
}

/** What blocks of the stored picture say about its noise. */
export interface NoiseTask {
  kind: 'noise'
  picture: OpenPicture
  /** Their corners, pixels of the picture as the sensor has it. */
  blocks: readonly (readonly [number, number])[]
}

/** What straight edges in blocks of the developed picture say about how soft it is. */
export interface SoftnessTask {
  kind: 'softness'
  source: Raster
  /** Their corners, pixels of the upright picture. */
  blocks: readonly (readonly [number, number])[]
}

/** Straight edges of a picture made small, or the edge under a drawn line. */
export interface LinesTask {
  kind: 'lines'
  source: Raster
  /** Least length, pixels. */
  shortest: number
  /** Lines to be followed instead, pixels of the source, and how far off their edges may lie. */
  drawn?: readonly { from: readonly [number, number]; to: readonly [number, number]; reach: number }[]
}

/** Either straight edges, or the places of what was followed: none where there was no edge. */
export interface LinesResult {
  segments: readonly StraightEdge[]
  traced: readonly (readonly [number, number][] | undefined)[]
}

/** Copies a rectangle of one picture to its place in another of the same shape. */
export interface CopyTask {
  kind: 'copy'
  source: Raster
  target: Raster
  rect: Rect
}

/** Draws a mask in lines from..to of a part of the frame. */
export interface MaskTask {
  kind: 'mask'
  picture: OpenPicture
  /** The mended picture at some size, and how the frame is sampled from it. */
  source: Raster
  warp?: Warp
  mask: PlannedMask
  /** In the frame's pixels. */
  rect: Rect
  from: number
  to: number
  /** One plane of the size of `rect`. */
  target: Raster
}

/** Finds the part of a drawn mask outside of which all is 0. */
export interface MaskBoxTask {
  kind: 'maskBox'
  mask: Raster
}

/** Refines a mask that has been drawn for the whole picture, into the planes of its map. */
export interface RefineMaskTask {
  kind: 'refineMask'
  picture: OpenPicture
  /** The whole picture at the size of the map. */
  source: Raster
  refined: MaskRefinement
  /** Whether edges are followed. */
  guided: boolean
  /** The mask in its first plane. */
  target: Raster
}

/** Finds where a stroke belongs that follows edges. */
export interface FollowTask {
  kind: 'follow'
  picture: OpenPicture
  /** The whole picture at the size of the map. */
  source: Raster
  stroke: Extract<DrawnShape, { kind: 'stroke' }>
  /** What of it is looked at, in its pixels. */
  rect: Rect
  /** One plane of that size. */
  target: Raster
}

/** Finds what of a shape lies inside an edge of the picture. */
export interface EncloseTask {
  kind: 'enclose'
  picture: OpenPicture
  /** The whole picture at the size of the map. */
  source: Raster
  /** Without what else limits or inverts it. */
  shape: DrawnShape
  /** Oklab distance across an edge. */
  contrast: number
  /** What of it is looked at, in its pixels. */
  rect: Rect
  /** One plane of that size. */
  target: Raster
}

/** What is looked for in a picture. */
export type FindWish =
  | { kind: 'found'; what: Findable; corrections?: readonly Correction[] }
  | { kind: 'distance' }
  | { kind: 'alike'; like: Alike }
  | { kind: 'regions'; at: readonly (readonly [number, number])[]; count: number }

/** Looks for something in the whole picture; the answer is how sure it is of it, 0 where it found nothing. */
export interface FindTask {
  kind: 'find'
  picture: OpenPicture
  /** The whole picture at the size of the map. */
  source: Raster
  wish: FindWish
  /** What regions are to be taken from. */
  tree?: Raster
  /** Five planes of that size: what was found, and what `fitToGuide` gives. */
  target: Raster
  /** What was found before, as bytes in memory. */
  known?: { offset: number; confidence: number }
}

/** Divides the whole picture into regions. */
export interface DivideTask {
  kind: 'divide'
  picture: OpenPicture
  source: Raster
  /** One plane, `treeSize` of the source's size. */
  target: Raster
}

/** How light the whole picture is. */
export interface ToneSpreadTask {
  kind: 'toneSpread'
  picture: OpenPicture
  source: Raster
}

/** The border of the region at a place. */
export interface RegionTask {
  kind: 'region'
  picture: OpenPicture
  tree: Raster
  /** Sensor coordinates. */
  x: number
  y: number
  count: number
}

/** Paints lines from..to of a mask that has been drawn as a layer over the picture. */
export interface PaintMaskTask {
  kind: 'paintMask'
  mask: Raster
  look: MaskLook
  /** Of its first pixel in the frame. */
  place: { x: number; y: number }
  from: number
  to: number
  /** Address of the layer, RGBA. */
  rgba: number
}

/** Carries out patches, or pieces of them, in place. */
export interface MendTask {
  kind: 'mend'
  picture: Raster
  /** None of them has to do with another. */
  spots: readonly Spot[]
  /** From which on each channel is clipped. */
  levels: Triple
}

/** Finds where a region is to be filled from. */
export interface FillTask {
  kind: 'fill'
  picture: Raster
  region: Region
  /** The part of the region that is filled; the rest of it is missing as well. */
  part: Rect
  /** What nothing is taken from. */
  barred: readonly Region[]
  /** Another one finds something else, where several things fit. */
  seed: number
  /** No finer than for a first look. */
  rough: boolean
  levels: Triple
}

/** Looks for sources of one patch. */
export interface SourcesTask {
  kind: 'sources'
  picture: Raster
  region: Region
  levels: Triple
  /** What other patches cover. */
  covered: readonly Region[]
}

/** Follows a wire along a strip. */
export interface WireTask {
  kind: 'wire'
  picture: Raster
  strip: Strip
}

/** Makes small differences stand out in a view, in place. */
export interface StandOutTask {
  kind: 'standOut'
  /** Address of its RGBA. */
  rgba: number
  width: number
  height: number
  gain: number
}

/** Looks for dust in a part of a picture. */
export interface DustTask {
  kind: 'dust'
  picture: Raster
  part: Rect
}

export type Task =
  | ParseTask
  | DecodeTask
  | MendListedTask
  | SurveyTask
  | SolveSurveyTask
  | DevelopTask
  | ReduceTask
  | ScreenTask
  | DeliverTask
  | PackLinearTask
  | SampleTask
  | StageTask
  | SurveyStepTask
  | OverviewTask
  | ReadTask
  | TableTask
  | FringesTask
  | NoiseTask
  | SoftnessTask
  | LinesTask
  | CopyTask
  | MendTask
  | MaskTask
  | PaintMaskTask
  | MaskBoxTask
  | RefineMaskTask
  | FollowTask
  | EncloseTask
  | FindTask
  | DivideTask
  | RegionTask
  | ToneSpreadTask
  | SourcesTask
  | FillTask
  | DustTask
  | WireTask
  | StandOutTask

/** The kernel's counts (R, G, B, luminance one after the other) and clipped pixels (highlights RGB, shadows RGB). */
export interface ScreenResult {
  histogram: Uint32Array
  clipped: Uint32Array
  /** Counts over columns and levels, R, G, B one after the other; where it was asked for. */
  waveform?: Uint32Array
}

export interface TaskResults {
  parse: SensorFrame
  decode: null
  mendListed: null
  survey: null
  solveSurvey: { clipped: boolean; uneven: boolean }
  develop: null
  reduce: null
  screen: ScreenResult
  deliver: null
  packLinear: Uint8Array
  sample: readonly [number, number, number]
  stage: null
  surveyStep: null
  overview: Float32Array
  read: Reading
  table: Float32Array
  fringes: readonly FringeSample[]
  noise: readonly NoiseSample[]
  softness: readonly EdgeSample[]
  lines: LinesResult
  copy: null
  mask: null
  paintMask: null
  maskBox: Rect | null
  refineMask: null
  follow: null
  enclose: null
  find: number
  divide: null
  toneSpread: ToneSpread
  region: readonly (readonly [x: number, y: number])[][]
  mend: null
  sources: readonly FoundSource[]
  fill: FoundFill | null
  dust: readonly DustSpot[]
  wire: FoundWire | null
  standOut: null
}
export type ResultOf<T extends Task> = TaskResults[T['kind']]
