import type { RawErrorCode, Task } from '@dunkelkammer/core'

/** Bytes at the start of the memory that belong to the kernels' own constants. */
export const RESERVED = 1 << 16
/** Each worker's scratch; the largest need is a band of a wide export being made smaller. */
export const SCRATCH = 96 << 20

export type ToWorker =
  | {
      type: 'start'
      module: WebAssembly.Module
      /** The engine's shared memory; without it the worker makes its own. */
      memory?: WebAssembly.Memory
      scratch: { offset: number; size: number }
    }
  | { type: 'task'; id: number; task: Task }
  | { type: 'ensure'; end: number }
  | { type: 'write'; offset: number; bytes: Uint8Array }
  | { type: 'read'; id: number; offset: number; length: number }

export type FromWorker =
  | { type: 'ready' }
  | { type: 'progress'; id: number; share: number }
  | { type: 'done'; id: number; result: unknown }
  | { type: 'failed'; id: number; message: string; code?: RawErrorCode }

/** A worker thread of either world. */
export interface WorkerLink {
  post(message: ToWorker): void
  listen(receive: (message: FromWorker) => void, broken: (reason: Error) => void): void
  stop(): void
}
