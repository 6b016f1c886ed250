/** Damaged files of every kind, by upload and through the shell: `npm run fuzz:files -- [FILES] [FIRST SEED]`. */
import { node } from './setup.mjs'
import { load } from './bundle.mjs'

node('scripts/build.mjs', '--no-web')
const [count = 1000, first = Date.now() % 1e6] = process.argv.slice(2).map(Number)
const { feedDamaged } = await load('packages/server/test/damagedFiles.ts')
const { files, taken, refused, largestMb, slowestMs } = await feedDamaged(count, first)
console.log(
  `${files} files from seed ${first}: ${taken} taken, ${refused} refused, none broke anything; ` +
    `the server took ${Math.round(largestMb)} MB at most, the slowest ${Math.round(slowestMs)} ms`,
)
