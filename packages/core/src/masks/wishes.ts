import type { FindWish } from '../pipeline/tasks'
import { isFound, type Mask, type Shape } from './schema'

/** What has to be looked for in a picture for a shape. */
export function wishOf(shape: Shape): FindWish | undefined {
  if (!isFound(shape)) return undefined
  if (shape.kind === 'found') {
    const { what, corrections } = shape
    return { kind: 'found', what, ...(corrections.length > 0 && { corrections }) }
  }
  if (shape.kind === 'regions') return { kind: 'regions', at: shape.at, count: shape.count }
  return shape.kind === 'alike' ? { kind: 'alike', like: shape.like } : { kind: 'distance' }
}

/** All that has to be looked for for a mask. */
export const wishesOf = ({ shapes }: Mask): FindWish[] =>
  shapes.flatMap((shape) => {
    const like: FindWish | undefined = shape.alike && { kind: 'alike', like: shape.alike }
    return [wishOf(shape), like].filter((wish) => wish !== undefined)
  })
