import type { Reading } from '@dunkelkammer/core'
import { atom } from 'jotai'
import { storedAtom, storedSwitch } from '../state/stored'

export const READING_KINDS = ['output', 'linear', 'sensor', 'lab'] as const
export type ReadingKind = (typeof READING_KINDS)[number]
export const KIND_NAMES: Record<ReadingKind, string> = {
  output: 'Output',
  linear: 'Linear',
  sensor: 'Sensor',
  lab: 'Lab',
}
const minus = (text: string) => text.replace('-', '\u2212')

/** Three numbers of a reading, as the kind is usually written. */
export function written(reading: Reading, kind: ReadingKind): readonly [string, string, string] {
  const text = (v: number) =>
    kind === 'output'
      ? String(Math.round(v * 255))
      : kind === 'linear'
        ? v.toFixed(3)
        : kind === 'sensor'
          ? (v * 100).toFixed(1)
          : v.toFixed(1)
  return reading[kind].map((v) => minus(text(v))) as unknown as readonly [string, string, string]
}

export const readingKindAtom = storedAtom<ReadingKind>('reading', 'output', READING_KINDS)
/** Whether places are read. */
export const readingAtom = storedSwitch('readings', ['on', 'off'], false)
/** What was read under the pointer, and at the pinned places. */
export const underAtom = atom<Reading | undefined>(undefined)
export const pinnedAtom = atom<readonly (Reading | undefined)[]>([])
