import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import {
  ditherMask,
  decode,
  encode,
  encodeTransfer,
  prepareOutput,
  resampleTable,
  throughTable,
  toTableSpace,
  toTarget,
  type OutputSpace,
  type PreparedOutput,
  type Resampling,
  type ResampleTable,
} from '../output'
import { COUNT_PARTS } from '../analysis/histogram'
import { paintMask } from '../masks/look'
import { sharpenedLines } from './finalSharpness'
import { packLinear } from './packLinear'
import { decodeSegment, mendListed, readDng, type SensorFrame } from '../raw'
import { asShotBalance, between, spaces, srgb, toLab, working } from '../colour'
import { apply, type Triple } from '../math'
import { countHues } from '../analysis/hues'
import { addWaveform, WAVE_COUNTS } from '../analysis/waveform'
import { CELL_FLOATS, cellSize } from '../analysis/cells'
import { standOut } from '../analysis/standOut'
import { solveSurvey, surveyColours, surveyLevels } from '../analysis/survey'
import { fetchWindow } from './fetch'
import { binMosaic } from './quick'
import { storeTurned } from './turn'
import { planeLength, stepById, type PartId, type Tile } from '../steps'
import { bringTo } from '../steps/colours'
import { lookAtEdges, lookAtFringes, lookAtNoise, lookForLines } from './looking'
import { loadWindow } from './load'
import { findFill } from './fill'
import { divide, findShape, regionAt, toneSpread } from './find'
import { drawMaskLines, encloseShape, followStroke, refineDrawn } from './masks'
import { boxOf, masksIn, runInstead, runMasked, sensorMasks, type TileMasks } from './passes'
import { copyRect, lookForDust, lookForSources, lookForWire, mend } from './mend'
import { warpWindow, type Warp } from './warp'
import type { OpenPicture } from './picture'
import { quickSteps, reachOf, type PlannedStep } from './plan'
import { SCREEN_CELL, SCREEN_COUNTS } from './screen'
import { drawStripes } from './stripes'
import type {
  DecodeTask,
  DeliverTask,
  DevelopTask,
  SolveSurveyTask,
  SurveyTask,
  ParseTask,
  ReduceTask,
  ResultOf,
  OverviewTask,
  Reading,
  ReadTask,
  SampleTask,
  Staged,
  StageTask,
  SurveyStepTask,
  TableTask,
  ScreenResult,
  ScreenTask,
  ShownAt,
  Task,
} from './tasks'

/** Is told the share of a task that is done, where it takes long. */
export type OnProgress = (share: number) => void

/** Lines that go through the steps at once when a whole width is rendered: small enough for the cache. */
const CHUNK = 16

/** The same where each run needs surroundings: more lines, so that fewer are computed twice. */
const WIDE_CHUNK = 64
/** Pixels across that go through such steps at once. */
const WIDE_PIECE = 512
/** The same where steps run in areas: these are left out of pieces that lie elsewhere. */
const AREA_PIECE = 384

/** What a tile holds after a task's steps: the output takes it as it is. */
function endOf({ steps, staged }: { steps: readonly PlannedStep[]; staged?: Staged }): Tile['colours'] {
  const last = steps[steps.length - 1]
  return last ? (stepById.get(last.id)!.colours ?? 'rgb') : (staged?.colours ?? 'rgb')
}

/** Whether any of a task's steps runs in areas: where these lie elsewhere it is left out, if pieces are small. */
const hasAreas = ({ steps }: { steps: readonly PlannedStep[] }) => steps.some(({ mask }) => mask)

/** What a task's frame measures, in pixels of its own size. */
const sizeOf = ({ source, warp, staged }: { source: Raster; warp?: Warp; staged?: Staged }) =>
  staged?.whole ?? warp?.frame ?? { width: source.width, height: source.height }

/** A square around a place, held inside the picture. */
function squareAround(source: { width: number; height: number }, x: number, y: number, radius: number) {
  const size = 2 * radius + 1
  return {
    left: Math.min(Math.max(Math.round(x) - radius, 0), Math.max(source.width - size, 0)),
    top: Math.min(Math.max(Math.round(y) - radius, 0), Math.max(source.height - size, 0)),
    w: Math.min(size, source.width),
    h: Math.min(size, source.height),
  }
}

