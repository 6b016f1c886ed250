import {
  DeliverySchema,
  MADE_BY,
  writeMadeBy,
  type Delivery,
  type Development,
  type FoundAnew,
} from '@dunkelkammer/core'
import {
  FileJournal,
  filesOf,
  isEnded,
  makeFiles,
  type FrameSource,
  type Part,
} from '@dunkelkammer/engine/deliveries'
import { builtEngineFiles, createEngine, foundAnew, shippedLens } from '@dunkelkammer/engine/node'
import { createHash } from 'node:crypto'
import { mkdirSync, statSync } from 'node:fs'
import { basename, dirname, extname, join, resolve } from 'node:path'
import { Failure, reasonOf, unreadable, unwritable, usage } from './failure'
import { openWithWords } from './openFile'
import { carriedXmp, metadataWith, type XmpWords } from '@dunkelkammer/engine/words'
import { print } from './output'
import { readPresetOrders, withPresets, type PresetOrder } from './presets'
import { progressLine } from './progressLine'
import { readInput } from './read'
import { RunLock } from './runLock'
import { inWords, readSettings } from './settings'
import { readWords } from './words'

const OPTIONS = {
  delivery: { type: 'string', multiple: true },
  preset: { type: 'string', multiple: true },
  strength: { type: 'string', multiple: true },
  settings: { type: 'string' },
  to: { type: 'string' },
} as const

interface Orders {
  files: string[]
  deliveries: string[]
  presets: PresetOrder[]
  settings?: string
  to: string
}

/** @throws Failure 2 where the words make no sense */
function readOrders(args: string[]): Orders {
  const parsed = readWords({ args, allowPositionals: true, tokens: true, options: OPTIONS })
  const { values, positionals: files } = parsed
  if (files.length === 0) throw usage('Use: deliver FILE… --delivery FILE.json --to DIR [options].')
  if (!values.delivery) throw usage('--delivery is missing: name a file that says what to make.')
  if (!values.to) throw usage('--to is missing: say where the files go.')
  return {
    files: files.map((file) => resolve(file)),
    deliveries: values.delivery,
    presets: readPresetOrders(parsed.tokens),
    settings: values.settings,
    to: resolve(values.to),
  }
}

/** @throws Failure 3 where a file is no delivery */
async function readDelivery(file: string): Promise<Delivery> {
  const text = new TextDecoder().decode(await readInput(file))
  let written: unknown
  try {
    written = JSON.parse(text)
  } catch {
    throw unreadable(file, 'This is not JSON.')
  }
  const result = DeliverySchema.safeParse(written)
  if (result.success) {
    const { space } = result.data
    if (typeof space === 'string') return result.data
    return { ...result.data, space: { ...space, profile: resolve(dirname(file), space.profile) } }
  }
  const [issue] = result.error.issues
  throw unreadable(file, `This is not a delivery. ${issue.path.join('.') || 'It'}: ${inWords(issue)}`)
}

/**
 * Makes the files of deliveries and prints the path of each. Interrupted, the same command goes on where it stopped;
 * what failed is tried again by it.
 */
export async function deliver(args: string[]): Promise<void> {
  const orders = readOrders(args)
  const deliveries = await Promise.all(orders.deliveries.map(readDelivery))
  const given = await withPresets(await readSettings(orders.settings), orders.presets)
  makeFolder(orders.to)
  const { files } = orders
  const order = { files, deliveries, development: given.development, automatic: given.automatic }
  const name = createHash('sha256').update(JSON.stringify(order)).digest('hex').slice(0, 16)
  const path = join(orders.to, `.deliver-${name}.journal`)
  const lock = RunLock.take(`${path}.lock`)
  try {
    await carryOut(orders, order, given.bulk, path)
  } finally {
    lock.release()
  }
}

function makeFolder(path: string): void {
  try {
    mkdirSync(path, { recursive: true })
    if (!statSync(path).isDirectory()) throw Object.assign(new Error(), { code: 'ENOTDIR' })
  } catch (error) {
    throw unwritable(path, reasonOf(error))
  }
}

async function carryOut(
  { to }: Orders,
  order: { files: string[]; deliveries: Delivery[]; development: Development; automatic: FoundAnew[] },
  bulk: ReadonlyMap<string, Uint8Array>,
  path: string,
): Promise<void> {
  const { files, deliveries, development, automatic } = order
  const journal = FileJournal.open(path, order, () =>
    filesOf(files.length, deliveries).map((part): Part => ({
      ...part,
      frame: files[part.frame],
      state: 'waiting',
    })),
  )
  for (const part of journal.parts().filter((p) => p.state === 'failed'))
    journal.set(part.number, { state: 'waiting', message: undefined })
  for (const { name } of deliveries.filter((d) => d.handOver))
    console.error(`“${name}”: the files are made; handing them over is left to the server.`)
  const engine = createEngine(builtEngineFiles())
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
  const bar = progressLine(journal.parts())
  let failed: Failure | undefined
  const source = (file: string): FrameSource => {
    // known once it has been opened
    let said: XmpWords = { words: {} }
    return {
      facts: { name: basename(file, extname(file)), shoot: basename(dirname(file)), version: '', stars: 0 },
      development,
      original: file,
      originalName: basename(file),
      async open(at) {
        const opened = await openWithWords(at, file)
        said = opened.said
        return opened.picture
      },
      found: (picture) => foundAnew(picture, development, automatic).then((found) => found.development),
      metadata: (original) => metadataWith(original, said.words),
      xmp({ name, metadata, keepSettings }, made) {
        if (metadata === 'nothing') return undefined
        const words = { delivery: name, version: '', development: made }
        const madeBy = keepSettings ? writeMadeBy(words, (of) => bulk.get(of)) : undefined
        const more = madeBy ? [MADE_BY.open + madeBy + MADE_BY.close] : []
        return carriedXmp(said, metadata === 'words', more)
      },
    }
  }
  try {
    await makeFiles({
      ...{ journal, deliveries, frames: files, signal: new AbortController().signal },
      frame: source,
      folder: (delivery) => join(to, delivery.place.subfolder),
      engine: () => engine,
      profile: (path) => readInput(path),
      sentence: (error) => (error instanceof Failure ? error.message : reasonOf(error)),
      onPart(part, share) {
        bar.show(part, share)
        if (!isEnded(part)) return
        bar.clear()
        if (part.state === 'done') print(part.file!)
        else {
          const text = part.message ?? 'It could not be made.'
          const said = text.startsWith(part.frame) ? text : `${part.frame}: ${text}`
          console.error(said)
          if (part.state === 'failed') failed = new Failure(1, '')
        }
      },
    })
  } finally {
    bar.clear()
    engine.stop()
    if (journal.parts().every((p) => p.state === 'done' || p.state === 'skipped')) journal.remove()
    else journal.close()
  }
  if (failed) throw failed
}
