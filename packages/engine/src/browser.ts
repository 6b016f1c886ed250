import { Engine } from './host/engine'
import { sharedMemory } from './memory'
import { RESERVED, SCRATCH, type FromWorker, type WorkerLink } from './protocol'

export * from './index'

const MAX_WORKERS = 8
const BUDGET = 900e6
/** Bytes of what layers may keep. */
const KEPT = 480e6

function startWorker(): WorkerLink {
  const worker = new Worker(new URL('./worker/browser.ts', import.meta.url), { type: 'module' })
  return {
    post: (message) => worker.postMessage(message),
    listen(receive, broken) {
      worker.onmessage = (event: MessageEvent<FromWorker>) => receive(event.data)
      worker.onerror = (event) => broken(new Error(event.message || 'a worker of the engine stopped'))
    },
    stop: () => worker.terminate(),
  }
}

/**
 * An engine in this page. Without cross-origin isolation there is no shared memory, and one worker does it all.
 * @param urls where the two builds of the kernels are served
 */
export async function createEngine(urls: { shared: string; single: string }): Promise<Engine> {
  const count = Math.min(Math.max(navigator.hardwareConcurrency || 2, 1), MAX_WORKERS)
  const shared = globalThis.crossOriginIsolated ? sharedMemory(RESERVED + SCRATCH * count) : undefined
  const response = await fetch(shared ? urls.shared : urls.single)
  if (!response.ok) throw new Error('The engine could not be loaded from the server.')
  const module = await WebAssembly.compile(await response.arrayBuffer())
  const workers = Array.from({ length: shared ? count : 1 }, startWorker)
  return new Engine({
    module,
    memory: shared?.memory,
    workers,
    limit: shared?.limit ?? 2 ** 32 - 65536,
    budget: BUDGET,
    kept: KEPT,
  })
}
export { createAdapter } from './formats/browser'
export type { Adapter } from './formats/adapter'
