import Database from 'libsql'
import { BetterSQLiteSession } from 'drizzle-orm/better-sqlite3/session'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { BaseSQLiteDatabase, SQLiteSyncDialect } from 'drizzle-orm/sqlite-core'
import { codeOf, StartProblem } from '../problem'
import * as schema from './schema'

export type Db = BaseSQLiteDatabase<'sync', unknown, Record<string, never>> & { close(): void }
/** What the body of a transaction is given. */
export type Tx = Parameters<Parameters<Db['transaction']>[0]>[0]

/**
 * Opens the library's database and brings it up to date. The driver is libsql, which ships its binary inside its
 * package and speaks the interface that Drizzle's synchronous SQLite session expects.
 * @throws StartProblem where it cannot be read or written
 */
export function openDatabase(file: string, migrations: string): Db {
  try {
    return open(file, migrations)
  } catch (error) {
    throw new StartProblem(`The library's database ${file} cannot be opened: ${reason(error)}`)
  }
}

function open(file: string, migrations: string): Db {
  const client = new Database(file)
  client.pragma('journal_mode = WAL')
  // what was acknowledged survives a loss of power, not only of the process
  client.pragma('synchronous = FULL')
  client.pragma('foreign_keys = ON')
  client.pragma('busy_timeout = 5000')
  client.transaction = ((body) => transaction(client, body)) as typeof client.transaction
  const dialect = new SQLiteSyncDialect()
  const session = new BetterSQLiteSession(client as never, dialect, undefined, {})
  const db = new BaseSQLiteDatabase('sync', dialect, session as never, undefined)
  migrate(db as never, { migrationsFolder: migrations })
  // what can only be read would be noticed no earlier than at the first change
  client.exec('BEGIN IMMEDIATE')
  client.exec('ROLLBACK')
  const close = () => {
    // one file again: what copies a folder by hand may leave out the others
    client.pragma('wal_checkpoint(TRUNCATE)')
    client.close()
  }
  return Object.assign(db, { close }) as unknown as Db
}

/**
 * The driver's own transaction, but for one thing: where SQLite has rolled back by itself, as it does on a full disk,
 * the driver's second attempt fails and its error would hide the first.
 */
function transaction(client: Database.Database, body: (...args: unknown[]) => unknown) {
  const run = (...args: unknown[]) => {
    client.exec('BEGIN')
    try {
      const result = body(...args)
      client.exec('COMMIT')
      return result
    } catch (error) {
      try {
        client.exec('ROLLBACK')
      } catch {
        // it has been rolled back
      }
      throw error
    }
  }
  return Object.assign(run, { deferred: run, immediate: run, exclusive: run })
}

function reason(error: unknown): string {
  const code = codeOf(error) ?? ''
  if (/NOTADB|CORRUPT/.test(code)) return 'it is damaged. Bring back a backup of the library.'
  if (/READONLY|EACCES|EPERM/.test(code))
    return 'it can only be read. Give the server the right to write to it.'
  if (/FULL|ENOSPC/.test(code)) return 'the disk is full.'
  if (/CANTOPEN|ConnectionFailed/.test(code + (error as Error).message))
    return 'it cannot be read or written.'
  return (error as Error).message.split('\n')[0]
}

export { schema }
