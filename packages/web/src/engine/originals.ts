import { api } from '../api/client'

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
    const bytes = api.original(frameId, stop.signal)
    last = { frameId, bytes, stop }
    bytes.catch(() => forgetOriginal(frameId))
  }
  return last.bytes
}

/** Lets go of the bytes, once they are in the engine or of no use. */
export function forgetOriginal(frameId: string): void {
  if (last?.frameId === frameId) last = undefined
}