const MASK = ditherMask()
/** One threshold everywhere: the nearest level. */
const NEAREST = MASK.slice().fill(128)

/** Carries out tasks over one memory. Each worker has one. */
export class Runner {
  private readonly prepared = new Map<string, unknown>()
  private inTask = new Map<PlannedStep, unknown>()
  private readonly outputs = new Map<string, PreparedOutput>()
  private readonly tables = new Map<string, ResampleTable>()

  constructor(
    private readonly kernels: Kernels,
    private readonly scratch: Scratch,
  ) {}

  /** @throws RawError for files that cannot be developed */
  run<T extends Task>(task: T, onProgress?: OnProgress): ResultOf<T> {
    this.scratch.release()
    this.inTask.clear()
    return this.carryOut(task, onProgress) as ResultOf<T>
  }

  private carryOut(task: Task, onProgress?: OnProgress): unknown {
    switch (task.kind) {
      case 'parse':
        return this.parse(task)
      case 'decode':
        return this.decode(task)
      case 'mendListed':
        mendListed(this.buffer, task.sensor, task.frame)
        return null
      case 'survey':
        return this.survey(task)
      case 'solveSurvey':
        return this.solve(task)
      case 'develop':
        return this.develop(task)
      case 'reduce':
        return this.reduce(task)
      case 'screen':
        return this.screen(task)
      case 'deliver':
        return this.deliver(task)
      case 'packLinear':
        return packLinear(this.buffer, task)
      case 'sample':
        return this.sample(task)
      case 'read':
        return this.read(task)
      case 'table':
        return this.tableOf(task)
      case 'stage':
        return this.stage(task)
      case 'surveyStep':
        return this.surveyStep(task)
      case 'overview':
        return this.overview(task)
      case 'fringes':
        return lookAtFringes(this.kernels, this.scratch, task)
      case 'noise':
        return lookAtNoise(this.kernels, this.scratch, task)
      case 'softness':
        return lookAtEdges(this.kernels, this.scratch, task)
      case 'lines':
        return lookForLines(this.kernels, this.scratch, task)
      case 'copy':
        return copyRect(this.scratch, task)
      case 'mask':
        return drawMaskLines(this.kernels, this.scratch, task)
      case 'maskBox':
        return boxOf(this.scratch, task.mask) ?? null
      case 'refineMask':
        return refineDrawn(this.kernels, this.scratch, task)
      case 'follow':
        return followStroke(this.kernels, this.scratch, task)
      case 'enclose':
        return encloseShape(this.kernels, this.scratch, task)
      case 'divide':
        return divide(this.kernels, this.scratch, task)
      case 'region':
        return regionAt(this.scratch, task)
      case 'toneSpread':
        return toneSpread(this.kernels, this.scratch, task)
      case 'find':
        return findShape(this.kernels, this.scratch, task, onProgress)
      case 'paintMask': {
        const { mask, look, place, from, to, rgba } = task
        paintMask(this.scratch, mask, look, place, [from, to], rgba)
        return null
      }
      case 'mend':
        return mend(this.kernels, this.scratch, task)
      case 'sources':
        return lookForSources(this.kernels, this.scratch, task)
      case 'fill':
        return findFill(this.kernels, this.scratch, task, onProgress)
      case 'dust':
        return lookForDust(this.kernels, this.scratch, task)
      case 'wire':
        return lookForWire(this.kernels, this.scratch, task)
      case 'standOut': {
        const { rgba, width, height, gain } = task
        standOut(new Uint8Array(this.buffer, rgba, width * height * 4), width, height, gain)
        return null
      }
    }
  }

  private get buffer(): ArrayBufferLike {
    return this.scratch.memory.buffer
  }

  private parse({ offset, length }: ParseTask): SensorFrame {
    return readDng(new Uint8Array(this.buffer, offset, length))
  }

