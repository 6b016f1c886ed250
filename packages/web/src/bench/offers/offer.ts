import type { Development } from '@dunkelkammer/core'

/** Something that a picture may be given, tried on it before it is taken. */
export interface Offer {
  key: string
  name: string
  about: string
  group: string
  /** What the development becomes. */
  apply(d: Development): Development
  /** Takes it out of the library. */
  remove?(): Promise<void>
}
