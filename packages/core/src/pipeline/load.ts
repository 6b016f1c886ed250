import { address, strideFor, type Raster, type Scratch } from '../memory'
import type { Kernels } from '../kernels/kernels'

/**
 * A window of a kept picture as 32-bit floats in scratch; beyond the picture its edge is repeated.
 * @param x left end of the window in the source, may be negative
 */
export function loadWindow(
  kernels: Kernels,
  scratch: Scratch,
  source: Raster,
  x: number,
  y: number,
  width: number,
  height: number,
): Raster {
  const out = scratch.raster(width, height, source.planes)
  const left = Math.max(0, -x)
  const right = Math.max(0, x + width - source.width)
  for (let p = 0; p < source.planes; p++)
    for (let j = 0; j < height; j++) {
      const line = Math.min(Math.max(y + j, 0), source.height - 1)
      const to = address(out, p, left, j)
      // the last group of four may run past the picture's edge, never past the window's line
      const n = Math.min(strideFor(width - left - right), out.stride - left)
      const from = address(source, p, x + left, line)
      if (source.format === 'f16') kernels.f16_to_f32(from, to, n)
      else scratch.copy(from, to, n * 4)
      if (left || right) repeatEdges(scratch.memory, address(out, p, 0, j), width, left, right)
    }
  return out
}

function repeatEdges(
  memory: WebAssembly.Memory,
  at: number,
  width: number,
  left: number,
  right: number,
): void {
  const line = new Float32Array(memory.buffer, at, width)
  line.fill(line[left], 0, left)
  line.fill(line[width - 1 - right], width - right)
}
