/**
 * Kills a server and backups again and again and looks for losses: `npm run endure -- [KILLS] [SEED]`; the same for
 * the log of versions, server and browser: `npm run endure -- log [KILLS] [SEED]`, and for files that are being made, by
 * the server and by the shell: `npm run endure -- deliveries [KILLS] [SEED]`.
 */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { node, root } from './setup.mjs'
import { load } from './bundle.mjs'

const what = ['log', 'deliveries'].find((word) => word === process.argv[2])
const log = what === 'log'
const numbers = process.argv.slice(what ? 3 : 2).map(Number)
const [kills = log ? 200 : 100, seed = Date.now() % 1e6] = numbers
console.log(`seed ${seed}`)
if (log) {
  node('scripts/build.mjs')
  const { endureLog } = await load('packages/server/test/endureLog.ts')
  const { changes, median, ...of } = await endureLog(kills, kills * 5, seed)
  console.log(
    `${of.kills} kills of the server in ${changes} changes: none acknowledged was lost or doubled; ` +
      `acknowledged after ${median.toFixed(1)} ms in the middle`,
  )
  const { endureBrowser } = await load('packages/server/test/endureBrowser.ts')
  const args = JSON.parse(readFileSync(join(root, 'scripts/chromium.json'), 'utf8'))
  const found = await endureBrowser(Math.ceil(kills / 4), seed, args, (line) => console.log(line))
  const lost = found.lost.length ? `, made ${found.lost.join(', ')} ms before` : ''
  console.log(
    `${found.kills} kills of the browser in ${found.changes} changes: ${found.brought} came back from it, ` +
      `${found.lost.length} lost${lost}`,
  )
} else if (what === 'deliveries') {
  node('scripts/build.mjs', '--no-web')
  const { endureServer, endureShell } = await load('packages/server/test/endureDeliveries.ts')
  for (const [who, endure] of [
    ['the server', endureServer],
    ['the shell', endureShell],
  ]) {
    const of = await endure(kills, seed)
    console.log(
      `${of.kills} kills of ${who} in ${of.batches} batches: all ${of.files} files whole, none made twice, none missing`,
    )
  }
} else {
  node('scripts/build.mjs', '--no-web')
  const { endure } = await load('packages/server/test/endure.ts')
  const { kills: done, ...counts } = await endure(kills, seed, (line) => console.log(line))
  const said = Object.entries(counts).map(([what, n]) => `${n} ${what}`)
  console.log(`${done} kills, nothing acknowledged was lost (${said.join(', ')})`)
}
