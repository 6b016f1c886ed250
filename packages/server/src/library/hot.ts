import { and, eq, isNull, max, sql } from 'drizzle-orm'
import { schema, type Db } from '../db/open'

const { frames, log, versions } = schema
const named = sql.placeholder
/** Encoded as its column is, though the types do not say so. */
const put = (name: string) => named(name) as never

/** Statements that are asked for with every change of a version, compiled once. They count inside transactions too. */
export const hotStatements = (db: Db) => ({
  version: db
    .select()
    .from(versions)
    .where(eq(versions.id, named('id')))
    .prepare(),
  depth: db
    .select({ depth: log.depth })
    .from(log)
    .where(and(eq(log.id, named('id')), eq(log.versionId, named('versionId'))))
    .prepare(),
  lastNumber: db
    .select({ n: max(log.number) })
    .from(log)
    .where(eq(log.versionId, named('versionId')))
    .prepare(),
  putEntry: db
    .insert(log)
    .values({
      ...{ id: named('id'), versionId: named('versionId'), number: named('number'), kind: named('kind') },
      ...{ parent: named('parent'), label: named('label'), changes: named('changes'), time: named('time') },
      ...{ gesture: named('gesture'), preset: named('preset'), depth: named('depth') },
      snapshot: named('snapshot'),
    })
    .prepare(),
  stand: db
    .update(versions)
    .set({
      ...{ head: put('head'), tip: put('tip'), edited: put('edited') },
      ...{ development: put('development'), changed: put('changed') },
      revision: sql`${versions.revision} + 1`,
    })
    .where(eq(versions.id, named('id')))
    .prepare(),
  standAgain: db
    .update(versions)
    .set({ head: put('head'), tip: put('tip'), edited: put('edited'), development: put('development') })
    .where(eq(versions.id, named('id')))
    .prepare(),
  anyEdited: db
    .select({ id: versions.id })
    .from(versions)
    .where(and(eq(versions.frameId, named('frameId')), eq(versions.edited, true), isNull(versions.deleted)))
    .limit(1)
    .prepare(),
  tellFrame: db
    .update(frames)
    .set({ edited: put('edited'), changed: put('changed') })
    .where(eq(frames.id, named('id')))
    .prepare(),
})
export type Hot = ReturnType<typeof hotStatements>
