import type { SavedDelivery } from '@dunkelkammer/contract'
import { DeliverySchema, SHIPPED_DELIVERIES, type Delivery } from '@dunkelkammer/core'
import { asc, eq, max } from 'drizzle-orm'
import { randomUUID } from 'node:crypto'
import { schema, type Db } from '../db/open'
import { notFound } from '../problem'

const { deliveries, settings } = schema
/** Under this key is noted that the library has been given the first ones. */
const BEGUN = 'deliveries begun'

/** Saved descriptions of files. */
export class Deliveries {
  constructor(private readonly db: Db) {
    this.begin()
  }

  /** In the order in which they were saved. */
  list(): SavedDelivery[] {
    return this.db
      .select()
      .from(deliveries)
      .where(eq(deliveries.removed, false))
      .orderBy(asc(deliveries.position))
      .all()
      .flatMap(({ id, delivery }) => {
        const read = DeliverySchema.safeParse(delivery)
        return read.success ? [{ id, delivery: read.data }] : []
      })
  }

  add(delivery: Delivery): SavedDelivery {
    const id = randomUUID()
    this.db.transaction((tx) => {
      const last =
        tx
          .select({ at: max(deliveries.position) })
          .from(deliveries)
          .get()?.at ?? 0
      tx.insert(deliveries)
        .values({ id, delivery, position: last + 1 })
        .run()
    })
    return { id, delivery }
  }

  /** @throws HttpProblem 404 where there is none of that name */
  change(id: string, delivery: Delivery): SavedDelivery {
    this.require(id)
    this.db.update(deliveries).set({ delivery }).where(eq(deliveries.id, id)).run()
    return { id, delivery }
  }

  /** @throws HttpProblem 404 where there is none of that name */
  remove(id: string): void {
    this.require(id)
    this.db.update(deliveries).set({ removed: true }).where(eq(deliveries.id, id)).run()
  }

  private require(id: string): void {
    const row = this.db.select().from(deliveries).where(eq(deliveries.id, id)).get()
    if (!row || row.removed) throw notFound('delivery')
  }

  /** Gives a new library the deliveries that everybody needs; removed, they do not come back. */
  private begin(): void {
    if (this.db.select().from(settings).where(eq(settings.key, BEGUN)).get()) return
    this.db.transaction((tx) => {
      SHIPPED_DELIVERIES.forEach((delivery, position) =>
        tx.insert(deliveries).values({ id: randomUUID(), delivery, position }).run(),
      )
      tx.insert(settings).values({ key: BEGUN, value: true }).run()
    })
  }
}
