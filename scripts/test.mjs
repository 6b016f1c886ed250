/** `npm test`: everything that must hold before a change lands. Installs what is missing. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { installPackages, node, root, run } from './setup.mjs'

installPackages()
const bin = (name) => join(root, 'node_modules/.bin', name)

/** Path of a Chromium, installed from Debian's packages where none is found. */
function chromium() {
  const found = [process.env.CHROMIUM_PATH, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find(
    (p) => p && existsSync(p),
  )
  if (found) return found
  const how = 'apt-get update && apt-get install -y chromium'
  if (process.getuid?.() !== 0) {
    console.error(`The browser tests need Chromium. Run as root: ${how}   (or set CHROMIUM_PATH)`)
    process.exit(1)
  }
  console.log('installing Chromium')
  run('sh', ['-c', how], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  })
  return '/usr/bin/chromium'
}

const browser = chromium()
let failed = false
function step(name, program, args, env = {}) {
  console.log(`\n== ${name}`)
  const { status } = spawnSync(program, args, {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  })
  if (status !== 0) {
    console.error(`${name} failed`)
    failed = true
  }
}

node('scripts/build.mjs')
mkdirSync(join(root, 'test-results'), { recursive: true })
step('format', bin('prettier'), ['--check', '.', '--log-level', 'warn'])
step('lint', bin('eslint'), ['.', '--max-warnings', '0'])
step('types', bin('tsc'), ['-p', '.'])
step('types of core', bin('tsc'), ['-p', 'packages/core'])
const unit = join(root, '.cache/unit.json')
const web = join(root, '.cache/browser.json')
step('unit tests', bin('vitest'), [
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${unit}`,
])
step('browser tests', bin('playwright'), ['test', '--reporter=list,json'], {
  CHROMIUM_PATH: browser,
  PLAYWRIGHT_JSON_OUTPUT_NAME: web,
})

const read = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined)
const u = read(unit)
const w = read(web)?.stats
const passed = (u?.numPassedTests ?? 0) + (w?.expected ?? 0)
const bad = (u?.numFailedTests ?? 0) + (w ? w.unexpected + w.flaky : 0)
console.log(`\n${passed} passed, ${bad + (failed && bad === 0 ? 1 : 0)} failed`)
process.exit(failed ? 1 : 0)
