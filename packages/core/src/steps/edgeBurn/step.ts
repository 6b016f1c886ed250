import { signed } from '../words'
import { address } from '../../memory'
import { defineStep } from '../step'
import { EdgeBurnSchema, type EdgeBurnSettings } from './schema'

/** Radii in which distances are measured, in the pixels of a picture of this size: where 1 is a corner. */
export function burnRadii({ shape }: EdgeBurnSettings, width: number, height: number) {
  const half = Math.sqrt(width * width + height * height) / 2
  const along = (side: number) => half + shape * (side * Math.SQRT1_2 - half)
  return { across: along(width), down: along(height) }
}

/** Darkens or lightens the edges, as light held back under the enlarger: colours keep their hue and their share. */
export const edgeBurn = defineStep({
  id: 'edgeBurn',
  name: 'Edge burn',
  says: ({ ev }) => `edges ${signed(ev, 2)} EV`,
  stage: 'finish',
  schema: EdgeBurnSchema,
  neutral: EdgeBurnSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ ev }) => ev === 0,
  reach: () => 0,
  prepare: (settings) => settings,
  run({ raster, x, y, whole, kernels }, settings) {
    const { ev, begin, run, centre } = settings
    const { across, down } = burnRadii(settings, whole.width, whole.height)
    for (let j = 0; j < raster.height; j++)
      kernels.burn_line(
        address(raster, 0, 0, j),
        address(raster, 1, 0, j),
        address(raster, 2, 0, j),
        raster.stride,
        x,
        centre[0] * whole.width - 0.5,
        1 / across,
        (y + j + 0.5 - centre[1] * whole.height) / down,
        begin,
        1 / run,
        ev / 3,
      )
  },
})
