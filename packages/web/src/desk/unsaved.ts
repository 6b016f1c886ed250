import { LogPlaceSchema, OperationSchema } from '@dunkelkammer/contract'
import { openDB, type IDBPDatabase } from 'idb'
import { z } from 'zod'
import type { Batch } from './localLog'

/** What is not on the server yet, kept in this browser for each desk of each window. */

const STORE = 'unsaved'
const RecordSchema = z.object({
  desk: z.string(),
  window: z.string(),
  version: z.uuid(),
  batches: z.array(z.object({ base: LogPlaceSchema, operations: z.array(OperationSchema) })),
})
export type Unsaved = z.infer<typeof RecordSchema>

/** Names this window; what it holds says that it lives. */
export const WINDOW = crypto.randomUUID()
const lockName = (window: string) => `dunkelkammer window ${window}`

let opened: Promise<IDBPDatabase | undefined> | undefined
/** A forbidden or full store is as good as none: the server remains. */
function database(): Promise<IDBPDatabase | undefined> {
  opened ??= openDB('dunkelkammer', 1, {
    upgrade: (db) => void db.createObjectStore(STORE, { keyPath: 'desk' }),
  }).catch(() => undefined)
  return opened
}

/** Says to other windows that this one lives, until it is gone. */
export function liveOn(): void {
  void globalThis.navigator?.locks?.request(lockName(WINDOW), () => new Promise(() => undefined))
}

/** Desks that are being kept, and whether something has changed since that began. */
const keeping = new Map<string, { again: boolean }>()

/** Keeps what a desk has not saved, as it is when there is time for it; nothing where all is saved. */
export async function keepUnsaved(desk: string, version: string, batches: readonly Batch[]): Promise<void> {
  const running = keeping.get(desk)
  if (running) {
    running.again = true
    return
  }
  const turn = { again: true }
  keeping.set(desk, turn)
  const db = await database()
  while (turn.again) {
    turn.again = false
    try {
      if (batches.length === 0) await db?.delete(STORE, desk)
      else await db?.put(STORE, { desk, window: WINDOW, version, batches })
    } catch {
      // no room: the server remains
    }
  }
  keeping.delete(desk)
}

/** What windows that are no more have left unsaved. Settings of older editions are brought up. */
export async function leftUnsaved(): Promise<Unsaved[]> {
  const db = await database()
  if (!db) return []
  const held = (await globalThis.navigator?.locks?.query())?.held ?? []
  const living = new Set(held.map((l) => l.name))
  const all: unknown[] = await db.getAll(STORE)
  return all.flatMap((stored) => {
    const record = RecordSchema.safeParse(stored).data
    return record && record.window !== WINDOW && !living.has(lockName(record.window)) ? [record] : []
  })
}

export async function forgetUnsaved({ desk }: Pick<Unsaved, 'desk'>): Promise<void> {
  await (await database())?.delete(STORE, desk)
}