  private decode({ segment, storage, sensor, fileOffset, table, tableSize }: DecodeTask): null {
    const job = { segment, storage, file: fileOffset, target: sensor, table, tableSize }
    decodeSegment(this.kernels, this.scratch, job)
    return null
  }

  private survey({ sensor, frame, target, across, from, to }: SurveyTask): null {
    const cell = cellSize(frame.pattern)
    const { size } = frame.pattern
    // cells start at the sensor's corner, those that reach beyond the readable area are left empty
    const { active } = frame
    const first = Math.ceil(active.x / cell)
    const count = Math.floor((active.x + active.width) / cell) - first
    const colours = this.scratch.bytes(surveyColours(frame.pattern))
    const levels = this.scratch.floats(surveyLevels(frame, asShotBalance(frame.colour)))
    new Float32Array(
      this.buffer,
      target + from * across * CELL_FLOATS * 4,
      (to - from) * across * CELL_FLOATS,
    ).fill(0)
    for (let row = from; row < to; row++) {
      if (row * cell < active.y || (row + 1) * cell > active.y + active.height || count < 1) continue
      this.kernels.survey_row(
        address(sensor, 0, first * cell, row * cell),
        sensor.stride,
        count,
        cell,
        size,
        colours,
        levels,
        target + (row * across + first) * CELL_FLOATS * 4,
      )
    }
    return null
  }

  private solve({ cells, across, down, pattern, balance, target }: SolveSurveyTask) {
    const counted = new Float32Array(this.buffer, cells, across * down * CELL_FLOATS)
    const { ratios, greens, clipped, uneven } = solveSurvey(counted, across, down, pattern, balance)
    new Float32Array(this.buffer, target, ratios.length).set(ratios)
    // the greens' place does not depend on whether there are ratios
    new Float32Array(this.buffer, target + 2 * across * down * 4, greens.length).set(greens)
    return { clipped, uneven }
  }

  private develop({ picture, steps, quick, draft, region, target }: DevelopTask): null {
    const { kernels, scratch } = this
    const taken = quick ? quickSteps(steps) : steps
    const reach = reachOf(taken, 1, picture.context, draft)
    const x = picture.picture.x + region.x - reach
    const y = picture.picture.y + region.y - reach
    const width = region.width + 2 * reach
    const height = region.height + 2 * reach
    const raster = fetchWindow(kernels, scratch, picture, x, y, width, height)
    const tile: Tile = {
      ...{ x, y, scale: 1, raster, colours: 'rgb', whole: picture.context.sensorSize, draft },
      ...{ kernels, scratch },
    }
    this.runSteps(tile, taken, picture, sensorMasks(taken, tile, picture))
    const done = quick
      ? { ...binMosaic(tile, picture.context, reach, region), margin: 0 }
      : { raster: tile.raster, place: region, whole: picture.context.sensorSize, margin: reach }
    storeTurned(
      kernels,
      scratch,
      done.raster,
      done.margin,
      done.place,
      done.whole,
      picture.orientation,
      target,
    )
    return null
  }

  private reduce({ source, target, from, to }: ReduceTask): null {
    const lines = (line: number, count: number) =>
      loadWindow(this.kernels, this.scratch, source, 0, line, source.width, count)
    this.resample(source, target.width, target.height, from, to, lines, (y, line) => {
      for (let p = 0; p < 3; p++)
        this.scratch.copy(address(line, p, 0, 0), address(target, p, 0, y), line.stride * 4)
    })
    return null
  }

