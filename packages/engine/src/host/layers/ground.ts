import type {
  DevelopTask,
  DivideTask,
  OpenPicture,
  Raster,
  Rect,
  EncloseTask,
  FollowTask,
  MaskTask,
  RefineMaskTask,
  ReduceTask,
  StageTask,
} from '@dunkelkammer/core'
import type { Kept, Section } from '../cache'
import type { Framing } from '../framing'
import type { Finds } from '../keeper'
import type { Pool } from '../pool'
import type { Progress } from '../progress'
import type { Resources } from '../resources'
import type { Store } from '../store'

/** Tasks that a view is cut into for each worker: few enough to cost little, enough to be dropped midway. */
const SCREEN_TASKS = 4
const REDUCE_LINES = 24

/** What all layers of a picture stand on. */
export interface Ground {
  pool: Pool
  store: Store
  /** What this picture keeps. */
  section: Section
  resources: Resources
  framing: Framing
  open: OpenPicture
  /** What was found before, and where that is kept. */
  keeper: Finds
}

/** Height cut into bands of at most `lines`. */
export function bands(height: number, lines: number): [number, number][] {
  const out: [number, number][] = []
  for (let y = 0; y < height; y += lines) out.push([y, Math.min(y + lines, height)])
  return out
}

/** A height cut into as many bands as suit the workers. */
export const shares = ({ pool }: Ground, height: number, least = 1): [number, number][] =>
  bands(height, Math.max(Math.ceil(height / (SCREEN_TASKS * pool.size)), least))

/** A region with surroundings, as far as the picture goes. */
export function grown(
  { x, y, width, height }: Rect,
  by: number,
  whole: { width: number; height: number },
): Rect {
  const left = Math.max(x - by, 0)
  const top = Math.max(y - by, 0)
  return {
    x: left,
    y: top,
    width: Math.min(x + width + by, whole.width) - left,
    height: Math.min(y + height + by, whole.height) - top,
  }
}

/** Has tasks write into a raster; where they fail it is dropped. */
export async function fill(
  { pool }: Ground,
  target: Kept,
  tasks: readonly (
    DevelopTask | ReduceTask | StageTask | MaskTask | RefineMaskTask | FollowTask | EncloseTask | DivideTask
  )[],
  stop?: AbortSignal,
  onProgress?: Progress,
): Promise<Kept> {
  try {
    await pool.runAll(tasks, stop, onProgress)
    return target
  } catch (error) {
    target.drop()
    throw error
  }
}

/** A picture made smaller. */
export function reduce(
  ground: Ground,
  source: Raster,
  width: number,
  height: number,
  stop?: AbortSignal,
): Promise<Kept> {
  const target = ground.section.cache.room(width, height, 'f32')
  return fill(ground, target, reduceTasks(source, target.raster, 0, height), stop)
}

/** Lines of a picture made smaller. */
export const reduceTasks = (source: Raster, target: Raster, first: number, last: number): ReduceTask[] =>
  bands(last - first, REDUCE_LINES).map(([from, to]) => ({
    ...{ kind: 'reduce', source, target, from: first + from, to: first + to },
  }))
