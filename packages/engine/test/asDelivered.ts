import { startDevelopment, type SpaceId } from '@dunkelkammer/core'
import { adapt } from '../src/formats'
import { nodeCodecs } from '../src/formats/node'
import type { Engine } from '../src/host/engine'

/** A file of any kind as it is delivered with nothing changed. */
export async function asDelivered(
  engine: Engine,
  bytes: Uint8Array,
  space: SpaceId = 'srgb',
  bits: 8 | 16 = 8,
): Promise<{ width: number; height: number; pixels: Uint8Array | Uint16Array }> {
  const { dng } = await adapt(new Uint8Array(bytes), nodeCodecs)
  const open = await engine.open(dng)
  try {
    const size = { width: open.width, height: open.height }
    const out = await open.deliver({ development: startDevelopment(), space, bits, ...size })
    return { ...size, pixels: bits === 16 ? new Uint16Array(out.buffer) : new Uint8Array(out) }
  } finally {
    engine.close(open)
  }
}

/** The largest difference between two lists; infinite where one is longer. */
export const worst = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  let most = a.length === b.length ? 0 : Infinity
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]))
  return most
}