  /** Lines from..to of a picture of width x height, each resampled line given to `emit` as a raster of height 1. */
  private resample(
    source: { width: number; height: number },
    width: number,
    height: number,
    from: number,
    to: number,
    lines: (line: number, count: number) => Raster,
    emit: (y: number, line: Raster) => void,
    { lot = CHUNK, kernel }: { lot?: number; kernel?: Resampling } = {},
  ): void {
    const { kernels, scratch } = this
    const across = this.table(source.width, width, kernel)
    const down = this.table(source.height, height, kernel)
    const first = down.starts[from]
    const last = Math.min(down.starts[to - 1] + down.taps, source.height)
    const starts = scratch.ints(across.starts)
    const weights = scratch.floats(across.weights)
    const columns = scratch.floats(down.weights.subarray(from * down.taps, to * down.taps))
    const narrow = scratch.raster(width, last - first, 3)
    const room = scratch.take((Math.max(across.taps, 4) + source.width + 8) * 4)
    for (let y = first; y < last; y += lot) {
      const mark = scratch.mark()
      const chunk = lines(y, Math.min(lot, last - y))
      for (let p = 0; p < 3; p++)
        for (let j = 0; j < chunk.height; j++) {
          let line = address(chunk, p, 0, j)
          if (across.taps > source.width) {
            // a line shorter than the kernel: the weights beyond it are zero, what they meet must be finite
            new Float32Array(this.buffer, room, across.taps).fill(0)
            scratch.copy(line, room, source.width * 4)
            line = room
          }
          kernels.resample_line(
            line,
            address(narrow, p, 0, y - first + j),
            width,
            starts,
            weights,
            across.taps,
          )
        }
      scratch.release(mark)
    }
    const out = scratch.raster(width, 1, 3)
    for (let y = from; y < to; y++) {
      const count = Math.min(down.taps, source.height - down.starts[y])
      for (let p = 0; p < 3; p++)
        kernels.weigh_lines(
          address(narrow, p, 0, down.starts[y] - first),
          narrow.stride,
          count,
          columns + (y - from) * down.taps * 4,
          address(out, p, 0, 0),
          out.stride,
        )
      emit(y, out)
    }
  }

  private screen(task: ScreenTask): ScreenResult {
    const { region, shown, earlier } = task
    const cells = Math.ceil(region.width / SCREEN_CELL)
    const counts = new Int32Array(this.buffer, shown.counts, cells * SCREEN_COUNTS)
    if (earlier) this.showAgain(task, earlier.shown)
    else counts.fill(0)
    const [left, right] = earlier?.columns ?? [0, region.width]
    if (right > left) {
      const own = [Math.floor(left / SCREEN_CELL), Math.ceil(right / SCREEN_CELL)]
      counts.fill(0, own[0] * SCREEN_COUNTS, own[1] * SCREEN_COUNTS)
      this.show(task, own[0] * SCREEN_CELL, Math.min(own[1] * SCREEN_CELL, region.width))
    }
    const sums = new Uint32Array(SCREEN_COUNTS)
    for (let cell = 0; cell < cells; cell++)
      for (let i = 0, at = cell * SCREEN_COUNTS; i < SCREEN_COUNTS; i++) sums[i] += counts[at + i]
    const waveform = task.waveform ? new Uint32Array(WAVE_COUNTS) : undefined
    for (let y = task.from; waveform && y < task.to; y++) {
      const line = shown.rgba + y * region.width * 4
      addWaveform(waveform, new Uint8Array(this.buffer, line, region.width * 4))
    }
    return {
      waveform,
      histogram: sums.subarray(0, 4 * COUNT_PARTS),
      clipped: sums.subarray(4 * COUNT_PARTS),
    }
  }

  /** What an earlier view showed, and what was counted of it. */
  private showAgain({ region, from, to, shown }: ScreenTask, earlier: ShownAt): void {
    const line = region.width * 4
    for (const layer of ['rgba', 'highs', 'lows'] as const)
      if (shown[layer])
        this.scratch.copy(earlier[layer] + from * line, shown[layer] + from * line, (to - from) * line)
    const cells = Math.ceil(region.width / SCREEN_CELL)
    this.scratch.copy(earlier.counts, shown.counts, cells * SCREEN_COUNTS * 4)
  }

