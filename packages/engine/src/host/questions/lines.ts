import type { Development, LinesResult } from '@dunkelkammer/core'
import type { Layers } from '../layers'
import { fitLongEdge } from '../sizes'

/** Long edge of the picture that is looked over for lines. */
const LINES_EDGE = 1400

type Place = readonly [number, number]
interface Drawn {
  from: Place
  to: Place
}

/**
 * Straight edges of the picture before it is squared up, in its pixels.
 * @param shortest least length, parts of the long edge
 */
export const lines = (layers: Layers, development: Development, shortest: number): Promise<LinesResult> =>
  look(layers, development, shortest)

/**
 * Edges beneath drawn lines, in pixels of the picture before it is squared up; undefined where there is none.
 * @param reach how far off an edge may lie, parts of the long edge
 */
export const trace = async (
  layers: Layers,
  development: Development,
  drawn: readonly Drawn[],
  reach: number,
): Promise<LinesResult['traced']> => (await look(layers, development, 0, { drawn, reach })).traced

async function look(
  layers: Layers,
  development: Development,
  shortest: number,
  edges?: { drawn: readonly Drawn[]; reach: number },
): Promise<LinesResult> {
  const { plan } = await layers.planned(development)
  const { open, pool } = layers.ground
  const size = fitLongEdge(open.context.width, open.context.height, LINES_EDGE)
  const { kept } = await layers.reduced.take(plan, { ...size, full: size.width === open.context.width })
  try {
    const k = size.width / open.context.width
    const long = Math.max(size.width, size.height)
    const scaled = ([x, y]: Place): Place => [x * k, y * k]
    const found = await pool.run({
      ...{ kind: 'lines', source: kept.raster, shortest: Math.round(shortest * long) },
      drawn: edges?.drawn.map(({ from, to }) => ({
        ...{ from: scaled(from), to: scaled(to) },
        reach: Math.max(Math.round(edges.reach * long), 3),
      })),
    })
    return {
      segments: found.segments.map((s) => ({
        ...s,
        x0: s.x0 / k,
        y0: s.y0 / k,
        x1: s.x1 / k,
        y1: s.y1 / k,
      })),
      traced: found.traced.map((t) => t?.map(([x, y]) => [x / k, y / k] as [number, number])),
    }
  } finally {
    kept.release()
  }
}
