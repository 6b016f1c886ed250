import { readFileSync } from 'node:fs'
import { loadKernels, type Kernels } from '../src/kernels/kernels'
import { address, Scratch, type Raster } from '../src/memory'

const file = new URL('../kernels/build/kernels.single.wasm', import.meta.url)

/** Kernels over a small memory of their own, for tests. */
export async function testBench(megabytes = 64): Promise<{ kernels: Kernels; scratch: Scratch }> {
  const memory = new WebAssembly.Memory({ initial: megabytes * 16, maximum: 65536 })
  const kernels = await loadKernels(new WebAssembly.Module(readFileSync(file)), memory)
  return { kernels, scratch: new Scratch(memory, 65536, megabytes * 2 ** 20 - 65536) }
}

export const floatsAt = (scratch: Scratch, offset: number, n: number) =>
  new Float32Array(scratch.memory.buffer, offset, n)

/** A raster in scratch filled from a function of plane and place. */
export function fillRaster(
  scratch: Scratch,
  width: number,
  height: number,
  planes: number,
  value: (plane: number, x: number, y: number) => number,
): Raster {
  const raster = scratch.raster(width, height, planes)
  for (let p = 0; p < planes; p++)
    for (let y = 0; y < height; y++) {
      const line = floatsAt(scratch, address(raster, p, 0, y), raster.stride)
      for (let x = 0; x < raster.stride; x++) line[x] = value(p, x, y)
    }
  return raster
}

export const sampleAt = (scratch: Scratch, r: Raster, plane: number, x: number, y: number): number =>
  floatsAt(scratch, address(r, plane, x, y), 1)[0]

/** Deterministic numbers in 0..1 (mulberry32). */
export function random(seed: number): () => number {
  let a = seed
  return () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** Peak signal to noise ratio in dB for signals of range 1. */
export function psnr(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2
  return -10 * Math.log10(sum / a.length)
}
