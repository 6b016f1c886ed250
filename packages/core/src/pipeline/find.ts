import type { Kernels } from '../kernels/kernels'
import { type Raster, type Scratch } from '../memory'
import { distances, find, fineShare, REGIONS_AT, type Found } from '../masks/find'
import { alikeShare } from '../masks/find/alike'
import { outlinesOf } from '../masks/find/outline'
import { cut, regionsOf, type RegionTree } from '../masks/find/regions'
import { reduced, reducedSize, type Seen } from '../masks/find/small'
import { toneOf } from '../masks/range'
import { fitted } from '../masks/refine'
import type { ToneSpread } from '../steps/areas/ready'
import { planeOf, putPlane, wideGuide } from './masks'
import type { DivideTask, FindTask, FindWish, RegionTask, ToneSpreadTask } from './tasks'

/** The whole of a small picture. */
function seenIn(kernels: Kernels, scratch: Scratch, ground: FindTask | DivideTask | ToneSpreadTask): Seen {
  const { width, height } = ground.source
  return { width, height, ...wideGuide(kernels, scratch, ground, { x: 0, y: 0, width, height }) }
}

/** Looks for something in the whole picture. @param onShare how far that is @returns how sure it is, 0..1 */
export function findShape(
  kernels: Kernels,
  scratch: Scratch,
  task: FindTask,
  onShare: (share: number) => void = () => undefined,
): number {
  const { wish, target, tree, known } = task
  const seen = seenIn(kernels, scratch, task)
  const { width, height } = seen
  const long = Math.max(width, height)
  onShare(DONE.seen)
  const { share, confidence } = known
    ? { share: sharesAt(scratch, known.offset, width * height), ...known }
    : inSteps(look(seen, wish, long, tree && treeOf(scratch, tree), () => onShare(DONE.roughly)))
  onShare(DONE.found)
  const planes = [share, ...fitted({ width, height, values: share }, seen, long)]
  planes.forEach((plane, p) => putPlane(scratch, target, p, plane))
  return confidence
}

/** How far it is once the picture has been read, a thing has been found roughly, and its border as well. */
const DONE = { seen: 0.2, roughly: 0.5, found: 0.8 } as const

/** Shares as finely as they are kept, so that what was kept is the same as what is found anew. */
const STEPS = 255

function inSteps({ share, confidence }: Found): Found {
  return { share: share.map((v) => Math.round(v * STEPS) / STEPS), confidence }
}

function sharesAt({ memory }: Scratch, offset: number, length: number): Float32Array {
  const out = new Float32Array(new Uint8Array(memory.buffer, offset, length))
  for (let i = 0; i < length; i++) out[i] /= STEPS
  return out
}

function look(seen: Seen, wish: FindWish, long: number, tree?: RegionTree, onRough?: () => void): Found {
  if (wish.kind === 'found') return find(wish.what, seen, wish.corrections, onRough)
  if (wish.kind === 'alike') return { share: alikeShare(seen, wish.like, long), confidence: 1 }
  if (wish.kind === 'distance') {
    const { far, confidence } = distances(seen)
    return { share: far, confidence }
  }
  const of = cut(tree!, wish.count)
  const taken = new Set(wish.at.map(([x, y]) => of[leafAt(tree!, x, y)]))
  const inside = Uint8Array.from(tree!.leaf, (leaf) => (taken.has(of[leaf]) ? 1 : 0))
  return { share: fineShare(seen, inside), confidence: 1 }
}

/** The smallest region at a place. @param x, y sensor coordinates */
function leafAt({ width, height, leaf }: RegionTree, x: number, y: number): number {
  const long = Math.max(width, height)
  const at = (v: number, most: number) => Math.min(Math.max(Math.floor(v * long), 0), most - 1)
  return leaf[at(y, height) * width + at(x, width)]
}

/** Room for the regions of a picture of a size: a line with what they are, then the smallest, then which become which. */
export function treeSize(source: { width: number; height: number }): { width: number; height: number } {
  const { width, height } = reducedSize(source, REGIONS_AT)
  return { width, height: 1 + height + 2 * height }
}

/** Divides a picture into regions, and writes down which become which. */
export function divide(kernels: Kernels, scratch: Scratch, task: DivideTask): null {
  const { target } = task
  const { small } = reduced(seenIn(kernels, scratch, task), REGIONS_AT)
  const { width, height, leaf, leaves, parent } = regionsOf(small)
  const values = new Float32Array(target.width * target.height)
  values.set([width, height, leaves])
  values.set(leaf, width)
  values.set(parent, width * (1 + height))
  putPlane(scratch, target, 0, values)
  return null
}

/** What was written down. */
function treeOf(scratch: Scratch, raster: Raster): RegionTree {
  const values = planeOf(scratch, raster, 0)
  const [width, height, leaves] = values
  const from = width * (1 + height)
  return {
    ...{ width, height, leaves },
    leaf: new Int32Array(values.subarray(width, from)),
    parent: new Int32Array(values.subarray(from, from + 2 * leaves - 1)),
  }
}

/** The borders of the region at a place, sensor coordinates. */
export function regionAt(scratch: Scratch, { tree: raster, x, y, count }: RegionTask): [number, number][][] {
  const tree = treeOf(scratch, raster)
  const of = cut(tree, count)
  const wanted = of[leafAt(tree, x, y)]
  const long = Math.max(tree.width, tree.height)
  return outlinesOf(tree, (i) => of[tree.leaf[i]] === wanted).map((way) =>
    way.map(([px, py]) => [px / long, py / long]),
  )
}

/** How light a picture is as it was taken. */
export function toneSpread(kernels: Kernels, scratch: Scratch, task: ToneSpreadTask): ToneSpread {
  const { L } = seenIn(kernels, scratch, task)
  L.sort()
  const at = (share: number) => toneOf(L[Math.min(Math.floor(share * L.length), L.length - 1)])
  return { dark: at(0.05), middle: at(0.5), light: at(0.98) }
}
