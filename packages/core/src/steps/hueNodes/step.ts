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

interface Prepared {
  block: number[]
  count: number
  /** What the (one) node selects is to be shown. */
  selection: boolean
}

/** Shifts hue, colourfulness and lightness around freely placed hues. Greys have no hue and stay. */
export const hueNodes = defineStep<HueNodesSettings, Prepared>({
  id: 'hueNodes',
  stage: 'balance',
  schema: HueNodesSchema,
  neutral: HueNodesSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  yields: 'display',
  colours: 'oklab',
  idle: ({ nodes, show }) => !nodes.some(acts) && !nodes[show ?? -1],
  reach: () => 0,
  prepare({ nodes, show }) {
    const shown = nodes[show ?? -1]
    if (shown)
      return { block: nodeBlock({ ...shown, colour: -1, shift: 0, light: 0 }), count: 1, selection: true }
    const acting = nodes.filter(acts)
    return { block: acting.flatMap(nodeBlock), count: acting.length, selection: false }
  },
  run({ raster, kernels, scratch }, { block, count, selection }) {
    const mark = scratch.mark()
    const n = planeLength(raster)
    const [, a] = planes(raster)
    const before = selection ? scratch.take(2 * n * 4) : 0
    if (selection) scratch.copy(a, before, 2 * n * 4)
    kernels.hue_nodes(...planes(raster), n, scratch.floats(block), count)
    // the node drained what it selects: what it took is what is shown
    if (selection) kernels.subtract(before, a, a, 2 * n)
    scratch.release(mark)
  },
})