  /** Shows the columns left..right, whole cells, of a task's lines. */
  private show(task: ScreenTask, left: number, right: number): void {
    const { kernels, scratch } = this
    const { region, from, to, shown } = task
    const { proof } = task
    const output = this.output(task.display, task.picture)
    const ends = endOf(task)
    const weights = scratch.floats(output.luminance)
    const dither = this.dither(output, task.nearest)
    const chunk = this.chunkOf(task, task.scale)
    const width = right - left
    for (let y = from; y < to; y += chunk) {
      const mark = scratch.mark()
      const raster = this.render(
        task,
        region.x + left,
        region.y + y,
        width,
        Math.min(chunk, to - y),
        task.scale,
        ends,
      )
      const away = proof && task.stripes ? scratch.take(planeLength(raster) * 4) : 0
      if (!proof) toTarget(kernels, scratch, raster, output, ends === 'oklab')
      else {
        toTableSpace(kernels, scratch, raster, ends === 'oklab')
        throughTable(kernels, raster, proof, away)
      }
      const inCells = (
        each: (line: [number, number, number], x: number, j: number, count: number) => void,
      ) => {
        for (let x = 0; x < width; x += SCREEN_CELL)
          for (let j = 0; j < raster.height; j++) {
            const line = [0, 1, 2].map((p) => address(raster, p, x, j)) as [number, number, number]
            each(line, x, j, Math.min(SCREEN_CELL, width - x))
          }
      }
      const binsAt = (x: number) => shown.counts + ((left + x) / SCREEN_CELL) * SCREEN_COUNTS * 4
      inCells((line, x, _, count) => kernels.histogram_line(...line, count, binsAt(x), weights))
      // stripes are no part of the picture, and are not counted
      if (away) drawStripes(this.buffer, raster, away, region.x + left, region.y + y)
      inCells((line, x, j, count) => {
        const at = ((y + j) * region.width + left + x) * 4
        kernels.pack_screen(
          ...line,
          count,
          shown.rgba + at,
          shown.highs && shown.highs + at,
          shown.lows && shown.lows + at,
          task.highFrom,
          task.lowTo,
          binsAt(x) + 4 * COUNT_PARTS * 4,
          ...dither,
          region.x + left + x,
          region.y + y + j,
        )
      })
      scratch.release(mark)
    }
  }

  /** The level table and the mask in scratch memory. */
  private dither({ levels }: PreparedOutput, nearest = false): [table: number, mask: number] {
    return [this.scratch.bytes(new Uint8Array(levels.buffer)), this.scratch.bytes(nearest ? NEAREST : MASK)]
  }

  private deliver(task: DeliverTask): null {
    const { kernels, scratch } = this
    const { width, height, from, to, bits } = task
    const frame = sizeOf(task)
    const { table } = task
    const output = this.output(task.space, task.picture, task.headroom)
    const lineBytes = (width * 3 * bits) / 8
    // files of 16 bits need none; what comes out of a table is encoded
    const dither =
      bits === 8
        ? this.dither(table ? this.output('linear-rec2020', task.picture) : output, task.nearest)
        : undefined
    const write = (raster: Raster, y: number) => {
      if (table) throughTable(kernels, raster, table)
      else if (bits === 16) encodeTransfer(kernels, raster, output)
      for (let j = 0; j < raster.height; j++) {
        const [r, g, b] = [0, 1, 2].map((p) => address(raster, p, 0, j))
        const to = task.target + (y + j - from) * lineBytes
        if (dither) kernels.pack_rgb8(r, g, b, width, to, ...dither, 0, y + j)
        else kernels.pack_rgb16(r, g, b, width, to)
      }
    }
    const scale = frame.width / task.picture.context.width
    const chunk = this.chunkOf(task, scale)
    const lines = (y: number, count: number) => {
      const ends = output.kind === 'display' ? endOf(task) : 'rgb'
      const raster = this.render(task, 0, y, frame.width, count, scale, ends)
      if (table) toTableSpace(kernels, scratch, raster, ends === 'oklab')
      else toTarget(kernels, scratch, raster, output, ends === 'oklab')
      return raster
    }
    const make = (first: number, end: number, emit: (raster: Raster, y: number) => void) => {
      if (width !== frame.width || height !== frame.height)
        return this.resample(frame, width, height, first, end, lines, (y, line) => emit(line, y), {
          lot: chunk,
          kernel: task.kernel,
        })
      for (let y = first; y < end; y += chunk) {
        const mark = scratch.mark()
        emit(lines(y, Math.min(chunk, end - y)), y)
        scratch.release(mark)
      }
    }
    if (task.sharpening) write(sharpenedLines(kernels, scratch, task.sharpening, task, make), from)
    else make(from, to, write)
    return null
  }

