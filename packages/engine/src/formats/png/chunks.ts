import { viewOf } from '../bytes'

/** Contents of all chunks of a name, in their order (PNG, 3rd edition, 5.3). */
export function chunks(bytes: Uint8Array, name: string): Uint8Array[] {
  const view = viewOf(bytes)
  const found: Uint8Array[] = []
  for (let at = 8; at + 12 <= bytes.length;) {
    const size = view.getUint32(at)
    if (String.fromCharCode(...bytes.subarray(at + 4, at + 8)) === name)
      found.push(bytes.subarray(at + 8, at + 8 + size))
    at += 12 + size
  }
  return found
}

export const chunk = (bytes: Uint8Array, name: string): Uint8Array | undefined => chunks(bytes, name)[0]
