import type { Kernels } from '../src/kernels/kernels'
import { toLab, working } from '../src/colour'
import { address, type Raster, type Scratch } from '../src/memory'
import type { Triple } from '../src/math'
import type { PictureContext, Step, Tile } from '../src/steps'
import { bringTo } from '../src/steps/colours'
import { fillRaster, floatsAt } from './bench'

/** A picture from colours by place; what a step makes of it, as colours by place. */
export type Colours = (x: number, y: number) => Triple

/** Runs one step over a whole picture of its own, survey included, strength 1. */
export function runStep<S>(
  bench: { kernels: Kernels; scratch: Scratch },
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- what is prepared is the step's business
  step: Step<S, any>,
  settings: S,
  size: { width: number; height: number },
  colours: Colours,
  { scale = 1, context = {} }: { scale?: number; context?: Partial<PictureContext> } = {},
): Colours {
  const { kernels, scratch } = bench
  scratch.release()
  const raster = fillRaster(
    scratch,
    size.width,
    size.height,
    3,
    (p, x, y) => colours(Math.min(x, size.width - 1), y)[p],
  )
  const whole = { width: size.width, height: size.height }
  const tile: Tile = { x: 0, y: 0, scale, raster, colours: 'rgb', whole, kernels, scratch }
  let surveyed
  if (step.survey) {
    const at = scratch.take(step.survey.bytes(settings, size))
    step.survey.run(raster, settings, at, kernels, scratch)
    surveyed = { at, ...size }
  }
  bringTo(tile, step.colours ?? 'rgb')
  step.run(tile, step.prepare(settings, context as PictureContext), surveyed)
  bringTo(tile, 'rgb')
  return reader(scratch, tile.raster)
}

const reader = (scratch: Scratch, raster: Raster): Colours => {
  const lines = [0, 1, 2].map((p) =>
    floatsAt(scratch, address(raster, p, 0, 0), raster.stride * raster.height).slice(),
  )
  return (x, y) => lines.map((l) => l[y * raster.stride + x]) as unknown as Triple
}

/** CIE Lab of a working-space colour. */
export const labOf = (rgb: Triple): Triple => toLab(working, rgb)
