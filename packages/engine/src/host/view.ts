import {
  COUNT_PARTS,
  isUntouched,
  type OutputTable,
  toToneScale,
  type Development,
  type Plan,
  type Rect,
  type ScreenResult,
  type ScreenTask,
  type SelectionShown,
  type SpaceId,
} from '@dunkelkammer/core'
import type { Layers } from './layers'
import { shares } from './layers/ground'
import { keyOf } from './layers/keys'
import { placed } from './placedTable'
import type { Progress } from './progress'
import type { Releasable } from './resources'

/** What to show: the whole picture at a size, or a part of it pixel for pixel. */
export interface ViewRequest {
  development: Development
  /** Size in which the whole picture is wanted; full size where both equal the picture's. */
  width: number
  height: number
  /** Part that is wanted, in pixels of that size. */
  region: Rect
  /** Where the exact picture is not at hand, make do with a quick one: for a view while something is dragged. */
  quick?: boolean
  /** Also the two layers of clipped pixels. */
  layers?: boolean
  /** Levels of 255 from which on, and down to which, a channel counts as clipped. */
  highFrom?: number
  lowTo?: number
  /** Also the counts of levels over columns. */
  waveform?: boolean
  /** For a view to compare with: it stops nothing that other views wait for. */
  beside?: boolean
  /** In place of the picture: where one of the steps that sharpen acts, white for all of it. */
  mask?: 'sharpen' | 'unsharp'
  /** In place of the picture: what differs from what is around it, in greys, this many times. */
  standOut?: number
  /** Everything without colour that this hue node does not select. */
  selection?: number
  /** The space of the page that shows it; sRGB where missing. */
  display?: SpaceId
  /** Shows how another device would: a table to linear colours of the display. */
  proof?: OutputTable
  /** Also draws stripes over what lies outside of that device's gamut. */
  stripes?: boolean
  /** An earlier view's pixels that nobody needs any more: used again where the size is the same. */
  reuse?: Uint8ClampedArray<ArrayBuffer>
}

export interface View {
  width: number
  height: number
  /** The space of its pixels. */
  display: SpaceId
  rgba: Uint8ClampedArray<ArrayBuffer>
  highs?: Uint8ClampedArray<ArrayBuffer>
  lows?: Uint8ClampedArray<ArrayBuffer>
  /** Counts over TONE_SCALE: R, G, B, luminance. */
  histogram: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array]
  /** Clipped pixels: highlights R, G, B, shadows R, G, B. */
  clipped: Uint32Array
  /** Levels over columns, see addWaveform in core; where it was asked for. */
  waveform?: Uint32Array
  /** False where it was made from the quick picture. */
  exact: boolean
}

/** A plan that ends where a step acts, with that to be seen. */
function maskPlan(plan: Plan, id: 'sharpen' | 'unsharp'): Plan {
  const at = plan.refine.findIndex((p) => p.id === id)
  if (at < 0) return plan
  const shown = {
    ...plan.refine[at],
    settings: { ...(plan.refine[at].settings as object), showMask: true },
    strength: 1,
  }
  return { ...plan, refine: [...plan.refine.slice(0, at), shown], render: [] }
}

/** A development that shows what a hue node selects. */
function selectionOf(development: Development, node: number): Development {
  const hueNodes: Development['steps']['hueNodes'] & SelectionShown = {
    ...development.steps.hueNodes,
    show: node,
  }
  return { ...development, steps: { ...development.steps, hueNodes } }
}

/** Counts of all parts of a view. */
function counted(parts: readonly ScreenResult[]): Pick<View, 'histogram' | 'clipped' | 'waveform'> {
  const sum = new Uint32Array(4 * COUNT_PARTS)
  const clipped = new Uint32Array(6)
  let waveform: Uint32Array | undefined
  for (const part of parts) {
    part.histogram.forEach((n, i) => (sum[i] += n))
    part.clipped.forEach((n, i) => (clipped[i] += n))
    if (!part.waveform) continue
    if (waveform) part.waveform.forEach((n, i) => (waveform![i] += n))
    else waveform = part.waveform
  }
  const histogram = [0, 1, 2, 3].map((c) =>
    toToneScale(sum.subarray(c * COUNT_PARTS, (c + 1) * COUNT_PARTS)),
  ) as unknown as View['histogram']
  return { histogram, clipped, waveform }
}

/** Computes a view. @throws Superseded */
export async function makeView(
  layers: Layers,
  request: ViewRequest,
  signal?: AbortSignal,
  onProgress?: Progress,
): Promise<View> {
  const { pool, store } = layers.ground
  const { development, selection, region, width, height } = request
  const held: Releasable[] = []
  const bytes = region.width * region.height * 4
  try {
    const seen = selection === undefined ? development : selectionOf(development, selection)
    const { plan: whole, framed } = await layers.planned(seen, 'srgb', held)
    const plan = request.mask ? maskPlan(whole, request.mask) : whole
    const base = await layers.framed.take(plan, framed, request, held, onProgress)
    const { scale, exact, warp, origin } = base
    const made = `${plan.mendedKey} ${framed.key} ${keyOf(plan.refine)} ${exact}`
    const surveyed = await layers.surveys.steps(plan, framed, held)
    const render = await layers.masks.drawn(surveyed, base, framed, request, made, held)
    const { source, staged, steps } = warp
      ? { source: base.kept.raster, steps: render }
      : await layers.staged.take(render, base, framed, request, made, held)
    const bands = shares(layers.ground, region.height)
    const { highFrom = 255, lowTo = 0, waveform = false, display = 'srgb', stripes = false } = request
    const proof = request.proof && placed(store, request.proof, held)
    const colours = [display, request.proof?.id, stripes]
    const nearest = framed.open.coarse && scale === 1 && !proof && isUntouched(plan, 'srgb')
    const place = [
      made,
      nearest,
      base.rough,
      !!warp,
      width,
      height,
      JSON.stringify(region),
      highFrom,
      lowTo,
      ...colours,
    ]
    const showing = layers.shown.take(
      `${place.join(' ')} ${request.layers ?? false}`,
      render,
      { region, scale, whole: { width, height } },
      request.layers ?? false,
      bands.length,
      held,
    )
    const tasks = bands.map(([from, to], band): ScreenTask => ({
      ...{ kind: 'screen', picture: framed.open, steps, source, staged, warp, origin, scale },
      ...{ region, from, to, highFrom, lowTo, waveform, display, proof, stripes, nearest },
      ...showing.task(band, from, to),
    }))
    const counts = counted(await pool.runAll(tasks, signal))
    const { offset } = showing.kept.raster
    if (request.standOut === undefined) showing.keep()
    else
      await pool.run(
        {
          kind: 'standOut',
          rgba: offset,
          width: region.width,
          height: region.height,
          gain: request.standOut,
        },
        signal,
      )
    const layer = async (at: number, into?: Uint8Array<ArrayBuffer>) =>
      new Uint8ClampedArray((await store.get(at, bytes, into)).buffer)
    const any = (from: number) => counts.clipped.slice(from, from + 3).some((n) => n > 0)
    const { reuse } = request
    return {
      ...{ width: region.width, height: region.height, exact, display },
      rgba: await layer(offset, reuse && new Uint8Array(reuse.buffer)),
      highs: request.layers && any(0) ? await layer(offset + bytes) : undefined,
      lows: request.layers && any(3) ? await layer(offset + 2 * bytes) : undefined,
      ...counts,
    }
  } finally {
    held.forEach((k) => k.release())
  }
}