  /** Mean of a square around a place, held inside the picture. */
  private sample({ source, x, y, radius }: SampleTask): Triple {
    const { left, top, w, h } = squareAround(source, x, y, radius)
    return this.mean(loadWindow(this.kernels, this.scratch, source, left, top, w, h))
  }

  private read({ picture, scene, display, source, warp, space, x, y, radius }: ReadTask): Reading {
    const whole = sizeOf({ source, warp })
    const { left, top, w, h } = squareAround(whole, x, y, radius)
    const scale = whole.width / picture.context.width
    const sensor = this.mean(this.fetch({ source, warp }, left, top, w, h))
    const linear = this.mean(this.render({ picture, steps: scene, source, warp }, left, top, w, h, scale))
    const shown = this.render(
      { picture, steps: [...scene, ...display], source, warp },
      left,
      top,
      w,
      h,
      scale,
    )
    const output = this.output(space, picture)
    toTarget(this.kernels, this.scratch, shown, output)
    const light = this.mean(shown)
    return {
      sensor: sensor.map((v, c) => v / picture.context.balance[c]) as unknown as Triple,
      linear,
      output: light.map((v) => encode(output.curve, v)) as unknown as Triple,
      lab: toLab(spaces[space], light),
    }
  }

  private mean(window: Raster): Triple {
    const { width: w, height: h } = window
    const mean = [0, 1, 2].map((p) => {
      let sum = 0
      for (let j = 0; j < h; j++)
        for (const v of new Float32Array(this.buffer, address(window, p, 0, j), w)) sum += v
      return sum / (w * h)
    })
    return mean as unknown as Triple
  }

  /** A window of the frame before its steps: of the kept picture, or sampled from it. */
  private fetch(
    { source, warp, staged }: { source: Raster; warp?: Warp; staged?: Staged },
    x: number,
    y: number,
    width: number,
    height: number,
  ): Raster {
    const { kernels, scratch } = this
    if (warp) return warpWindow(kernels, scratch, source, warp, x, y, width, height)
    return loadWindow(kernels, scratch, source, x - (staged?.x ?? 0), y - (staged?.y ?? 0), width, height)
  }

  /** A window of the frame, taken through the steps; x, y in the frame's own pixels. */
  private render(
    task: {
      picture: OpenPicture
      steps: readonly PlannedStep[]
      source: Raster
      warp?: Warp
      staged?: Staged
      origin?: ScreenTask['origin']
    },
    x: number,
    y: number,
    width: number,
    height: number,
    scale: number,
    ends: Tile['colours'] = 'rgb',
  ): Raster {
    const { kernels, scratch } = this
    const from = task.staged
    const reach = reachOf(task.steps, scale, task.picture.context)
    const most = hasAreas(task) ? AREA_PIECE : reach > 0 ? WIDE_PIECE : Infinity
    if (width > most) {
      // in pieces that stay in the cache
      const out = scratch.raster(width, height, 3)
      for (let px = 0; px < width; px += most) {
        const mark = scratch.mark()
        const n = Math.min(most, width - px)
        const piece = this.render(task, x + px, y, n, height, scale, ends)
        for (let p = 0; p < 3; p++)
          for (let j = 0; j < height; j++)
            scratch.copy(address(piece, p, 0, j), address(out, p, px, j), n * 4)
        scratch.release(mark)
      }
      return out
    }
    const raster = this.fetch(task, x - reach, y - reach, width + 2 * reach, height + 2 * reach)
    const whole = sizeOf(task)
    const tile: Tile = {
      ...{ x: x - reach, y: y - reach, scale, raster, colours: from?.colours ?? 'rgb', whole },
      ...{ kernels, scratch },
    }
    const ground = { picture: task.picture, ...(task.origin ?? { source: task.source, warp: task.warp }) }
    const masks = masksIn(task.steps, tile, ground)
    this.runSteps(tile, task.steps, task.picture, masks)
    bringTo(tile, ends)
    return reach === 0 ? tile.raster : this.trim(tile.raster, reach, width, height)
  }

