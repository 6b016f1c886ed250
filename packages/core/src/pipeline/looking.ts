import { sampleFringes, type FringeSample } from '../analysis/fringes'
import { findLines, traceEdge } from '../analysis/lines'
import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { loadWindow } from './load'
import type { FringesTask, LinesResult, LinesTask } from './tasks'

const planeOf = (scratch: Scratch, window: Raster, p: number): Float32Array => {
  const { width, height } = window
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    out.set(new Float32Array(scratch.memory.buffer, address(window, p, 0, y), width), y * width)
  return out
}

/** Blocks of a picture, looked at for lateral fringes; those that say nothing are left out. */
export function lookAtFringes(
  kernels: Kernels,
  scratch: Scratch,
  { source, blocks, size }: FringesTask,
): FringeSample[] {
  const half = Math.hypot(source.width, source.height) / 2
  const out: FringeSample[] = []
  for (const [x, y] of blocks) {
    const mark = scratch.mark()
    const left = Math.round(x - size / 2)
    const top = Math.round(y - size / 2)
    const window = loadWindow(kernels, scratch, source, left, top, size, size)
    const planes = [0, 1, 2].map((p) => planeOf(scratch, window, p))
    scratch.release(mark)
    const middle = [left + size / 2 - source.width / 2, top + size / 2 - source.height / 2] as const
    const found = sampleFringes(planes, size, middle, half)
    if (found) out.push(found)
  }
  return out
}

/** A small picture's light as it looks, its brightest hundredth 1; then its straight edges, or the edges under drawn lines. */
export function lookForLines(
  kernels: Kernels,
  scratch: Scratch,
  { source, shortest, drawn }: LinesTask,
): LinesResult {
  const { width, height } = source
  const window = loadWindow(kernels, scratch, source, 0, 0, width, height)
  const [r, g, b] = [0, 1, 2].map((p) => planeOf(scratch, window, p))
  const light = Float32Array.from(g, (v, i) => Math.max(0.25 * r[i] + 0.5 * v + 0.25 * b[i], 0))
  const sorted = light.filter((_, i) => i % 37 === 0).sort()
  const white = Math.max(sorted[Math.floor(sorted.length * 0.99)] ?? 1, 1e-6)
  const grey = light.map((v) => Math.sqrt(Math.min(v / white, 1.5)))
  if (!drawn) return { segments: findLines(grey, width, height, shortest), traced: [] }
  return {
    segments: [],
    traced: drawn.map(({ from, to, reach }) => traceEdge(grey, width, height, from, to, reach)),
  }
}
