import {
  appliedAt,
  PresetError,
  readPresetText,
  withPortion,
  type Development,
  type FoundAnew,
} from '@dunkelkammer/core'
import { randomUUID } from 'node:crypto'
import { unreadable, usage } from './failure'
import { readInput } from './read'

/** A preset's file, and how far it is applied, 0 to 1.5. */
export interface PresetOrder {
  file: string
  strength: number
}

interface Token {
  kind: string
  name?: string
  value?: string | boolean
}

/** The presets in the order in which they are named, each with the strength after it. @throws Failure 2 */
export function readPresetOrders(tokens: readonly Token[]): PresetOrder[] {
  const out: PresetOrder[] = []
  for (const { name, value } of tokens) {
    if (name === 'preset') out.push({ file: String(value), strength: 1 })
    if (name !== 'strength') continue
    const percent = Number(value)
    const last = out.at(-1)
    if (!last) throw usage('--strength: It follows the preset that it is for.')
    if (!value || !(percent >= 0 && percent <= 150))
      throw usage('--strength: A number from 0 to 150, in per cent.')
    last.strength = percent / 100
  }
  return out
}

interface Given {
  development: Development
  bulk: Map<string, Uint8Array>
}

/**
 * Settings with presets applied one after the other. What a preset holds that is not known is said, the rest done.
 * @returns also what they want found in each picture
 * @throws Failure 3 where a file is no preset
 */
export async function withPresets(
  given: Given,
  orders: readonly PresetOrder[],
): Promise<Given & { automatic: FoundAnew[] }> {
  const bulk = new Map(given.bulk)
  const automatic: FoundAnew[] = []
  let { development } = given
  for (const { file, strength } of orders) {
    const { preset, leftOut, bulk: pieces } = await readFile(file)
    for (const sentence of leftOut) console.error(`${file}: ${sentence}`)
    for (const [name, bytes] of pieces) bulk.set(name, bytes)
    const by = appliedAt(preset, strength)
    development = withPortion(development, preset.portion, by, () => randomUUID())
    if (by > 0) automatic.push(...preset.portion.automatic)
  }
  return { development, bulk, automatic }
}

async function readFile(file: string) {
  const text = new TextDecoder().decode(await readInput(file))
  try {
    return readPresetText(text)
  } catch (error) {
    if (error instanceof PresetError) throw unreadable(file, error.message)
    throw error
  }
}