  /** Lines that go through a task's steps at once. */
  private chunkOf(task: { steps: readonly PlannedStep[]; picture: OpenPicture }, scale: number) {
    return hasAreas(task) || reachOf(task.steps, scale, task.picture.context) > 0 ? WIDE_CHUNK : CHUNK
  }

  private trim(raster: Raster, reach: number, width: number, height: number): Raster {
    const out = this.scratch.raster(width, height, raster.planes)
    for (let p = 0; p < raster.planes; p++)
      for (let j = 0; j < height; j++)
        this.scratch.copy(address(raster, p, reach, reach + j), address(out, p, 0, j), width * 4)
    return out
  }

  private runSteps(tile: Tile, steps: readonly PlannedStep[], picture: OpenPicture, masks?: TileMasks): void {
    /** What the step that areas have in place of the whole picture's began with, as long as that is wanted. */
    let began: { id: PartId; copy: Raster } | undefined
    const inPlace = ({ id, mask }: PlannedStep) =>
      stepById.get(id)!.instead === true && mask !== undefined && masks?.has(mask.key) === true
    for (const [i, planned] of steps.entries()) {
      const mask = planned.mask && masks?.get(planned.mask.key)
      if (planned.mask && !mask) continue
      const step = stepById.get(planned.id)!
      if (step.takes === 'mosaic' && picture.context.layout === 'linear') continue
      const prepared = this.prepare(planned, picture)
      if (step.takes === 'picture') bringTo(tile, step.colours ?? 'rgb')
      const run = (on: Tile) => step.run(on, prepared, planned.surveyed)
      if (step.instead && began?.id !== planned.id) {
        const wanted = steps.slice(i).some((p) => p.id === planned.id && inPlace(p))
        began = wanted ? { id: planned.id, copy: this.copyOf(tile.raster) } : undefined
      }
      if (mask && step.instead) {
        const mark = this.scratch.mark()
        const work = this.copyOf(began!.copy)
        // what leaves all as it is stands for what was there before
        runInstead(tile, work, mask, planned.strength, step.idle?.(planned.settings) ? () => undefined : run)
        this.scratch.release(mark)
      } else if (mask) {
        const reach = reachOf([planned], tile.scale, picture.context, tile.draft)
        runMasked(tile, mask, planned.strength, reach, run)
      } else if (planned.strength === 1) run(tile)
      else this.letIn(tile, planned.strength, () => run(tile))
    }
  }

  /** Tables and matrices of a planned step: remembered by its settings, within one task by the step itself. */
  private prepare(planned: PlannedStep, picture: OpenPicture): unknown {
    if (this.inTask.has(planned)) return this.inTask.get(planned)
    const key = `${picture.id} ${planned.id} ${JSON.stringify(planned.settings)}`
    if (!this.prepared.has(key)) {
      if (this.prepared.size > 200) this.prepared.clear()
      this.prepared.set(key, stepById.get(planned.id)!.prepare(planned.settings, picture.context))
    }
    const found = this.prepared.get(key)
    this.inTask.set(planned, found)
    return found
  }

  /** Runs a step and mixes its result with what was there before; `strength` 0 to 1.5. */
  private letIn(tile: Tile, strength: number, run: () => void): void {
    const before = tile.raster
    const mark = this.scratch.mark()
    const copy = this.copyOf(before)
    const n = planeLength(before) * before.planes
    run()
    this.kernels.blend(tile.raster.offset, copy.offset, strength, n)
    // a step that made a new picture made it behind the copy
    if (tile.raster.offset === before.offset) this.scratch.release(mark)
  }

  private copyOf(raster: Raster): Raster {
    const copy = this.scratch.raster(raster.width, raster.height, raster.planes)
    this.scratch.copy(raster.offset, copy.offset, planeLength(raster) * raster.planes * 4)
    return copy
  }

