import { sinCosDegrees } from '../../math'
import { defineStep, planes } from '../step'
import { EdgeColourSchema } from './schema'

/** Contrast of lightness within reach, over its sum: below the first there is no edge, from the second on there is. */
const EDGE = [0.06, 0.2] as const
/** Oklab chroma from which on something is coloured. */
const COLOURED = 0.012

const reachAt = (radius: number, scale: number) => Math.max(Math.round(radius * scale), 1)

/**
 * Takes away colour that only an edge has: where lightness jumps and a place has more of the chosen hues than what
 * lies around it, it takes on the colour around. A coloured thing keeps its colour, since its surroundings have it too.
 */
export const edgeColour = defineStep({
  id: 'edgeColour',
  name: 'Coloured edges',
  says: () => 'coloured edges',
  stage: 'square-up',
  schema: EdgeColourSchema,
  neutral: EdgeColourSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'scene',
  colours: 'oklab',
  idle: ({ amount }) => amount === 0,
  reach: ({ radius }, scale) => reachAt(radius, scale),
  prepare: (settings) => settings,
  run(tile, { amount, hue, width, radius }) {
    const { raster, kernels, scratch } = tile
    const { width: w, height: h, stride } = raster
    const out = scratch.raster(w, h, 3)
    scratch.copy(raster.offset, out.offset, stride * h * 12)
    const [sine, cosine] = sinCosDegrees(hue)
    const [, a, b] = planes(out)
    const full = sinCosDegrees(width * 0.6)[1]
    const end = sinCosDegrees(width)[1]
    kernels.edge_colour(
      ...planes(raster),
      ...([a, b, w, h, stride, reachAt(radius, tile.scale), amount] as const),
      ...([cosine, sine, end, 1 / (full - end), EDGE[0], 1 / (EDGE[1] - EDGE[0]), COLOURED] as const),
    )
    tile.raster = out
  },
})
