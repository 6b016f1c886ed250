/** Feeds damaged files to the reader until stopped or for a number of seconds: `npm run fuzz -- [SECONDS] [FIRST]`. */
import { execFileSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
execFileSync(process.execPath, [join(root, 'scripts/build.mjs'), '--no-web'], { cwd: root, stdio: 'inherit' })
const { build } = await import('esbuild')
const bundle = join(root, 'packages/core/test/fuzz.bundle.mjs')
const packages = (name) => join(root, 'packages', name, 'src/index.ts')
await build({
  stdin: {
    contents: "export { fuzz } from './fuzz'; export { testBench } from './bench'",
    resolveDir: join(root, 'packages/core/test'),
    loader: 'ts',
  },
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  alias: { '@dunkelkammer/core': packages('core'), '@dunkelkammer/demo': packages('demo') },
  outfile: bundle,
})
try {
  const { fuzz, testBench } = await import(pathToFileURL(bundle).href)
  const { kernels, scratch } = await testBench(48)
  const [seconds = 60, first = 100000] = process.argv.slice(2).map(Number)
  const end = Date.now() + seconds * 1000
  const all = { read: 0, refused: 0 }
  let slowest = 0
  let at = first
  while (Date.now() < end) {
    const start = Date.now()
    const count = fuzz(kernels, scratch, at, at + 200)
    slowest = Math.max(slowest, (Date.now() - start) / 200)
    all.read += count.read
    all.refused += count.refused
    at += 200
  }
  console.log(
    `mutants ${first} to ${at - 1}: ${all.read} read, ${all.refused} refused, none broke it; ` +
      `${slowest.toFixed(1)} ms each in the slowest 200`,
  )
} finally {
  rmSync(bundle, { force: true })
}
