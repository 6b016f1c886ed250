import type { Kernels } from './declared'

export type { Kernels }

/** Instantiates the compiled kernels over a memory. */
export async function loadKernels(module: WebAssembly.Module, memory: WebAssembly.Memory): Promise<Kernels> {
  const abort = () => {
    throw new Error('a kernel stopped')
  }
  const instance = await WebAssembly.instantiate(module, { env: { memory, abort } })
  return instance.exports as unknown as Kernels
}
