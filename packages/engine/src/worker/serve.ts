import { loadKernels, RawError, Runner, Scratch } from '@dunkelkammer/core'
import type { FromWorker, ToWorker } from '../protocol'

const PAGE = 65536

/** Grows a memory so that `end` bytes exist. */
function ensure(memory: WebAssembly.Memory, end: number): void {
  const missing = end - memory.buffer.byteLength
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE))
}

/** The worker's side of the engine: waits for its start, then carries out tasks one after the other. */
export function serve(post: (message: FromWorker) => void): (message: ToWorker) => Promise<void> {
  let memory: WebAssembly.Memory
  let runner: Runner
  return async (message) => {
    if (message.type === 'start') {
      const { offset, size } = message.scratch
      memory = message.memory ?? new WebAssembly.Memory({ initial: 2, maximum: PAGE })
      ensure(memory, offset + size)
      const kernels = await loadKernels(message.module, memory)
      runner = new Runner(kernels, new Scratch(memory, offset, size))
      post({ type: 'ready' })
      return
    }
    if (message.type === 'ensure') return ensure(memory, message.end)
    if (message.type === 'write') {
      new Uint8Array(memory.buffer, message.offset, message.bytes.length).set(message.bytes)
      return
    }
    const { id } = message
    try {
      const result =
        message.type === 'read'
          ? new Uint8Array(memory.buffer, message.offset, message.length).slice()
          : runner.run(message.task, (share) => post({ type: 'progress', id, share }))
      post({ type: 'done', id, result })
    } catch (error) {
      const code = error instanceof RawError ? error.code : undefined
      post({ type: 'failed', id, code, message: error instanceof Error ? error.message : String(error) })
    }
  }
}