  /** Encoded sRGB of a grid over encoded sRGB after some steps: three numbers an entry, red running fastest. */
  private tableOf({ picture, steps, size }: TableTask): Float32Array {
    const { kernels, scratch } = this
    const whole = { width: size * size, height: size }
    const raster = scratch.raster(whole.width, whole.height, 3)
    const samples = new Float32Array(this.buffer, raster.offset, raster.stride * raster.height * 3)
    const plane = raster.stride * raster.height
    const toWorking = between(srgb, working)
    const linear = Array.from({ length: size }, (_, i) => decode(srgb.curve, i / (size - 1)))
    for (let b = 0; b < size; b++)
      for (let g = 0; g < size; g++)
        for (let r = 0; r < size; r++)
          apply(toWorking, [linear[r], linear[g], linear[b]]).forEach(
            (v, c) => (samples[c * plane + b * raster.stride + g * size + r] = v),
          )
    const tile: Tile = { x: 0, y: 0, scale: 1, raster, colours: 'rgb', whole, kernels, scratch }
    this.runSteps(tile, steps, picture)
    bringTo(tile, 'rgb')
    const output = this.output('srgb', picture)
    toTarget(kernels, scratch, raster, output)
    encodeTransfer(kernels, raster, output)
    const out = new Float32Array(3 * size ** 3)
    for (let b = 0; b < size; b++)
      for (let i = 0; i < size * size; i++)
        for (let c = 0; c < 3; c++)
          out[3 * (b * size * size + i) + c] = samples[c * plane + b * raster.stride + i]
    return out
  }

  /** Lines of a view taken through its first steps, to go on from while the later ones change. */
  private stage(task: StageTask): null {
    const { scratch } = this
    const { region, target } = task
    const chunk = this.chunkOf(task, task.scale)
    for (let y = task.from; y < task.to; y += chunk) {
      const mark = scratch.mark()
      const count = Math.min(chunk, task.to - y)
      const lines = this.render(
        ...([task, region.x, region.y + y, region.width, count, task.scale, task.ends] as const),
      )
      for (let p = 0; p < 3; p++)
        for (let j = 0; j < count; j++)
          scratch.copy(address(lines, p, 0, j), address(target, p, 0, y + j), lines.stride * 4)
      scratch.release(mark)
    }
    return null
  }

  /** Looks the small picture over, as it is before a step, for that step. */
  private surveyStep({ picture, steps, source, step, settings, target }: SurveyStepTask): null {
    const survey = stepById.get(step)!.survey!
    const overview = survey.looks
      ? this.render(
          { picture, steps, source },
          0,
          0,
          source.width,
          source.height,
          source.width / picture.context.width,
        )
      : source
    survey.run(overview, settings, target, this.kernels, this.scratch)
    return null
  }

  /** The small picture as it is after some steps, interleaved RGB; or its hues. */
  private overview({ picture, steps, source, hues }: OverviewTask): Float32Array {
    const { width, height, stride, offset } = this.render(
      { picture, steps, source },
      0,
      0,
      source.width,
      source.height,
      source.width / picture.context.width,
      hues ? 'oklab' : 'rgb',
    )
    const samples = new Float32Array(this.buffer, offset, stride * height * 3)
    const plane = stride * height
    if (hues) return countHues(samples.subarray(plane, 2 * plane), samples.subarray(2 * plane))
    const out = new Float32Array(width * height * 3)
    for (let p = 0; p < 3; p++)
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) out[(y * width + x) * 3 + p] = samples[(p * height + y) * stride + x]
    return out
  }

  private output(space: OutputSpace, picture: OpenPicture, headroom = 0): PreparedOutput {
    const key = `${picture.id} ${space} ${headroom}`
    let found = this.outputs.get(key)
    if (!found) this.outputs.set(key, (found = prepareOutput(space, picture.context.balance, headroom)))
    return found
  }

  private table(from: number, to: number, kernel: Resampling = 'cubic'): ResampleTable {
    const key = `${from} ${to} ${kernel}`
    let found = this.tables.get(key)
    if (!found) {
      if (this.tables.size > 20) this.tables.clear()
      this.tables.set(key, (found = resampleTable(from, to, kernel)))
    }
    return found
  }
}
