import { encodeGrey } from '@dunkelkammer/engine/encode'
import { builtEngineFiles, createEngine, shippedLens } from '@dunkelkammer/engine/node'
import { parseArgs } from 'node:util'
import { sentence, usage } from './failure'
import { openFile } from './openFile'
import { print } from './output'
import { refuseExisting, writeResult } from './result'
import { readSettings } from './settings'

const OPTIONS = {
  to: { type: 'string' },
  settings: { type: 'string' },
  area: { type: 'string' },
  'long-edge': { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

const USE = 'Use: mask FILE --settings FILE.json --area N --to MASK.png [--long-edge N] [--overwrite].'

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
  if (positionals.length !== 1 || !values.settings || !values.area || !values.to) throw usage(USE)
  const whole = (name: 'area' | 'long-edge', most: number) => {
    const text = values[name]
    if (text === undefined) return undefined
    const number = Number(text)
    if (!Number.isInteger(number) || number < 1 || number > most)
      throw usage(`--${name}: A whole number from 1 to ${most}.`)
    return number
  }
  return {
    ...{ file, settings: values.settings, to: values.to, overwrite: !!values.overwrite },
    ...{ area: whole('area', 1000)!, longEdge: whole('long-edge', 65_535) },
  }
}

/** Writes the mask of an area, counted from 1, on the frame as 8-bit grey. */
export async function mask(args: string[]): Promise<void> {
  const { file, settings, to, overwrite, area, longEdge } = readOrders(args)
  const { development, bulk } = await readSettings(settings)
  const { areas } = development.steps.areas
  if (area > areas.length)
    throw usage(
      `--area: There ${areas.length === 1 ? 'is 1 area' : `are ${areas.length} areas`} in ${settings}.`,
    )
  refuseExisting(to, overwrite)
  const engine = createEngine(builtEngineFiles())
  engine.bulkSource = (name) => Promise.resolve(bulk.get(name)!)
  engine.lensSource = (wish) => Promise.resolve(shippedLens(wish))
  try {
    const picture = await openFile(engine, file)
    const drawn = await picture.ask('mask', development, area - 1, longEdge)
    await writeResult(to, await encodeGrey(drawn), overwrite)
    print(to)
  } finally {
    engine.stop()
  }
}
