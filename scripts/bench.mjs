/** `npm run bench`: builds what is missing and measures. */
import { installPackages, node } from './setup.mjs'

installPackages()
node('scripts/build.mjs')
node('dist/node/bench.js')
