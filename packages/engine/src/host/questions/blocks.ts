import type { Layers } from '../layers'

/** Places of blocks that are looked at, shared out among the workers several times over, so that none waits long. */
export function sharedOut(
  { ground }: Layers,
  places: readonly [x: number, y: number][],
): [x: number, y: number][][] {
  const parts = ground.pool.size * 4
  return Array.from({ length: parts }, (_, i) => places.filter((_, k) => k % parts === i))
}
