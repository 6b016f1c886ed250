/**
 * `npm run bench`: prints how fast and how large, beside anchors measured in the same run, and with `npm run bench --
 * quality` how close to the truth instead (names of tables after it print those alone, `--pictures FOLDER` lets
 * photographs join the scenes), with `-- sheet` the rows of the contact sheet alone, with `-- import` those of the bench
 * while a card comes in, with `-- controls` each control of tone
 * and colour, with `-- square` what squaring up costs, with `-- refine` what refining costs and gains, with `-- history`
 * what a long history costs, with `-- hand` zooming, panning and many changes of frame, with `-- browser` opening a frame
 * in the page,
 * with `-- mend` what patches cost and how close healing, filling and removing wires come to the truth (`--pictures
 * FOLDER` keeps what was filled as raw RGB), with `-- areas` what areas cost and how well strokes follow edges, with
 * `-- many` settings for many frames, previews of presets, matching and rebuilding (`--times`, `--match`,
 * `--rebuild` one of these alone), with
 * `-- deliver` what files cost by size, enlarged, linear and in a batch, with `-- elsewhere` how files of other
 * writers come out (`--python FILE` runs their maker, `--all` lists all), with
 * `-- find` how well the sky is found and what finding costs (`--times` that alone; truths are rendered once, for
 * minutes).
 */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { cpus } from 'node:os'
import { projectRoot } from '../src/paths'
import { readDng } from '@dunkelkammer/core'
import { browserRows } from './browser'
import { deliverTable, measureDelivery } from './deliver'
import { elsewhereTable } from './elsewhere'
import { benchControlRows, controlRows } from './controls'
import { handRows } from './hand'
import { historyRows } from './history'
import { table } from './measure'
import { areaRows } from './areas'
import { findRows, skyTable } from './find'
import { alikeTable, handRows as findByHandRows, regionTable } from './findByHand'
import { manyRows } from './many'
import { matchTable } from './match'
import { rebuildTable } from './rebuild'
import { healingTable, mendRows } from './mend'
import { fillTable, wireTable } from './fill'
import { nodeRows, peakOf } from './node'
import { qualityReport } from './quality/report'
import { noiseTable, refineRows } from './refine'
import { strokeTable } from './strokes'
import { importRows, sheetRows } from './sheet'
import { benchSquareRows, lensRows, squareRows } from './square'
import { builtEngineFiles, createEngine } from '../src/node'
import { syntheticDng } from './synthetic'

const root = projectRoot()
const file = join(root, '.cache/bench-24mp.dng')

const [, , child] = process.argv
if (child === 'edit' || child === 'export') {
  console.log(await peakOf(child, file))
  process.exit(0)
}

if (child === 'deliver-one') {
  const [, , , path, name, frames] = process.argv
  console.log(JSON.stringify(await measureDelivery(path, name as 'jpeg', Number(frames))))
  process.exit(0)
}

if (!existsSync(file)) {
  console.error('making the 24-megapixel file')
  const demo = readFileSync(join(root, 'packages/demo/frames/HM0417.dng'))
  const { offset, length, width, height } = readDng(demo).preview!
  mkdirSync(join(root, '.cache'), { recursive: true })
  writeFileSync(file, syntheticDng({ jpeg: demo.subarray(offset, offset + length), width, height }))
}
const memory = (work: string) =>
  Number(spawnSync(process.execPath, [process.argv[1], work], { encoding: 'utf8' }).stdout)

/** What follows an option on the command line. */
const after = (option: string) => {
  const at = process.argv.indexOf(option)
  return at < 0 ? undefined : process.argv[at + 1]
}

if (process.argv.includes('quality')) {
  const engine = createEngine(builtEngineFiles())
  const folder = after('--pictures')
  const only = process.argv.slice(3).filter((word) => !word.startsWith('--') && word !== folder)
  for await (const table of qualityReport(engine, folder, only)) console.log(table)
  process.exit(0)
}

