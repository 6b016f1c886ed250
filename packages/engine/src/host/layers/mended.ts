import {
  boxAround,
  MOST_OUTLINE,
  piecesFilled,
  piecesOf,
  rectsOf,
  regionOf,
  spotOf,
  type CopyTask,
  type FillMap,
  type MendTask,
  type Patch,
  type Place,
  type Plan,
  type Rect,
  type Region,
  type Spot,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import type { ResourceValue } from '../resources'
import { Tiled } from '../tiled'
import type { Developed, Quality, Wanted } from './developed'
import type { Ground } from './ground'
import { affected, begins, boundsOf, onCells, PlacedIndex, spreading, wavesOf, type Placed } from './placed'

/** Cells to a side of what is copied at once. */
const MOST = 12
/** Share of the white level from which on a channel counts as clipped. */
const CLIPPED = 0.98
/** Messages of patches to a worker where there are many, and most patches in one. */
const [SHARES, MOST_AT_ONCE] = [4, 16]

/** Most patches that are carried out on what is there already, each after the other. */
const MOST_BEHIND = 8

/** Bulk data that is kept though no patch of the last plan has it: paths of what is being painted. */
const MOST_SPARE = { path: 64, fill: 4 } as const

/** A mended picture, as far as it is there. */
interface Mending {
  kept: Kept
  tiled: Tiled
  /** The picture that it was made from. */
  developed: string
  placed: readonly Placed[]
  /** How many of them, the last ones, are not carried out in what is there. */
  behind: number
  /** Works on it one after the other. */
  turn: Promise<unknown>
}

/** Levels of the channels from which on a picture is clipped. */
export const clippedFrom = ({ open }: Ground): [number, number, number] =>
  open.context.balance.map((b) => b * CLIPPED) as [number, number, number]

/** The developed picture with its patches: only rectangles that patches touch are computed anew when these change. */
export class Mended {
  private readonly mendings = new WeakMap<Kept, Mending>()
  /** Of each quality the one that was wanted last. */
  private readonly current: Partial<Record<Quality, string>> = {}
  private readonly placedOf = new WeakMap<Patch, readonly Placed[]>()
  /** Painted ways and outlines by their names. */
  private readonly paths = new Map<string, readonly Place[]>()
  private readonly fills = new Map<string, FillMap>()
  private count = 0

  constructor(
    private readonly ground: Ground,
    private readonly developed: Developed,
  ) {}

  /** Patches that were carried out so far. */
  get carriedOut(): number {
    return this.count
  }

  keyFor(plan: Plan, wanted: Quality): { quality: Quality; name: string } {
    const { quality, name } = this.developed.keyFor(plan, wanted)
    return plan.patches.length === 0
      ? { quality, name }
      : { quality, name: `mended ${plan.mendedKey} ${quality}` }
  }

  /** Whether all of it is there. */
  holds(plan: Plan, wanted: Quality): boolean {
    if (plan.patches.length === 0) return this.developed.holds(plan, wanted)
    const kept = this.ground.section.peek(this.keyFor(plan, wanted).name)
    // what is missing under patches is quickly there
    return kept !== undefined || this.developed.holds(plan, wanted)
  }

  /** Where what was asked for is there at least; held for the caller. @throws Superseded */
  async take(plan: Plan, wanted: Wanted): Promise<Kept> {
    if (plan.patches.length === 0) return this.developed.take(plan, wanted)
    const { section, open } = this.ground
    const { quality, name } = this.keyFor(plan, wanted.quality)
    const developed = this.developed.keyFor(plan, wanted.quality).name
    const placed = plan.patches.flatMap((p) => this.place(p))
    if (!wanted.beside) this.takeOver(quality, name, developed, placed)
    const { width, height } = open.context
    const kept = await section.take(name, async () => {
      // pixels that are not square were made so in more than half precision
      const whole = { x: 0, y: 0, width: 1, height: 1 }
      const base = await this.developed.take(plan, { ...wanted, part: whole })
      base.release()
      const room = section.cache.room(width, height, base.raster.format as 'f16' | 'f32')
      const tiled = new Tiled(room, { width, height })
      this.mendings.set(room, { kept: room, tiled, developed, placed, behind: 0, turn: Promise.resolve() })
      return room
    })
    try {
      const mending = this.mendings.get(kept)!
      const mine = mending.turn.catch(() => undefined).then(() => this.fill(mending, plan, wanted))
      mending.turn = mine
      await mine
      return kept
    } catch (error) {
      kept.release()
      throw error
    }
  }

  /** What of the picture is another between two lists of patches on the same development; undefined where all may be. */
  changed(before: Plan, now: Plan): Rect[] | undefined {
    if (before.developKey !== now.developKey) return undefined
    const place = (p: Patch) => this.place(p)
    return affected(before.patches.flatMap(place), now.patches.flatMap(place)).map((p) => p.target)
  }

  /** The mended picture of before becomes this one where only patches differ, and nobody reads it. */
  private takeOver(quality: Quality, name: string, developed: string, placed: readonly Placed[]): void {
    const { section } = this.ground
    const before = this.current[quality]
    this.current[quality] = name
    if (!before || before === name || section.has(name)) return
    const kept = section.peek(before)
    const old = kept && this.mendings.get(kept)
    if (!old || old.developed !== developed || !section.rename(before, name)) return
    const done = old.placed.slice(0, old.placed.length - old.behind)
    if (begins(done, placed) && placed.length - done.length <= MOST_BEHIND)
      old.behind = placed.length - done.length
    else {
      for (const { target } of affected(done, placed)) old.tiled.invalidate(target)
      old.behind = 0
    }
    old.placed = placed
  }

  /** Sees to it that a part is there, with its patches. */
  private async fill(mending: Mending, plan: Plan, wanted: Wanted): Promise<void> {
    const { placed, behind, tiled } = mending
    const { width, height } = this.ground.open.context
    mending.behind = 0
    const last = placed.slice(placed.length - behind)
    try {
      // what comes after all others finds the picture as it must see it
      for (const [i, p] of last.entries()) {
        if (!tiled.holds(p.target)) continue
        const before = placed.slice(0, placed.length - behind + i)
        await this.complete(mending, plan, before, [p.target, ...p.inputs].map(onCells), wanted)
        await this.carryOut(mending, [p])
      }
    } catch (error) {
      for (const { target } of last) tiled.invalidate(target)
      throw error
    }
    await this.complete(
      mending,
      plan,
      placed,
      [onCells(wanted.part ?? { x: 0, y: 0, width, height })],
      wanted,
    )
  }

  private async carryOut({ kept }: Mending, placed: readonly Placed[]): Promise<void> {
    const { pool } = this.ground
    const levels = clippedFrom(this.ground)
    this.count += placed.length
    // a few to each worker at once: a message costs as much as a small patch
    const count = Math.min(Math.max(Math.ceil(placed.length / (pool.size * SHARES)), 1), MOST_AT_ONCE)
    const tasks: MendTask[] = []
    for (let i = 0; i < placed.length; i += count) {
      const spots = placed.slice(i, i + count).map(({ spot }) => spot)
      tasks.push({ kind: 'mend', picture: kept.raster, spots, levels })
    }
    await pool.runAll(tasks)
  }

  /** Sees to it that rectangles are there, with some patches. */
  private async complete(
    mending: Mending,
    plan: Plan,
    placed: readonly Placed[],
    need: Rect[],
    wanted: Wanted,
  ): Promise<void> {
    const { kept, tiled } = mending
    const due = new Set<Placed>()
    const index = new PlacedIndex(placed)
    // patches that are missing where something is needed; those before them must be there, and those after them not
    for (let seen = 0; seen < need.length; seen++) {
      const rect = need[seen]
      for (const p of index.changing(rect)) {
        if (due.has(p) || tiled.holds(p.target)) continue
        for (const q of spreading(new Set([p]), index)) {
          if (due.has(q)) continue
          due.add(q)
          tiled.invalidate(q.target)
          need.push(...[q.target, ...q.inputs].map(onCells))
        }
      }
    }
    try {
      for (const rect of need) {
        if (tiled.holds(rect)) continue
        await tiled.want(rect, MOST, async (rects, stop) => {
          const from = await this.developed.take(plan, { ...wanted, part: boundsOf(rects) })
          try {
            const tasks = rects.map((r): CopyTask => ({
              ...{ kind: 'copy', source: from.raster, target: kept.raster, rect: r },
            }))
            await this.ground.pool.runAll(tasks, stop)
          } finally {
            from.release()
          }
        })
      }
      for (const wave of wavesOf(placed.filter((p) => due.has(p)))) await this.carryOut(mending, wave)
    } catch (error) {
      for (const p of due) tiled.invalidate(p.target)
      throw error
    }
  }

  /** Sees to it that what was painted for patches is at hand. @throws RawError */
  async know(patches: readonly Pick<Patch, 'path' | 'filled'>[]): Promise<void> {
    await Promise.all([
      this.knowAll('path', this.paths, new Set(patches.flatMap(({ path }) => path ?? []))),
      this.knowAll('fill', this.fills, new Set(patches.flatMap(({ filled }) => filled ?? []))),
    ])
  }

  private async knowAll<K extends 'path' | 'fill'>(
    kind: K,
    known: Map<string, ResourceValue<K>>,
    names: ReadonlySet<string>,
  ): Promise<void> {
    if (known.size > names.size + MOST_SPARE[kind])
      for (const name of known.keys()) if (!names.has(name)) known.delete(name)
    await Promise.all(
      [...names].map(async (name) => {
        if (known.has(name)) return
        const resource = await this.ground.resources.get(kind, name)
        known.set(name, resource.value)
        resource.release()
      }),
    )
  }

  /** What was found just now, so that nobody need be asked for it. */
  keepFill(name: string, fill: FillMap): void {
    this.fills.set(name, fill)
  }

  /** What a patch covers. @throws RawError */
  async regionOf(patch: Pick<Patch, 'shape' | 'x' | 'y' | 'radius' | 'path'>): Promise<Region> {
    return regionOf(patch, this.long, await this.wayOf(patch))
  }

  /** The way of a stroke or the corners of an outline, from the middle of the patch. @throws RawError */
  async wayOf({ path }: Pick<Patch, 'path'>): Promise<readonly Place[] | undefined> {
    await this.know([{ path }])
    return this.pathOf({ path })
  }

  private get long(): number {
    const { width, height } = this.ground.open.context
    return Math.max(width, height)
  }

  private pathOf({ path }: Pick<Patch, 'path'>): readonly Place[] | undefined {
    return path === undefined ? undefined : this.paths.get(path)
  }

  private place(patch: Patch): readonly Placed[] {
    let placed = this.placedOf.get(patch)
    if (!placed) {
      const words = JSON.stringify(patch)
      const spot = spotOf(patch, this.long, this.pathOf(patch))
      const fill = patch.filled === undefined ? undefined : this.fills.get(patch.filled)
      const pieces = fill && patch.kind === 'fill' ? piecesFilled(spot, fill, this.long) : piecesOf(spot)
      placed = (isLeftOut(spot, this.long) ? [] : pieces).map((piece, i): Placed => {
        const { target, seen, taken } = rectsOf(piece)
        return { words: i === 0 ? words : `${words} ${i}`, spot: piece, target, inputs: [seen, ...taken] }
      })
      this.placedOf.set(patch, placed)
    }
    return placed
  }
}

/** Outlines that go around nothing, or more than is mended in one, are left out. */
function isLeftOut({ region }: Spot, long: number): boolean {
  if (region.shape !== 'outline') return false
  const { width, height } = boxAround(region, 0)
  return (region.places?.length ?? 0) < 3 || width * height > MOST_OUTLINE * long * long
}
