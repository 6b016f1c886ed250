import { FINDABLE, readDevelopment, type FindWish } from '@dunkelkammer/core'
import { encodeGrey } from '@dunkelkammer/engine/encode'
import { builtEngineFiles, createEngine, shippedLens } from '@dunkelkammer/engine/node'
import { parseArgs } from 'node:util'
import { notFound, sentence, usage } from './failure'
import { openFile } from './openFile'
import { print } from './output'
import { refuseExisting, writeResult } from './result'
import { readSettings } from './settings'

const OPTIONS = {
  to: { type: 'string' },
  settings: { type: 'string' },
  area: { type: 'string' },
  find: { type: 'string' },
  'long-edge': { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

const USE =
  'Use: mask FILE (--settings FILE.json --area N | --find WHAT) --to MASK.png [--long-edge N] [--overwrite].'

/** What is near and what is far, of all distances. */
const NEAR = { from: 0, to: 0.35 } as const
const FAR = { from: 0.6, to: 1 } as const
const WISHES = [...FINDABLE, 'near', 'far'] as const
type Wish = (typeof WISHES)[number]
/** How sure the order of near and far must be. */
const SURE = 0.1

const shapeOf = (wish: Wish) =>
  wish === 'near' || wish === 'far'
    ? { id: wish, kind: 'distance' as const, ...(wish === 'near' ? NEAR : FAR) }
    : { id: wish, kind: 'found' as const, what: wish }

/** @throws Failure 2 where the words make no sense */
function readOrders(args: string[]) {
  let parsed
  try {
    parsed = parseArgs({ args, allowPositionals: true, options: OPTIONS })
  } catch (error) {
    throw usage(sentence((error as Error).message.split('.')[0]))
  }
  const { values, positionals } = parsed
  const [file] = positionals
  const { find, to } = values
  const wish = WISHES.find((w) => w === find)
  if (positionals.length !== 1 || !to) throw usage(USE)
  if (find !== undefined && !wish) throw usage(`--find: One of ${WISHES.join(', ')}.`)
  if (!wish === !(values.settings && values.area) || (wish && (values.settings || values.area)))
    throw usage(USE)
  const whole = (name: 'area' | 'long-edge', most: number) => {
    const text = values[name]
    if (text === undefined) return undefined
    const number = Number(text)
    if (!Number.isInteger(number) || number < 1 || number > most)
      throw usage(`--${name}: A whole number from 1 to ${most}.`)
    return number
  }
  return {
    ...{ file, wish, to, overwrite: !!values.overwrite, settings: values.settings },
    ...{ area: whole('area', 1000), longEdge: whole('long-edge', 65_535) },
  }
}

/** A development, what was painted for it, and which of its areas is wanted; of a wish, one with that alone. */
async function readArea({ wish, settings, area }: ReturnType<typeof readOrders>) {
  if (wish) {
    const areas = [{ id: 'found', mask: { shapes: [shapeOf(wish)] } }]
    return {
      ...{ development: readDevelopment({ steps: { areas: { areas } } }), index: 0 },
      bulk: new Map<string, Uint8Array>(),
    }
  }
  const read = await readSettings(settings!)
  const { areas } = read.development.steps.areas
  if (area! > areas.length)
    throw usage(
      `--area: There ${areas.length === 1 ? 'is 1 area' : `are ${areas.length} areas`} in ${settings}.`,
    )
  return { ...read, index: area! - 1 }
}

/** @throws Failure 5 where what is wished for is not in the picture */
async function lookFor(wish: Wish, file: string, look: (what: FindWish) => Promise<number>): Promise<void> {
  if (wish !== 'near' && wish !== 'far') {
    if ((await look({ kind: 'found', what: wish })) === 0) throw notFound(file, `No ${wish} was found.`)
  } else if ((await look({ kind: 'distance' })) < SURE)
    throw notFound(file, 'Near and far cannot be told apart.')
}

/** Writes the mask of an area, counted from 1, or of what is found in the picture, on the frame as 8-bit grey. */
export async function mask(args: string[]): Promise<void> {
  const orders = readOrders(args)
  const { file, wish, to, overwrite, longEdge } = orders
  const { development, bulk, index } = await readArea(orders)
  refuseExisting(to, overwrite)
  const engine = createEngine(builtEngineFiles())
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  engine.lensSource = (wished) => Promise.resolve(shippedLens(wished))
  try {
    const picture = await openFile(engine, file)
    if (wish) await lookFor(wish, file, (what) => picture.ask('found', development, what))
    const drawn = await picture.ask('mask', development, index, longEdge)
    await writeResult(to, await encodeGrey(drawn), overwrite)
    print(to)
  } finally {
    engine.stop()
  }
}
