/** Bundles test code in TypeScript, so that scripts can run it. */
import { build } from 'esbuild'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { root } from './setup.mjs'

/** The exports of a file of the project, given from the project's folder. */
export async function load(file) {
  const at = (path) => join(root, 'packages', path)
  const outfile = join(root, '.cache', file.replace(/\W+/g, '-') + '.mjs')
  mkdirSync(join(root, '.cache'), { recursive: true })
  await build({
    entryPoints: [join(root, file)],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    alias: {
      '@dunkelkammer/core': at('core/src/index.ts'),
      '@dunkelkammer/contract': at('contract/src/index.ts'),
      '@dunkelkammer/demo': at('demo/src/index.ts'),
      '@dunkelkammer/engine/node': at('engine/src/node.ts'),
      '@dunkelkammer/engine/encode': at('engine/src/encode/index.ts'),
      '@dunkelkammer/engine/profiles': at('engine/src/profiles/index.ts'),
      '@dunkelkammer/engine/deliveries': at('engine/src/deliveries/index.ts'),
      '@dunkelkammer/engine/words': at('engine/src/words/index.ts'),
      '@dunkelkammer/engine': at('engine/src/index.ts'),
    },
    outfile,
    logLevel: 'warning',
  })
  return import(pathToFileURL(outfile).href)
}
