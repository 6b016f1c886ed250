import { defineStep, planeLength, planes } from '../step'
import { CHROMA_TOP, HueNodesSchema, type HueNode, type HueNodesSettings } from './schema'

/** Change of lightness at the end of the control, as a share of it. */
const LIGHT = 0.35
const RADIANS = 0.017453292519943295

const acts = (n: HueNode) => n.shift !== 0 || n.colour !== 0 || n.light !== 0

/** The kernel's ten numbers of a node. */
export const nodeBlock = ({ hue, width, shift, colour, light, chroma, lightness }: HueNode): number[] => {
  const limited = chroma[0] > 0 || chroma[1] < CHROMA_TOP || lightness[0] > 0 || lightness[1] < 1
  // limits at the ends of their scales are none: their soft edges must not reach in
  return [
    hue / 360,
    360 / width,
    shift * RADIANS,
    colour,
    light * LIGHT,
    limited ? 1 : 0,
    chroma[0] > 0 ? chroma[0] : -1,
    chroma[1] < CHROMA_TOP ? chroma[1] : 9,
    lightness[0] > 0 ? lightness[0] : -1,
    lightness[1] < 1 ? lightness[1] : 9,
  ]
}

/** Shifts hue, colourfulness and lightness around freely placed hues. Greys have no hue and stay. */
export const hueNodes = defineStep<HueNodesSettings, { block: number[]; count: number }>({
  id: 'hueNodes',
  stage: 'balance',
  schema: HueNodesSchema,
  neutral: HueNodesSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ nodes }) => !nodes.some(acts),
  reach: () => 0,
  prepare({ nodes }) {
    const acting = nodes.filter(acts)
    return { block: acting.flatMap(nodeBlock), count: acting.length }
  },
  run({ raster, kernels, scratch }, { block, count }) {
    const mark = scratch.mark()
    kernels.hue_nodes(...planes(raster), planeLength(raster), scratch.floats(block), count)
    scratch.release(mark)
  },
})
