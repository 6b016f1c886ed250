import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { existsSync } from 'node:fs'

/** Where the build put the kernels and the worker's script. */
export interface EngineFiles {
  kernels: string
  worker: string
}

/** The project's folder, found from wherever this code was built to. */
export function projectRoot(): string {
  let at = dirname(fileURLToPath(import.meta.url))
  while (!existsSync(join(at, 'packages', 'core', 'kernels'))) {
    const up = dirname(at)
    if (up === at) throw new Error('The project folder cannot be found.')
    at = up
  }
  return at
}

/** Where the build put what the engine needs. */
export const builtEngineFiles = (root = projectRoot()): EngineFiles => ({
  kernels: join(root, 'packages/core/kernels/build'),
  worker: join(root, 'dist/node/engine-worker.js'),
})

/** The script of the thread that reads files of other kinds. */
export const builtFormatWorker = (root = projectRoot()): string => join(root, 'dist/node/format-worker.js')
