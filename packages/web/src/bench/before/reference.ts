import type { LogPlace } from '@dunkelkammer/core'

/** What the development is compared with. */
export type Reference =
  | { kind: 'untouched' }
  | { kind: 'camera' }
  | { kind: 'version'; id: string; called: string }
  | { kind: 'entry'; place: LogPlace; called: string }

export const UNTOUCHED: Reference = { kind: 'untouched' }

/** How it is called over the picture. */
export const referenceName = (reference: Reference): string =>
  reference.kind === 'untouched'
    ? 'Original'
    : reference.kind === 'camera'
      ? 'Camera’s picture'
      : reference.called

/** Tells references apart. */
export const referenceKey = (reference: Reference): string =>
  reference.kind === 'version'
    ? `version ${reference.id}`
    : reference.kind === 'entry'
      ? `entry ${reference.place}`
      : reference.kind
