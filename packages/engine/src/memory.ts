const PAGE = 65536

/**
 * One memory for all workers, as large as the machine lets it become; it only grows when used.
 * @returns undefined where the page or runtime does not allow shared memory
 */
export function sharedMemory(
  initialBytes: number,
): { memory: WebAssembly.Memory; limit: number } | undefined {
  if (typeof SharedArrayBuffer === 'undefined') return undefined
  for (const maximum of [65536, 49152, 32768, 16384])
    try {
      const memory = new WebAssembly.Memory({
        initial: Math.ceil(initialBytes / PAGE),
        maximum,
        shared: true,
      })
      return { memory, limit: maximum * PAGE - PAGE }
    } catch {
      // a smaller address range may still be had
    }
  return undefined
}
