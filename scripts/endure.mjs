/** Kills a server and backups again and again and looks for losses: `npm run endure -- [KILLS] [SEED]`. */
import { node } from './setup.mjs'
import { load } from './bundle.mjs'

node('scripts/build.mjs', '--no-web')
const [kills = 100, seed = Date.now() % 1e6] = process.argv.slice(2).map(Number)
const { endure } = await load('packages/server/test/endure.ts')
console.log(`seed ${seed}`)
const { kills: done, ...counts } = await endure(kills, seed, (line) => console.log(line))
const said = Object.entries(counts).map(([what, n]) => `${n} ${what}`)
console.log(`${done} kills, nothing acknowledged was lost (${said.join(', ')})`)
