import type { EngineFiles } from './paths'
import { readFileSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import { Engine } from './host/engine'
import { sharedMemory } from './memory'
import { RESERVED, SCRATCH, type FromWorker, type WorkerLink } from './protocol'

export * from './index'

function startWorker(script: string, nice: number): WorkerLink {
  const worker = new Worker(script, { workerData: { nice } })
  return {
    post: (message) => worker.postMessage(message),
    listen(receive, broken) {
      worker.on('message', (message: FromWorker) => receive(message))
      worker.on('error', (error) => broken(error instanceof Error ? error : new Error(String(error))))
    },
    stop: () => void worker.terminate(),
  }
}

/**
 * An engine on worker threads.
 * @param options.workers how many; as many as the machine has cores by default
 * @param options.nice how far its workers stand back behind others, 0 to 19
 * @param options.shared false for one worker with its own memory, as on pages that are not isolated
 */
export function createEngine(
  files: EngineFiles,
  options: { workers?: number; shared?: boolean; nice?: number } = {},
): Engine {
  const count = options.workers ?? Math.min(availableParallelism(), 8)
  const shared = options.shared === false ? undefined : sharedMemory(RESERVED + SCRATCH * count)
  const file = `${files.kernels}/kernels.${shared ? 'shared' : 'single'}.wasm`
  const module = new WebAssembly.Module(readFileSync(file))
  const workers = Array.from({ length: shared ? count : 1 }, () =>
    startWorker(files.worker, options.nice ?? 0),
  )
  return new Engine({
    module,
    memory: shared?.memory,
    workers,
    limit: shared?.limit ?? 2 ** 32 - 65536,
    budget: 900e6,
    kept: 480e6,
  })
}
export { builtEngineFiles, builtFormatWorker, projectRoot, type EngineFiles } from './paths'
export { createAdapter, nodeCodecs } from './formats/node'
export type { Adapter } from './formats/adapter'
