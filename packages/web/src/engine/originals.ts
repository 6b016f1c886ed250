import { createAdapter, type Adapter, type Keeper } from '@dunkelkammer/engine/browser'
import { api } from '../api/client'

let adapter: Adapter | undefined

/**
 * Bytes of a frame's original in the form that the engine opens: a raw file of another kind, or a finished picture, is
 * read on a worker first.
 */
export async function readOriginal(frameId: string, signal?: AbortSignal): Promise<ArrayBuffer> {
  const { bytes, format } = await api.original(frameId, signal)
  if (format === 'dng') return bytes
  adapter ??= createAdapter()
  return (await adapter.adapt(new Uint8Array(bytes))).dng.buffer as ArrayBuffer
}

/** The original asked for last; fetched once, however many parts of the page want it. */
let last: { frameId: string; bytes: Promise<ArrayBuffer>; stop: AbortController } | undefined

/**
 * Bytes of a frame's original. Asking early, before anything else is known of the frame, starts the way to the
 * picture sooner; another frame's request stops this one.
 */
export function fetchOriginal(frameId: string): Promise<ArrayBuffer> {
  if (last?.frameId !== frameId) {
    last?.stop.abort()
    const stop = new AbortController()
    const bytes = readOriginal(frameId, stop.signal)
    last = { frameId, bytes, stop }
    bytes.catch(() => forgetOriginal(frameId))
  }
  return last.bytes
}

/** Lets go of the bytes, once they are in the engine or of no use. */
export function forgetOriginal(frameId: string): void {
  if (last?.frameId === frameId) last = undefined
}

/** Keeps what is found in a frame with the library, for the next time that it is opened. */
export const keeperOf = (frameId: string): Keeper => ({
  get: (name) => api.found(frameId, name),
  put: (name, bytes) => api.putFound(frameId, name, bytes),
})
