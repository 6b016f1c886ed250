import { sinCosDegrees, smoothStep } from '../../math'
import { defineStep, planeLength, planes } from '../step'
import {
  CHROMA_TOP,
  HueNodesSchema,
  type HueNode,
  type HueNodesSettings,
  type SelectionShown,
} from './schema'

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

/** Entries of the circle's table: a quarter of a degree apart. */
const ENTRIES = 1441

/** All nodes together by hue, -180 to 180 degrees, as the kernel's table wants them. */
function circle(nodes: readonly HueNode[]): Float32Array {
  const out = new Float32Array(3 * ENTRIES)
  for (let i = 0; i < ENTRIES; i++) {
    const hue = (i / (ENTRIES - 1)) * 360 - 180
    let shift = 0
    let gain = 1
    let lift = 0
    for (const n of nodes) {
      const apart = (((hue - n.hue) % 360) + 540) % 360
      const share = smoothStep(1 - Math.abs(apart - 180) / n.width)
      shift += share * n.shift
      gain *= 1 + share * n.colour
      lift += share * n.light * LIGHT
    }
    const [sine, cosine] = sinCosDegrees(Math.min(Math.max(shift, -90), 90))
    out[i] = gain * cosine
    out[ENTRIES + i] = gain * sine
    out[2 * ENTRIES + i] = lift
  }
  return out
}

interface Prepared {
  /** Numbers of the nodes, or where none has limits the whole circle as an array of floats. */
  block: number[] | Float32Array
  count: number
  /** What the (one) node selects is to be shown. */
  selection: boolean
}

/** Shifts hue, colourfulness and lightness around freely placed hues. Greys have no hue and stay. */
export const hueNodes = defineStep({
  id: 'hueNodes',
  name: 'Hue nodes',
  says: () => 'hues',
  stage: 'balance',
  schema: HueNodesSchema,
  neutral: HueNodesSchema.parse({}),
  essential: false,
  keep: false,
  takes: 'picture',
  inArea: true,
  yields: 'display',
  colours: 'oklab',
  idle: ({ nodes, show }: HueNodesSettings & SelectionShown) => !nodes.some(acts) && !nodes[show ?? -1],
  reach: () => 0,
  prepare({ nodes, show }: HueNodesSettings & SelectionShown): Prepared {
    const shown = nodes[show ?? -1]
    if (shown)
      return { block: nodeBlock({ ...shown, colour: -1, shift: 0, light: 0 }), count: 1, selection: true }
    const acting = nodes.filter(acts)
    const blocks = acting.map(nodeBlock)
    if (blocks.every((b) => b[5] === 0)) return { block: circle(acting), count: ENTRIES, selection: false }
    return { block: blocks.flat(), count: acting.length, selection: false }
  },
  run({ raster, kernels, scratch }, { block, count, selection }) {
    const mark = scratch.mark()
    const n = planeLength(raster)
    const [, a] = planes(raster)
    const before = selection ? scratch.take(2 * n * 4) : 0
    if (selection) scratch.copy(a, before, 2 * n * 4)
    if (block instanceof Float32Array) kernels.hue_table(...planes(raster), n, scratch.floats(block), count)
    else kernels.hue_nodes(...planes(raster), n, scratch.floats(block), count)
    // the node drained what it selects: what it took is what is shown
    if (selection) kernels.subtract(before, a, a, 2 * n)
    scratch.release(mark)
  },
})
