import { bulkName, bulkNamesIn } from '@dunkelkammer/core'
import type { Appended } from '@dunkelkammer/contract'
import { openDB, type IDBPDatabase } from 'idb'
import { api, ServerProblem } from '../api/client'
import type { Batch } from './localLog'

/**
 * Bulk data of settings, as this browser has it. What is made here is kept in the browser until the server has it, and
 * goes there before the settings that speak of it.
 */

const STORE = 'bulk'
const made = new Map<string, Uint8Array<ArrayBuffer>>()
/** How often each was kept: two things that were painted may be the same. */
const kept = new Map<string, number>()
/** What the server has said it has. */
const there = new Set<string>()

let opened: Promise<IDBPDatabase | undefined> | undefined
/** A forbidden or full store is as good as none: the server remains. */
function database(): Promise<IDBPDatabase | undefined> {
  opened ??= openDB('dunkelkammer bulk', 1, { upgrade: (db) => void db.createObjectStore(STORE) }).catch(
    () => undefined,
  )
  return opened
}

/** Keeps some bytes. @returns the name that settings hold */
export function keepBulk(bytes: Uint8Array<ArrayBuffer>): string {
  const name = bulkName(bytes)
  made.set(name, bytes)
  kept.set(name, (kept.get(name) ?? 0) + 1)
  if (!there.has(name))
    void database()
      .then((db) => db?.put(STORE, bytes, name))
      // no room: the server remains
      .catch(() => undefined)
  return name
}

/** Forgets what a drag made on its way, and no settings speak of. */
export function dropBulk(name: string): void {
  const left = (kept.get(name) ?? 1) - 1
  kept.set(name, left)
  if (left > 0) return
  kept.delete(name)
  made.delete(name)
  void database()
    .then((db) => db?.delete(STORE, name))
    .catch(() => undefined)
}

/** Pictures that were asked for with what was made on the way are done by then. */
const DONE_MS = 10_000
/** The same once nothing that has been asked for needs it any more. */
export const dropBulkSoon = (name: string): void => void setTimeout(() => dropBulk(name), DONE_MS)

async function ownBytes(name: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
  return (
    made.get(name) ?? ((await (await database())?.get(STORE, name)) as Uint8Array<ArrayBuffer> | undefined)
  )
}

/** The bytes of a name, from here or from the server. @throws ServerProblem */
export const bulkBytes = async (name: string): Promise<Uint8Array> =>
  (await ownBytes(name)) ?? (await api.bulk(name))

async function send(names: Iterable<string>): Promise<void> {
  for (const name of names) {
    if (there.has(name)) continue
    const bytes = await ownBytes(name)
    // what was not made here came from the server
    if (bytes) await api.putBulk(name, bytes)
    there.add(name)
    void database()
      .then((db) => db?.delete(STORE, name))
      .catch(() => undefined)
  }
}

/** Whether operations speak of what the server does not have yet. */
export const speaksOfNew = ({ operations }: Batch): boolean =>
  [...bulkNamesIn(operations)].some((name) => !there.has(name))

/** Takes operations down on the server, and before them what they speak of. @throws ServerProblem */
export async function append(version: string, batch: Batch, leaving = false): Promise<Appended> {
  const names = bulkNamesIn(batch.operations)
  if (names.size > 0) await send(names)
  try {
    return await api.appendToLog(version, batch, leaving)
  } catch (error) {
    if (!(error instanceof ServerProblem) || error.code !== 'bulk-missing') throw error
    // the library is another one, or an older state of it
    for (const name of names) there.delete(name)
    await send(names)
    return api.appendToLog(version, batch, leaving)
  }
}
