import type { Entry, LogPlace } from './entries'

/** A change, appended to the log. */
export type ChangeOperation = { kind: 'change' } & Entry

/** Going to another place: back, forward, or onto another branch. */
export interface GoOperation {
  kind: 'go'
  id: string
  to: LogPlace
  /** The end of the branch that one stays on: where going forward leads. */
  tip: LogPlace
}

/** Giving an entry a name, or taking it away. */
export interface NameOperation {
  kind: 'name'
  id: string
  entry: string
  name: string | null
}

/** What a window asks a log to take down. Its id makes that it is taken down once, however often it is sent. */
export type Operation = ChangeOperation | GoOperation | NameOperation
