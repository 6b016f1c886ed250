/** `npm run bench`: builds what is missing and measures speed and memory; `npm run bench -- quality` closeness to truth. */
import { installPackages, node } from './setup.mjs'

installPackages()
node('scripts/build.mjs')
node('dist/node/bench.js', ...process.argv.slice(2))
