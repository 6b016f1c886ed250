import { sampleFringes, type FringeSample } from '../analysis/fringes'
import { findLines, traceEdge } from '../analysis/lines'
import type { Kernels } from '../kernels/kernels'
import { address, type Raster, type Scratch } from '../memory'
import { fetchWindow } from './fetch'
import { loadWindow } from './load'
import { sampleEdges, SOFTNESS_BLOCK, type EdgeSample } from '../analysis/softness'
import { NOISE_BLOCK, sampleNoise, type NoiseSample } from '../analysis/noise'
import type { CfaPattern } from '../raw'
import type { FringesTask, LinesResult, LinesTask, NoiseTask, SoftnessTask } from './tasks'

/** One plane of a window as numbers of its own. */
export const planeOf = (scratch: Scratch, window: Raster, p: number): Float32Array => {
  const { width, height } = window
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    out.set(new Float32Array(scratch.memory.buffer, address(window, p, 0, y), width), y * width)
  return out
}

/** Blocks of a mosaic, looked at for lateral fringes; those that say nothing are left out. */
export function lookAtFringes(
  kernels: Kernels,
  scratch: Scratch,
  { picture, blocks, size }: FringesTask,
): FringeSample[] {
  const { x: left, y: top, width, height } = picture.picture
  const { pattern, layout } = picture.context
  const half = Math.sqrt(width * width + height * height) / 2
  const out: FringeSample[] = []
  for (const [bx, by] of blocks) {
    const mark = scratch.mark()
    const x = left + Math.round(bx - size / 2)
    const y = top + Math.round(by - size / 2)
    const window = fetchWindow(kernels, scratch, picture, x, y, size, size)
    const planes = Array.from({ length: window.planes }, (_, p) => planeOf(scratch, window, p))
    scratch.release(mark)
    const colourAt = (i: number) =>
      pattern.colours[
        ((y + Math.floor(i / size)) % pattern.size) * pattern.size + ((x + (i % size)) % pattern.size)
      ]
    const channels = [0, 1, 2].map((c) =>
      layout === 'linear'
        ? { values: planes[c], there: new Uint8Array(size * size).fill(1) }
        : { values: planes[0], there: Uint8Array.from(planes[0], (_, i) => (colourAt(i) === c ? 1 : 0)) },
    )
    const middle = [x + size / 2 - left - width / 2, y + size / 2 - top - height / 2] as const
    const found = sampleFringes(channels, size, middle, half)
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

/** Blocks of the picture, looked at for their noise; those with clipped light are left out. */
export function lookAtNoise(
  kernels: Kernels,
  scratch: Scratch,
  { picture, blocks }: NoiseTask,
): NoiseSample[] {
  const { pattern, layout, balance } = picture.context
  const { x: left, y: top } = picture.picture
  const mosaic = layout === 'mosaic'
  const step = mosaic ? pattern.size : 1
  const side = NOISE_BLOCK * step
  const out: NoiseSample[] = []
  for (const [bx, by] of blocks) {
    const mark = scratch.mark()
    const [x, y] = [left + bx, top + by]
    const window = fetchWindow(kernels, scratch, picture, x, y, side, side)
    const planes = Array.from({ length: window.planes }, (_, p) => planeOf(scratch, window, p))
    scratch.release(mark)
    // one photosite of each colour stands for it; of linear colours each plane
    for (let c = 0; c < 3; c++) {
      const place = mosaic ? placeOf(pattern, c, x, y) : 0
      const plane = planes[mosaic ? 0 : c]
      const values = Float64Array.from({ length: NOISE_BLOCK ** 2 }, (_, i) => {
        const [u, v] = [(i % NOISE_BLOCK) * step, Math.floor(i / NOISE_BLOCK) * step]
        return (
          plane[v * side + u + (mosaic ? Math.floor(place / step) * side + (place % step) : 0)] / balance[c]
        )
      })
      if (values.every((v) => v < 0.98)) out.push(sampleNoise(values))
    }
  }
  return out
}

/** Where in a repeat of the pattern that starts at x, y a colour is found first. */
function placeOf({ size, colours }: CfaPattern, colour: number, x: number, y: number): number {
  for (let i = 0; i < size * size; i++) {
    const [u, v] = [(x + (i % size)) % size, (y + Math.floor(i / size)) % size]
    if (colours[v * size + u] === colour) return i
  }
  return 0
}

/** Blocks of the developed picture, looked at for straight edges and how soft they are. */
export function lookAtEdges(
  kernels: Kernels,
  scratch: Scratch,
  { source, blocks }: SoftnessTask,
): EdgeSample[] {
  return blocks.flatMap(([x, y]) => {
    const mark = scratch.mark()
    const window = loadWindow(kernels, scratch, source, x, y, SOFTNESS_BLOCK, SOFTNESS_BLOCK)
    const [r, g, b] = [0, 1, 2].map((p) => planeOf(scratch, window, p))
    scratch.release(mark)
    return sampleEdges(g.map((v, i) => Math.sqrt(Math.max(0.25 * r[i] + 0.5 * v + 0.25 * b[i], 0))))
  })
}
