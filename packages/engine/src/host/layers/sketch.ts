import {
  quickFactor,
  quickSize,
  quickSteps,
  uprightSize,
  type DevelopTask,
  type Plan,
  type Raster,
} from '@dunkelkammer/core'
import type { Kept } from '../cache'
import { reduce, type Ground } from './ground'

/**
 * Side of the square tiles in which a mosaic is developed: whole repeats of any pattern, and whole groups of four
 * samples also where the quick picture makes it two or three times smaller.
 */
const TILE = 384

/** What of a plan the quick picture depends on. */
export const sketchKey = ({ develop }: Plan): string => JSON.stringify(quickSteps(develop))

/** The quick picture: it costs no demosaic, and knows nothing of noise. */
export class Sketch {
  constructor(private readonly ground: Ground) {}

  /** Whether it has at least so many pixels. */
  reaches({ width, height }: { width: number; height: number }): boolean {
    const { context } = this.ground.open
    const factor = quickFactor(context)
    return width <= Math.floor(context.width / factor) && height <= Math.floor(context.height / factor)
  }

  /** Made to a size; held for the caller. @param use what it is made for: of each the newest is kept */
  take(plan: Plan, width: number, height: number, use: 'view' | 'overview' | 'mask'): Promise<Kept> {
    const { orientation, context } = this.ground.open
    const { section, pool } = this.ground
    const make = async (stop: AbortSignal) => {
      const size = uprightSize(quickSize(context.sensorSize, quickFactor(context)), orientation)
      const small = section.cache.room(size.width, size.height, 'f16')
      try {
        await pool.runAll(this.tasks(plan, small.raster), stop)
        return await reduce(this.ground, small.raster, width, height, stop)
      } finally {
        small.drop()
      }
    }
    const slot = `sketch ${use}`
    return section.take(`${slot} ${sketchKey(plan)} ${width} ${height}`, make, { slot, newest: true })
  }

  private tasks(plan: Plan, target: Raster): DevelopTask[] {
    const { open } = this.ground
    const { width, height } = open.context.sensorSize
    const tasks: DevelopTask[] = []
    for (let y = 0; y < height; y += TILE)
      for (let x = 0; x < width; x += TILE)
        tasks.push({
          kind: 'develop',
          picture: open,
          steps: plan.develop,
          region: { x, y, width: Math.min(TILE, width - x), height: Math.min(TILE, height - y) },
          target,
          quick: true,
        })
    return tasks
  }
}
