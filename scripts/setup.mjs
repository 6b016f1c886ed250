/** Installs the packages where they are missing or older than the lock file. Works with nothing but Node and npm. */
import { execFileSync } from 'node:child_process'
import { existsSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

export const root = fileURLToPath(new URL('..', import.meta.url))

/** Runs a program and passes its output through; throws where it fails. */
export const run = (program, args, options = {}) =>
  execFileSync(program, args, { cwd: root, stdio: 'inherit', ...options })

export const node = (...args) => run(process.execPath, args)

export function installPackages() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Dunkelkammer needs Node 20.19 or newer; this is ${process.versions.node}.`)
    process.exit(1)
  }
  const done = join(root, 'node_modules/.package-lock.json')
  const lock = join(root, 'package-lock.json')
  if (existsSync(done) && statSync(done).mtimeMs >= statSync(lock).mtimeMs - 1000) return
  console.log('installing packages')
  // not `npm ci`: it wants binaries for every platform in the lock file, also those the registry does not have
  run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'])
}
