import { damaged } from '@dunkelkammer/core'

/** A buffer that holds just these bytes. */
export const exact = (bytes: Uint8Array): ArrayBuffer => bytes.slice().buffer as ArrayBuffer

/** What a decoder gives. @throws RawError where it fails, whatever it says itself */
export async function decoded<T>(work: () => T | Promise<T | null> | null): Promise<T> {
  try {
    const result = await work()
    if (result) return result
  } catch {
    // said below
  }
  throw damaged('the picture cannot be decompressed')
}
