import { DeliverySchema, readDevelopment, type Delivery, type DeliveryInput } from '@dunkelkammer/core'
import { execFile } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { availableParallelism, tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { promisify } from 'node:util'
import { FileJournal, makeFiles, type Part } from '../src/deliveries'
import { builtEngineFiles, createEngine, type Engine } from '../src/node'
import { syntheticDng } from './synthetic'

/** Frames of a batch: enough that its ends do not count, few enough to wait for. */
const BATCH = 20
const MEGAPIXELS = [6, 24, 96] as const

const DELIVERIES = {
  jpeg: { format: { kind: 'jpeg', quality: 90 } },
  tiff: { format: { kind: 'tiff' } },
  dng: { format: { kind: 'dng' } },
  // 16 times the pixels, at 16 bits
  enlarged: { format: { kind: 'tiff' }, size: { by: 'percent', percent: 400, enlarge: true } },
} as const satisfies Record<string, Partial<DeliveryInput>>
type Named = keyof typeof DELIVERIES

interface Measured {
  /** Of each file, milliseconds. */
  ms: number
  /** Peak resident memory, MB. */
  peak: number
  bytes: number
}

/**
 * Makes files of copies of a frame, as a job does, in this process.
 * @param frames how many; of several one is made before, which does not count
 */
export async function measureDelivery(file: string, name: Named, frames: number): Promise<Measured> {
  const engine = createEngine(builtEngineFiles())
  try {
    if (frames > 1) await deliverCopies(engine, file, name, 1)
    const began = performance.now()
    const bytes = await deliverCopies(engine, file, name, frames)
    const ms = (performance.now() - began) / frames
    return { ms, peak: process.resourceUsage().maxRSS / 1024, bytes }
  } finally {
    engine.stop()
  }
}

/** @returns bytes of a file */
async function deliverCopies(engine: Engine, file: string, name: Named, frames: number): Promise<number> {
  const folder = mkdtempSync(join(tmpdir(), 'dunkelkammer-deliver-'))
  const delivery: Delivery = DeliverySchema.parse({ ...DELIVERIES[name], fileName: name })
  const journal = FileJournal.open(join(folder, 'journal'), '', () =>
    Array.from({ length: frames }, (_, number): Part => ({
      ...{ number, frame: String(number), delivery: 0, state: 'waiting' },
    })),
  )
  const facts = { name: 'a', shoot: '', version: '', stars: 0 }
  const development = readDevelopment({})
  await makeFiles({
    ...{ journal, deliveries: [delivery], signal: new AbortController().signal },
    frame: () => ({
      ...{ facts, development, original: file, originalName: 'a.dng' },
      open: (at) => at.open(new Uint8Array(readFileSync(file))),
      metadata: (original) => original,
    }),
    frames: journal.parts().map((p) => p.frame),
    profile: () => Promise.reject(new Error('no profile is needed')),
    folder: () => folder,
    engine: () => engine,
    sentence: String,
    onPart({ state, message }) {
      if (state === 'failed') throw new Error(`a file was not made: ${message}`)
    },
  })
  const { bytes = 0 } = journal.parts()[0]
  rmSync(folder, { recursive: true })
  return bytes
}

/** The same in a process of its own. @param core the only one that it may use, all where missing */
async function apart(file: string, name: Named, frames = 1, core?: number): Promise<Measured> {
  const own = [process.execPath, process.argv[1], 'deliver-one', file, name, String(frames)]
  const [command, ...args] = core === undefined ? own : ['taskset', '-c', String(core), ...own]
  const { stdout } = await promisify(execFile)(command, args)
  return JSON.parse(stdout) as Measured
}

/** A synthetic frame of so many megapixels, made once. */
function frameOf(file: string, megapixels: number): string {
  if (megapixels === 24) return file
  const path = join(dirname(file), `bench-${megapixels}mp.dng`)
  const height = Math.round(Math.sqrt((megapixels * 1e6) / 1.5) / 128) * 128
  const size = { width: height * 1.5, height }
  const preview = { jpeg: new Uint8Array([0xff, 0xd8, 0xff, 0xd9]), width: 8, height: 8 }
  if (!existsSync(path)) writeFileSync(path, syntheticDng(preview, size))
  return path
}

const seconds = (ms: number) => (ms / 1000).toFixed(2)

/** What deliveries take: time and memory by size, enlarged, linear, and in a batch. */
export async function deliverTable(file: string): Promise<string> {
  const rows: string[][] = []
  const cores = availableParallelism()
  const one = await apart(file, 'jpeg')
  for (const megapixels of MEGAPIXELS) {
    const { ms, peak } = megapixels === 24 ? one : await apart(frameOf(file, megapixels), 'jpeg')
    rows.push([
      `JPEG of ${megapixels} MP`,
      seconds(ms),
      peak.toFixed(0),
      `${(peak / megapixels).toFixed(1)} MB a MP`,
    ])
  }
  const tiff = await apart(file, 'tiff')
  rows.push(['TIFF of 24 MP, 16 bit', seconds(tiff.ms), tiff.peak.toFixed(0), ''])
  const dng = await apart(file, 'dng')
  const share = `${(dng.ms / one.ms).toFixed(2)} times the JPEG’s time, ${(dng.bytes / statSync(file).size).toFixed(2)} times the original’s bytes`
  rows.push(['linear DNG of 24 MP', seconds(dng.ms), dng.peak.toFixed(0), share])
  const single = await apart(file, 'jpeg', 5, 0)
  const batch = await apart(file, 'jpeg', BATCH)
  const rate = single.ms / batch.ms / cores
  rows.push(['JPEG of 24 MP, on one core', seconds(single.ms), single.peak.toFixed(0), ''])
  rows.push([
    `${BATCH} JPEGs of 24 MP, each`,
    seconds(batch.ms),
    batch.peak.toFixed(0),
    `${(rate * 100).toFixed(0)} % of ${cores} cores times one`,
  ])
  // what the cores give each other's neighbours: no program could do better with both
  const each = await Promise.all(Array.from({ length: cores }, (_, core) => apart(file, 'jpeg', 6, core)))
  const beside = each.reduce((sum, { ms }) => sum + ms, 0) / cores
  rows.push([
    `the same by ${cores} processes on a core each`,
    seconds(beside / cores),
    Math.max(...each.map((m) => m.peak)).toFixed(0),
    `${((single.ms / beside) * 100).toFixed(0)} % of ${cores} cores times one`,
  ])
  const enlarged = await apart(file, 'enlarged')
  rows.push(['TIFF enlarged 4 x, 16 bit', seconds(enlarged.ms), enlarged.peak.toFixed(0), ''])
  return ['| what | s | peak MB | |', '|---|--:|--:|---|', ...rows.map((r) => `| ${r.join(' | ')} |`)].join(
    '\n',
  )
}
