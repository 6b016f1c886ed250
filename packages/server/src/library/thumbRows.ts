import { and, asc, desc, eq, isNull, ne, sql } from 'drizzle-orm'
import { schema, type Db } from '../db/open'
import type { News } from './news'
import { KEPT } from './receive'
import { thumbName } from './rows'

const { frames, versions } = schema

/** A version whose thumbnail is to be made. */
export interface StaleThumb {
  frameId: string
  versionId: string
  revision: number
  /** Of the frame: counts on when anything about it changes. */
  changed: number
}

/** What the database knows of thumbnails. */
export class ThumbRows {
  constructor(
    private readonly db: Db,
    private readonly news: News,
  ) {}

  /**
   * Some frames whose thumbnails are not of their settings as they are, what was touched last first, dropped frames
   * last. A frame is shown by the version that the user chose, or by its first.
   * @param quietSince versions changed later are still being worked on
   */
  stale(quietSince: Date, most: number): StaleThumb[] {
    return this.db
      .select({
        frameId: frames.id,
        versionId: versions.id,
        revision: versions.revision,
        changed: frames.changed,
      })
      .from(frames)
      .innerJoin(versions, eq(versions.frameId, frames.id))
      .where(
        and(
          ne(frames.format, KEPT),
          sql`(${frames.thumb} is null or ${frames.thumb} <> 'r' || ${versions.revision})`,
          isNull(versions.deleted),
          sql`${versions.id} = coalesce(${frames.shown}, (select v.id from ${versions} v where v.frame_id = ${frames.id} and v.deleted is null order by v.position limit 1))`,
          sql`(${versions.revision} = 0 or ${versions.changed} < ${quietSince.toISOString()})`,
        ),
      )
      .orderBy(asc(sql`${frames.mark} = 'drop'`), desc(frames.changed))
      .limit(most)
      .all()
  }

  set(frameId: string, revision: number): void {
    this.db.transaction((tx) => {
      const set = { thumb: thumbName(revision), changed: this.news.next(tx) }
      tx.update(frames).set(set).where(eq(frames.id, frameId)).run()
    })
  }
}
