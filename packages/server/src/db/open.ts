import Database from 'libsql'
import { BetterSQLiteSession } from 'drizzle-orm/better-sqlite3/session'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { BaseSQLiteDatabase, SQLiteSyncDialect } from 'drizzle-orm/sqlite-core'
import * as schema from './schema'

export type Db = BaseSQLiteDatabase<'sync', unknown, Record<string, never>> & { close(): void }

/**
 * Opens the library's database and brings it up to date. The driver is libsql, which ships its binary inside its
 * package and speaks the interface that Drizzle's synchronous SQLite session expects.
 */
export function openDatabase(file: string, migrations: string): Db {
  const client = new Database(file)
  client.pragma('journal_mode = WAL')
  // what was acknowledged survives a loss of power, not only of the process
  client.pragma('synchronous = FULL')
  client.pragma('foreign_keys = ON')
  client.pragma('busy_timeout = 5000')
  const dialect = new SQLiteSyncDialect()
  const session = new BetterSQLiteSession(client as never, dialect, undefined, {})
  const db = new BaseSQLiteDatabase('sync', dialect, session as never, undefined)
  migrate(db as never, { migrationsFolder: migrations })
  return Object.assign(db, { close: () => void client.close() }) as unknown as Db
}

export { schema }
