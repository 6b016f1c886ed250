/** `npm test`: everything that must hold before a change lands. Installs what is missing. */
import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { installPackages, node, root, run } from './setup.mjs'

installPackages()
const bin = (name) => join(root, 'node_modules/.bin', name)

/**
 * Path of a program, installed from Debian's packages where none is found.
 * @param where it may be, the last of them where Debian puts it
 */
function debian(name, where, hint = '') {
  const found = where.find((p) => p && existsSync(p))
  if (found) return found
  const how = `apt-get update && apt-get install -y ${name}`
  if (process.getuid?.() !== 0) {
    console.error(`The tests need ${name}. Run as root: ${how}${hint}`)
    process.exit(1)
  }
  console.log(`installing ${name}`)
  run('sh', ['-c', how], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  })
  return where.at(-1)
}

const browser = debian(
  'chromium',
  [process.env.CHROMIUM_PATH, '/usr/bin/chromium-browser', '/usr/bin/chromium'],
  '   (or set CHROMIUM_PATH)',
)
// reads the pages that deliveries make
debian('poppler-utils', ['/usr/bin/pdfimages'])
let failed = false
/** Runs a program; its output is printed when it ends, unless it may speak as it goes. */
function step(name, program, args, { env = {}, live = false } = {}) {
  return new Promise((done) => {
    if (live) console.log(`\n== ${name}`)
    const child = spawn(program, args, {
      cwd: root,
      stdio: ['ignore', live ? 'inherit' : 'pipe', live ? 'inherit' : 'pipe'],
      env: { ...process.env, ...env },
    })
    let said = ''
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (said += chunk))
    child.on('close', (status) => {
      if (!live) console.log(`\n== ${name}\n${said.trim() || 'nothing to say'}`)
      if (status !== 0) {
        console.error(`${name} failed`)
        failed = true
      }
      done()
    })
  })
}

node('scripts/build.mjs')
mkdirSync(join(root, 'test-results'), { recursive: true })
const cache = join(root, '.cache')
const unit = join(cache, 'unit.json')
const web = join(cache, 'browser.json')

/** What looks at the sources alone runs beside the unit tests. */
async function looks() {
  await step('format', bin('prettier'), [
    ...['--check', '.', '--log-level', 'warn'],
    ...['--cache', '--cache-location', join(cache, 'prettier')],
  ])
  await step('lint', bin('eslint'), [
    ...['.', '--max-warnings', '0'],
    ...['--cache', '--cache-location', join(cache, 'eslint')],
  ])
  await step('types', bin('tsc'), [
    ...['-p', '.', '--incremental'],
    ...['--tsBuildInfoFile', join(cache, 'types.tsbuildinfo')],
  ])
  await step('imports', bin('depcruise'), ['--output-type', 'err', 'packages', 'e2e'])
  await step('what nobody uses', bin('knip'), ['--no-progress'])
  await step('types of core', bin('tsc'), ['-p', 'packages/core'])
}
await Promise.all([
  looks(),
  step(
    'unit tests',
    bin('vitest'),
    ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`],
    { live: true },
  ),
])
// they wait for what a page shows, and would wait too long beside the others
await step('browser tests', bin('playwright'), ['test', '--reporter=list,json'], {
  live: true,
  env: { CHROMIUM_PATH: browser, PLAYWRIGHT_JSON_OUTPUT_NAME: web },
})

const read = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined)
const u = read(unit)
const w = read(web)?.stats
const passed = (u?.numPassedTests ?? 0) + (w?.expected ?? 0)
const bad = (u?.numFailedTests ?? 0) + (w ? w.unexpected + w.flaky : 0)
console.log(`\n${passed} passed, ${bad + (failed && bad === 0 ? 1 : 0)} failed`)
process.exit(failed ? 1 : 0)
