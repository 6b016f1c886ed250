/** `npm run backup -- TO`, `npm run backup -- --check FOLDER`, `npm run restore -- FROM`. */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { installPackages, node, root } from './setup.mjs'

installPackages()
node('scripts/build.mjs', '--no-web')
const program = join(root, 'dist/node/backup.js')
process.exitCode =
  spawnSync(process.execPath, [program, ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1
