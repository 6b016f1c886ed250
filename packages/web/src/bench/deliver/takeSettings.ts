import { madeByIn } from '@dunkelkammer/core'
import { keepBulk } from '../../desk/bulk'
import type { Bench } from '../state/types'

/** Gives the version on the bench the settings that a delivered file was made by. */
export async function takeSettings(bench: Bench, file: File): Promise<void> {
  let found
  try {
    found = madeByIn(new Uint8Array(await file.arrayBuffer()))
  } catch {
    return bench.say(`${file.name} cannot be read.`)
  }
  if (!found) return bench.say(`${file.name} does not say how it was made.`)
  // before the settings that speak of it
  for (const bytes of found.bulk.values()) keepBulk(bytes)
  const { development } = found
  bench.adjust(() => development, `Settings of ${file.name}`)
}
