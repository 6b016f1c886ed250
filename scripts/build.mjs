/** Builds what is older than its sources: kernels, the Node programs, the web application. `--no-web` leaves that out. */
import { writeDeclarations } from './kernelDeclarations.mjs'
import { build as esbuild } from 'esbuild'
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const at = (...parts) => join(root, ...parts)

function newest(path) {
  if (!existsSync(path)) return 0
  const s = statSync(path)
  if (!s.isDirectory()) return s.mtimeMs
  let t = 0
  for (const name of readdirSync(path)) if (name !== 'node_modules') t = Math.max(t, newest(join(path, name)))
  return t
}

const stale = (target, ...sources) =>
  !existsSync(target) ||
  newest(target) < Math.max(newest(at('scripts/build.mjs')), ...sources.map((s) => newest(s)))

function kernels() {
  const sources = at('packages/core/kernels/assembly')
  const out = at('packages/core/kernels/build')
  const builds = [
    ['kernels.shared.wasm', ['--sharedMemory', '--enable', 'simd,threads,bulk-memory']],
    ['kernels.single.wasm', ['--enable', 'simd,bulk-memory']],
  ]
  mkdirSync(out, { recursive: true })
  for (const [name, flags] of builds) {
    if (!stale(join(out, name), sources)) continue
    writeDeclarations()
    console.log(`building ${name}`)
    const asc = at('node_modules/assemblyscript/bin/asc.js')
    const common = ['-O3', '--noAssert', '--runtime', 'stub', '--importMemory', '--initialMemory', '2']
    const memory = ['--maximumMemory', '65536', '--memoryBase', '1024']
    execFileSync(
      process.execPath,
      [asc, join(sources, 'index.ts'), ...common, ...memory, ...flags, '-o', join(out, name)],
      { stdio: 'inherit', cwd: root },
    )
  }
}

const PROGRAMS = {
  'engine-worker': 'packages/engine/src/worker/node.ts',
  'format-worker': 'packages/engine/src/formats/node/thread.ts',
  server: 'packages/server/src/main.ts',
  backup: 'packages/server/src/backup/main.ts',
  cli: 'packages/cli/src/main.ts',
  'render-band': 'packages/demo/src/tools/renderBand.ts',
  assemble: 'packages/demo/src/tools/assemble.ts',
  'paper-profile': 'packages/demo/src/tools/writePaperProfile.ts',
  demo: 'packages/demo/src/index.ts',
  bench: 'packages/engine/bench/main.ts',
}

async function programs() {
  const sources = ['core/src', 'contract/src', 'engine', 'server/src', 'cli/src', 'demo/src'].map((p) =>
    at('packages', p),
  )
  const entryPoints = Object.fromEntries(Object.entries(PROGRAMS).filter(([, file]) => existsSync(at(file))))
  const missing = Object.keys(entryPoints).some((name) => stale(at('dist/node', `${name}.js`), ...sources))
  if (!missing) return
  console.log('building the Node programs')
  rmSync(at('dist/node'), { recursive: true, force: true })
  await esbuild({
    absWorkingDir: root,
    entryPoints,
    outdir: 'dist/node',
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    // one file loads in a fraction of the time of many; what brings native code or WebAssembly stays outside
    external: [
      'sharp',
      'libsql',
      '@jsquash/*',
      'lcms-wasm',
      'fontkit',
      'pdfkit',
      'libheif-js',
      'libraw-wasm',
      '@playwright/test',
    ],
    // packages in CommonJS ask for Node's own modules
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
    alias: Object.fromEntries(
      ['core', 'demo', 'contract']
        .map((p) => [`@dunkelkammer/${p}`, at(`packages/${p}/src/index.ts`)])
        .concat([
          ['@dunkelkammer/engine/node', at('packages/engine/src/node.ts')],
          ['@dunkelkammer/engine/encode', at('packages/engine/src/encode/index.ts')],
          ['@dunkelkammer/engine/deliveries', at('packages/engine/src/deliveries/index.ts')],
          ['@dunkelkammer/engine/profiles', at('packages/engine/src/profiles/index.ts')],
          ['@dunkelkammer/engine/words', at('packages/engine/src/words/index.ts')],
          ['@dunkelkammer/engine', at('packages/engine/src/index.ts')],
        ]),
    ),
    splitting: true,
    chunkNames: 'chunks/[name]-[hash]',
    sourcemap: 'linked',
    logLevel: 'warning',
  })
}

async function web() {
  if (!existsSync(at('packages/web/index.html'))) return
  const sources = ['core', 'contract/src', 'engine/src', 'web'].map((p) => at('packages', p))
  if (!stale(at('dist/web/index.html'), ...sources)) return
  console.log('building the web application')
  const { build } = await import('vite')
  await build({ root: at('packages/web'), logLevel: 'warn' })
}

kernels()
await programs()
if (!process.argv.includes('--no-web')) await web()
