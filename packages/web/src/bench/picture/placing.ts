import type { Square } from '@dunkelkammer/core'
import type { Geometry } from './geometry'
import type { Place } from '../state/types'

/** Between the picture as it was taken (sensor coordinates, 1 its long edge), what is shown of it, and the screen. */
export interface Placing {
  /** CSS pixels of the pane; undefined where the frame cannot show it. */
  toPane(at: Place): Place | undefined
  /** From fractions of the frame; undefined where there is no picture. */
  toSensor(at: Place): Place | undefined
  /** From CSS pixels of the pane. */
  fromPane(at: Place): Place | undefined
}

export function placing(square: Square, geometry: Geometry): Placing {
  const { width, height } = square.size
  const long = Math.max(width, height)
  const [w, h] = [geometry.width * geometry.pixel, geometry.height * geometry.pixel]
  const toSensor = ({ x, y }: Place) => {
    const at = square.toSource(x * square.width, y * square.height)
    return at && { x: at[0] / long, y: at[1] / long }
  }
  return {
    toPane({ x, y }) {
      const at = square.toFrame(x * long, y * long)
      return (
        at && { x: geometry.left + (at[0] / square.width) * w, y: geometry.top + (at[1] / square.height) * h }
      )
    },
    toSensor,
    fromPane: ({ x, y }) => toSensor({ x: (x - geometry.left) / w, y: (y - geometry.top) / h }),
  }
}
