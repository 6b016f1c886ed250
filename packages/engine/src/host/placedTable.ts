import type { OutputTable, PlacedTable } from '@dunkelkammer/core'
import type { Releasable } from './resources'
import type { Store } from './store'

/** Lays a table into the engine's memory until what is held is released. */
export function placed(store: Store, { id, values }: OutputTable, held: Releasable[]): PlacedTable {
  const block = store.put(new Uint8Array(values.buffer, values.byteOffset, values.byteLength))
  held.push({ release: () => store.arena.free(block) })
  return { id, address: block.offset }
}