if (process.argv.includes('deliver')) {
  console.log(await deliverTable(file))
  process.exit(0)
}

if (process.argv.includes('elsewhere')) {
  console.log(await elsewhereTable(after('--python') ?? 'python3', process.argv.includes('--all')))
  process.exit(0)
}

if (process.argv.includes('controls')) {
  console.log(table([...(await benchControlRows(file)), ...(await controlRows(file))]))
  process.exit(0)
}

if (process.argv.includes('refine')) {
  console.log(table(await refineRows(file)))
  console.log(await noiseTable(createEngine(builtEngineFiles())))
  process.exit(0)
}

if (process.argv.includes('square')) {
  console.log(table([...(await squareRows(file)), ...(await lensRows()), ...(await benchSquareRows(file))]))
  process.exit(0)
}

if (process.argv.includes('hand')) {
  const { rows, peaks } = await handRows(file)
  console.log(table(rows))
  console.log(
    `\npage after 0, 50, 100, 150 and 200 changes of frame, peak MB: ${peaks.map(Math.round).join(', ')}`,
  )
  process.exit(0)
}

if (process.argv.includes('areas')) {
  console.log(`${await strokeTable()}\n`)
  console.log(table(await areaRows(file)))
  process.exit(0)
}

if (process.argv.includes('find')) {
  const wants = (what: string) =>
    (!process.argv.includes('--times') && !process.argv.includes('--by-hand')) || process.argv.includes(what)
  if (wants('--sky')) for await (const row of skyTable()) console.log(row)
  if (wants('--by-hand')) {
    for await (const row of alikeTable()) console.log(row)
    for await (const row of regionTable()) console.log(row)
  }
  if (wants('--times')) console.log(table([...(await findRows(file)), ...(await findByHandRows(file))]))
  process.exit(0)
}

if (process.argv.includes('mend')) {
  console.log(`${await healingTable()}\n`)
  console.log(table(await mendRows(file)))
  console.log(`\n${await fillTable(after('--pictures'))}\n`)
  console.log(await wireTable())
  process.exit(0)
}

if (process.argv.includes('history')) {
  console.log(table(await historyRows()))
  process.exit(0)
}

if (process.argv.includes('many')) {
  const wants = (part: string) =>
    process.argv.includes(part) || !['--times', '--match', '--rebuild'].some((p) => process.argv.includes(p))
  if (wants('--match')) console.log(`${await matchTable(createEngine(builtEngineFiles()))}\n`)
  if (wants('--rebuild')) console.log(`${await rebuildTable()}\n`)
  if (wants('--times')) console.log(table(await manyRows(file)))
  process.exit(0)
}

if (process.argv.includes('sheet')) {
  console.log(table(await sheetRows()))
  process.exit(0)
}

if (process.argv.includes('browser')) {
  console.log(table((await browserRows(file)).rows))
  process.exit(0)
}

if (process.argv.includes('import')) {
  console.log(table(await importRows(file)))
  process.exit(0)
}

console.error('Node')
const rows = await nodeRows(file)
console.error('memory')
const [edit, deliver] = [memory('edit'), memory('export')]
console.error('browser')
const browser = await browserRows(file)
console.error('contact sheet')
const sheet = [...(await sheetRows()), ...(await importRows(file))]

console.log(
  `${cpus().length} x ${cpus()[0].model}, Node ${process.versions.node}; medians of at least 5 unless p95\n`,
)
console.log(table([...browser.rows, ...sheet, ...rows]))
const size = (what: string, mb: number, budget: number) =>
  `| ${what} | ${mb.toFixed(0)} | ${budget} | ${mb <= budget ? 'met' : 'not met'} |`
console.log(
  [
    '\n| peak resident memory, 24 MP | MB | budget | |',
    '|---|--:|--:|---|',
    size('editing, the page’s process in Chromium', browser.peak, 1200),
    size('editing, Node', edit, 1200),
    size('exporting a JPEG, Node', deliver, 1500),
  ].join('\n'),
)
process.exit(0)
