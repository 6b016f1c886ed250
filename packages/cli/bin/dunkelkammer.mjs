#!/usr/bin/env node
/** Builds what is missing, then runs the shell. */
import { existsSync } from 'node:fs'
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const at = (path) => fileURLToPath(new URL(`../../../${path}`, import.meta.url))
if (!existsSync(at('dist/node/cli.js')) || !existsSync(at('packages/core/kernels/build/kernels.shared.wasm')))
  execFileSync(process.execPath, [at('scripts/build.mjs'), '--no-web'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  })
await import(new URL('../../../dist/node/cli.js', import.meta.url).href)
