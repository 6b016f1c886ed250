import { planeLength, planes, type Tile } from './step'

/** A tone curve as gains over the square root of a colour's size, 0 to `top`. */
export interface SizeGain {
  gains: Float32Array
  top: number
}

const ENTRIES = 4096

/** Prepares a curve of light by light for the kernel. @param top square root of the largest light it is told apart for */
export function gainBySize(curve: (x: number) => number, top: number): SizeGain {
  const gains = new Float32Array(ENTRIES)
  for (let i = 1; i < ENTRIES; i++) {
    const x = ((i * top) / (ENTRIES - 1)) ** 2
    gains[i] = curve(x) / x
  }
  gains[0] = gains[1]
  return { gains, top }
}

export function runSizeGain({ raster, kernels, scratch }: Tile, { gains, top }: SizeGain): void {
  const mark = scratch.mark()
  kernels.size_gain(...planes(raster), planeLength(raster), scratch.floats(gains), gains.length, top)
  scratch.release(mark)
}
