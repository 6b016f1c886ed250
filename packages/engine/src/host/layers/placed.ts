import { grown, type Rect, type Spot } from '@dunkelkammer/core'
import { CELL } from '../tiled'

/** Lines are written in groups of four samples: what lies closer must not be written at the same time. */
const GROUP = 4

/** Side of the squares by which patches near a place are found, pixels. */
const SQUARE = 256

/** A patch, or a piece of one, where it lies in the picture, and what it changes and looks at. */
export interface Placed {
  /** The same words, the same patch. */
  words: string
  spot: Spot
  target: Rect
  /** What must be there, with the patches before it and none after it. */
  inputs: readonly Rect[]
}

const meets = (a: Rect, b: Rect, room = 0): boolean =>
  a.x < b.x + b.width + room &&
  b.x < a.x + a.width + room &&
  a.y < b.y + b.height + room &&
  b.y < a.y + a.height + room

/** Patches by where they lie. */
export class PlacedIndex {
  private readonly targets = new Map<number, Placed[]>()
  private readonly inputs = new Map<number, Placed[]>()

  constructor(placed: Iterable<Placed>) {
    for (const p of placed) {
      put(this.targets, p.target, p)
      for (const rect of p.inputs) put(this.inputs, rect, p)
    }
  }

  /** Those that change something of a rectangle. */
  changing(rect: Rect): Placed[] {
    return [...near(this.targets, [rect])].filter((p) => meets(rect, p.target))
  }

  /** Those that must be made again where one of them is. */
  neighbours(p: Placed): Placed[] {
    const around = near(this.targets, [grown(p.target, GROUP), ...p.inputs])
    for (const q of near(this.inputs, [p.target])) around.add(q)
    return [...around].filter((q) => q !== p && together(p, q))
  }
}

function* squaresOf({ x, y, width, height }: Rect): Iterable<number> {
  const square = (v: number) => Math.floor(v / SQUARE)
  for (let j = square(y); j <= square(y + height - 1); j++)
    for (let i = square(x); i <= square(x + width - 1); i++) yield j * 65536 + i
}

function put(squares: Map<number, Placed[]>, rect: Rect, p: Placed): void {
  for (const square of squaresOf(rect)) {
    const there = squares.get(square)
    if (!there) squares.set(square, [p])
    else if (there.at(-1) !== p) there.push(p)
  }
}

function near(squares: ReadonlyMap<number, readonly Placed[]>, rects: readonly Rect[]): Set<Placed> {
  const out = new Set<Placed>()
  for (const rect of rects)
    for (const square of squaresOf(rect)) for (const p of squares.get(square) ?? []) out.add(p)
  return out
}

/** Whether one of two patches must be made again where the other is. */
const together = (a: Placed, b: Placed): boolean =>
  meets(a.target, b.target, GROUP) ||
  a.inputs.some((r) => meets(r, b.target)) ||
  b.inputs.some((r) => meets(r, a.target))

/** The cells that a rectangle touches. */
export function onCells({ x, y, width, height }: Rect): Rect {
  const [left, top] = [Math.floor(x / CELL) * CELL, Math.floor(y / CELL) * CELL]
  const right = Math.ceil((x + width) / CELL) * CELL
  const bottom = Math.ceil((y + height) / CELL) * CELL
  return { x: left, y: top, width: right - left, height: bottom - top }
}

/** Patches that must be made again where one list takes the place of another, those that are gone included. */
export function affected(before: readonly Placed[], now: readonly Placed[]): Placed[] {
  const out = new Set(differing(before, now))
  // what looked at a place that is another now, or holds what comes after it, is made again too
  return [...spreading(out, new PlacedIndex(new Set([...before, ...now])))]
}

/** Whether one list begins with all of another. */
export const begins = (first: readonly Placed[], all: readonly Placed[]): boolean =>
  first.length <= all.length && first.every(({ words }, i) => words === all[i].words)

/** Adds to some patches all those that have to do with them. */
export function spreading(out: Set<Placed>, index: PlacedIndex): Set<Placed> {
  // what is added while it is walked through is walked through as well
  for (const p of out) for (const q of index.neighbours(p)) out.add(q)
  return out
}

/** Patches of which one list knows nothing, or knows them elsewhere in the order of those that touch them. */
function differing(before: readonly Placed[], now: readonly Placed[]): Placed[] {
  const placesIn = (all: readonly Placed[]) => new Map(all.map((p, i) => [p.words, i]))
  const [old, fresh] = [placesIn(before), placesIn(now)]
  const out = [...before.filter((p) => !fresh.has(p.words)), ...now.filter((p) => !old.has(p.words))]
  const stay = now.filter((p) => old.has(p.words))
  const places = stay.map((p) => old.get(p.words)!)
  if (places.every((place, i) => i === 0 || place > places[i - 1])) return out
  stay.forEach((p, i) => {
    if (stay.some((q, k) => k < i && places[k] > places[i] && together(p, q))) out.push(p)
  })
  return out
}

/** Patches in their order, those that have nothing to do with each other at the same time. */
export function wavesOf(placed: readonly Placed[]): Placed[][] {
  const waves: Placed[][] = []
  const waveOf = new Map<Placed, number>()
  const index = new PlacedIndex(placed)
  for (const p of placed) {
    const before = index.neighbours(p).map((q) => waveOf.get(q) ?? -1)
    const wave = Math.max(-1, ...before) + 1
    waveOf.set(p, wave)
    ;(waves[wave] ??= []).push(p)
  }
  return waves
}

export function boundsOf(rects: readonly Rect[]): Rect {
  const [x, y] = [Math.min(...rects.map((r) => r.x)), Math.min(...rects.map((r) => r.y))]
  return {
    ...{ x, y },
    width: Math.max(...rects.map((r) => r.x + r.width)) - x,
    height: Math.max(...rects.map((r) => r.y + r.height)) - y,
  }
}
