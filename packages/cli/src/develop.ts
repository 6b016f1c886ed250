import {
  METADATA,
  DeliverySchema,
  FILE_FORMATS,
  FORMAT_KINDS,
  FOUND_ANEW,
  type Delivery,
  type FormatKind,
  type FoundAnew,
} from '@dunkelkammer/core'
import { carried, deliverFile } from '@dunkelkammer/engine/encode'
import {
  builtEngineFiles,
  createEngine,
  foundAnew,
  lightOf,
  matchLight,
  shippedLens,
  withLight,
  type PictureLight,
} from '@dunkelkammer/engine/node'
import { existsSync, statSync } from 'node:fs'
import { basename, extname, join } from 'node:path'
import { Failure, reasonOf, usage } from './failure'
import { print } from './output'
import { carriedXmp, metadataWith } from '@dunkelkammer/engine/words'
import { openFile, openWithWords } from './openFile'
import { makeResult, refuseExisting } from './result'
import { readPresetOrders, withPresets, type PresetOrder } from './presets'
import { inWords, readSettings } from './settings'
import { readWords } from './words'

const OPTIONS = {
  to: { type: 'string' },
  settings: { type: 'string' },
  auto: { type: 'string' },
  match: { type: 'string' },
  preset: { type: 'string', multiple: true },
  strength: { type: 'string', multiple: true },
  format: { type: 'string' },
  bits: { type: 'string' },
  space: { type: 'string' },
  'long-edge': { type: 'string' },
  quality: { type: 'string' },
  compression: { type: 'string' },
  carry: { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

interface Orders {
  files: string[]
  to: string
  toFolder: boolean
  delivery: Delivery
  overwrite: boolean
  settings?: string
  /** What is set from each picture. */
  auto: FoundAnew[]
  /** The file that exposure and white of all are matched to. */
  match?: string
  /** Applied in this order. */
  presets: PresetOrder[]
}

const ENDINGS: Readonly<Record<string, FormatKind>> = {
  '.jpg': 'jpeg',
  '.jpeg': 'jpeg',
  '.png': 'png',
  '.tif': 'tiff',
  '.tiff': 'tiff',
  '.webp': 'webp',
  '.avif': 'avif',
  '.dng': 'dng',
}

/** Words that say more of a format. */
const KNOWN: Partial<Record<FormatKind, readonly string[]>> = {
  jpeg: ['quality'],
  webp: ['quality'],
  avif: ['quality'],
  png: ['bits'],
  tiff: ['bits', 'compression'],
}

/** @throws Failure 2 where the words make no sense */
function readOrders(args: string[]): Orders {
  const parsed = readWords({ args, allowPositionals: true, tokens: true, options: OPTIONS })
  const { values, positionals: files } = parsed
  if (files.length === 0) throw usage('Use: develop FILE… --to PATH-OR-DIR [options].')
  if (!values.to) throw usage('--to is missing: say where the result goes.')
  const toFolder = /[/\\]$/.test(values.to) || (existsSync(values.to) && statSync(values.to).isDirectory())
  if (files.length > 1 && !toFolder) throw usage('--to must be a folder for more than one file.')
  const ending = toFolder ? undefined : ENDINGS[extname(values.to).toLowerCase()]
  const format = values.format ?? ending ?? (toFolder ? 'jpeg' : undefined)
  if (!format) throw usage(`--format is missing, and the ending of ${values.to} does not tell it.`)
  if (ending && ending !== format)
    throw usage(`--format ${format} does not go with the name ${basename(values.to)}.`)
  const number = (text: string | undefined) => (text === undefined ? undefined : Number(text))
  const deep =
    format === 'tiff' || (format === 'png' && ['linear-rec2020', 'camera'].includes(values.space ?? ''))
  const kinds = FORMAT_KINDS.filter((k) => ['picture', 'light'].includes(FILE_FORMATS[k].holds))
  const kind = kinds.find((k) => k === format)
  if (!kind) throw usage(`--format: One of ${kinds.join(', ')}.`)
  const result = DeliverySchema.safeParse({
    format: formatFrom(kind, {
      bits: number(values.bits) ?? (deep ? 16 : undefined),
      quality: number(values.quality),
      compression: values.compression,
    }),
    space: values.space,
    size:
      values['long-edge'] === undefined
        ? undefined
        : { by: 'long edge', pixels: number(values['long-edge']) },
    metadata: readCarry(values.carry),
  })
  if (!result.success) {
    const issue = result.error.issues[0]
    const name = String(issue.path.at(-1)).replace('pixels', 'long-edge')
    throw usage(`--${name}: ${inWords(issue)}`)
  }
  return {
    files,
    to: values.to,
    toFolder,
    delivery: result.data,
    overwrite: !!values.overwrite,
    settings: values.settings,
    auto: readAutos(values.auto),
    match: values.match,
    presets: readPresetOrders(parsed.tokens),
  }
}

/** What goes along beside the picture. @throws Failure 2 where it is none of what there is */
function readCarry(text: string | undefined): Delivery['metadata'] | undefined {
  if (text === undefined) return undefined
  const words = METADATA.map((m) => m.replace(' ', '-'))
  const at = words.indexOf(text)
  if (at < 0) throw usage(`--carry: One of ${words.join(', ')}.`)
  return METADATA[at]
}

/** A file's format with those of the words that it knows. @throws Failure 2 where it does not know one that was given */
function formatFrom(kind: FormatKind, given: Record<string, unknown>): unknown {
  const known = Object.entries(given).filter(([, v]) => v !== undefined)
  const words = KNOWN[kind] ?? []
  // a JPEG's quality has been allowed with any format, and still is
  const foreign = known.find(([name]) => name === 'bits' && !words.includes(name))
  if (foreign && foreign[1] !== 8) throw usage(`--bits: ${FILE_FORMATS[kind].label} has 8 bits.`)
  return { kind, ...Object.fromEntries(known.filter(([name]) => words.includes(name))) }
}

/** @throws Failure 2 where one of them is unknown */
function readAutos(text: string | undefined): FoundAnew[] {
  if (text === undefined) return []
  return text.split(',').map((name) => {
    const known = FOUND_ANEW.find((a) => a === name.trim())
    if (!known) throw usage(`--auto: Some of ${FOUND_ANEW.join(', ')}, with commas between them.`)
    return known
  })
}

/** Develops files one after the other and prints the path of each result. */
export async function develop(args: string[]): Promise<void> {
  const orders = readOrders(args)
  const given = await withPresets(await readSettings(orders.settings), orders.presets)
  const { bulk } = given
  const automatic = [...given.automatic, ...orders.auto]
  const engine = createEngine(builtEngineFiles())
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
  let failed: Failure | undefined
  try {
    const to = orders.match === undefined ? undefined : await lightIn(orders.match)
    for (const file of orders.files) {
      try {
        print(await one(file, to))
      } catch (error) {
        if (failed) console.error(failed.message)
        failed = error instanceof Failure ? error : new Failure(1, `${file}: ${reasonOf(error)}`)
      }
    }
  } finally {
    engine.stop()
  }
  if (failed) throw failed

  async function lightIn(file: string): Promise<PictureLight> {
    const picture = await openFile(engine, file)
    try {
      const { development } = await foundAnew(picture, given.development, automatic)
      return await lightOf(picture, development)
    } finally {
      engine.close(picture)
    }
  }

  async function one(file: string, light: PictureLight | undefined): Promise<string> {
    const { to, toFolder, delivery, overwrite } = orders
    const name = basename(file, extname(file)) + FILE_FORMATS[delivery.format.kind].ending
    const target = toFolder ? join(to, name) : to
    refuseExisting(target, overwrite)
    const { picture, said } = await openWithWords(engine, file)
    try {
      const { development: found } = await foundAnew(picture, given.development, automatic)
      const chosen = light ? withLight(found, matchLight(light, await lightOf(picture, found))) : found
      const metadata = carried(metadataWith(picture.frame.metadata, said.words), delivery.metadata)
      const xmp =
        delivery.metadata === 'nothing' ? undefined : carriedXmp(said, delivery.metadata === 'words')
      await makeResult(target, overwrite, (partial) =>
        deliverFile(picture, chosen, delivery, partial, { metadata, xmp }),
      )
    } finally {
      engine.close(picture)
    }
    return target
  }
}
