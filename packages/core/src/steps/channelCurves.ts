import { gainBySize, runSizeGain, type SizeGain } from './sizeGain'
import { planeLength, planes, type Tile } from './step'

/** A curve over the square root of display light, 0..1. */
export type ToneFunction = (x: number) => number

/** Curves for luminance and for the channels, ready to run. */
export interface PreparedCurves {
  luminance?: SizeGain
  channels: readonly (Float32Array | undefined)[]
}

const ENTRIES = 2049

/** Prepares curves: first luminance, then all channels alike, then each. */
export function prepareCurves(
  luminance: ToneFunction | undefined,
  all: ToneFunction | undefined,
  each: readonly (ToneFunction | undefined)[],
): PreparedCurves {
  // a gain cannot lift black: what the curve has there is added by the channels
  const black = luminance ? luminance(0) ** 2 : 0
  return {
    luminance: luminance && gainBySize((x) => luminance(Math.sqrt(Math.min(x, 1))) ** 2 - black, 1),
    channels: each.map((one) => {
      if (!one && !all && black === 0) return undefined
      return Float32Array.from({ length: ENTRIES }, (_, i) => {
        let v = Math.sqrt(Math.min((i / (ENTRIES - 1)) ** 2 + black, 1))
        if (all) v = all(v)
        if (one) v = one(v)
        return v * v
      })
    }),
  }
}

export function runCurves(tile: Tile, { luminance, channels }: PreparedCurves): void {
  const { raster, kernels, scratch } = tile
  if (luminance) runSizeGain(tile, luminance)
  planes(raster).forEach((plane, c) => {
    const table = channels[c]
    if (!table) return
    const mark = scratch.mark()
    kernels.channel_curve(plane, planeLength(raster), scratch.floats(table), table.length, 1)
    scratch.release(mark)
  })
}
