/**
 * Puts faults into files, one at a time, and counts those that the unit tests notice:
 * `npm run mutate -- PATH[,PATH …] [TESTS]`. Paths are files or patterns from the project's folder; TESTS is a pattern of the tests
 * that are to notice, those of the same package where missing.
 */
import { Stryker } from '@stryker-mutator/core'
import { writeFileSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { node, root } from './setup.mjs'

const [paths, tests] = process.argv.slice(2)
if (!paths) {
  console.error('Name the files: npm run mutate -- packages/web/src/sheet/filters.ts')
  process.exit(1)
}
node('scripts/build.mjs', '--no-web')
const mutate = paths.split(',')
const folder = tests ?? `${mutate[0].split('/').slice(0, 2).join('/')}/**/*.test.ts`
const cache = join(root, '.cache')
mkdirSync(cache, { recursive: true })
const config = join(cache, 'mutate.vitest.config.mjs')
writeFileSync(
  config,
  `import { defineConfig } from 'vitest/config'
export default defineConfig({
  root: process.cwd(),
  test: { include: ${JSON.stringify([folder])}, testTimeout: 30000, hookTimeout: 30000 },
})
`,
)
const stryker = new Stryker({
  mutate,
  testRunner: 'vitest',
  vitest: { configFile: config, related: true },
  plugins: ['@stryker-mutator/vitest-runner'],
  checkers: [],
  disableTypeChecks: false,
  // the tests read kernels, demo frames and built programs from here
  inPlace: true,
  concurrency: 2,
  coverageAnalysis: 'perTest',
  ignoreStatic: true,
  reporters: ['clear-text', 'progress-append-only'],
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
  tempDirName: join(cache, 'mutate'),
  thresholds: { high: 80, low: 60, break: null },
})
const results = await stryker.runMutationTest()
const count = (status) => results.filter((r) => r.status === status).length
const noticed = count('Killed') + count('Timeout')
const all = noticed + count('Survived') + count('NoCoverage')
console.log(`${noticed} of ${all} faults noticed, ${((100 * noticed) / all).toFixed(0)} %`)
