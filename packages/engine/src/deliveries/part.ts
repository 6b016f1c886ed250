import { FILE_FORMATS, type Delivery } from '@dunkelkammer/core'

/** How far one file of a run has come. */
export const PART_STATES = ['waiting', 'making', 'placing', 'done', 'skipped', 'failed'] as const
export type PartState = (typeof PART_STATES)[number]

/** One file that a run is to make: one delivery of one frame. */
export interface Part {
  /** Place in the run, from 0. */
  number: number
  /** Names what it is made of, of pages the first; parts of one frame are made together. */
  frame: string
  /** Which of the run's deliveries. */
  delivery: number
  state: PartState
  /** Where it is written until it is whole. */
  partial?: string
  /** Where it goes, from `placing` on. */
  file?: string
  /** The whole file's number on its disk, and its bytes: whether it was given its name before a stop is told by them. */
  inode?: number
  bytes?: number
  width?: number
  height?: number
  /** Why it failed or was passed over, as a sentence. */
  message?: string
}

/** What a run over so many frames makes, in its order: a file of each frame by each delivery, pages once for all. */
export const filesOf = (
  frames: number,
  deliveries: readonly Delivery[],
): { number: number; frame: number; delivery: number }[] =>
  Array.from({ length: frames }, (_, frame) =>
    deliveries.flatMap((d, delivery) => (frame === 0 || !holdsPages(d) ? [{ frame, delivery }] : [])),
  )
    .flat()
    .map((part, number) => ({ number, ...part }))

/** Whether all frames of a run go into one file. */
export const holdsPages = ({ format }: Delivery): boolean => FILE_FORMATS[format.kind].holds === 'pages'

/** Where a run notes how far it has come; what it is told is on the disk when it returns. */
export interface Journal {
  parts(): readonly Part[]
  set(number: number, values: Partial<Omit<Part, 'number'>>): void
}

/** Parts that nothing more is done about. */
export const isEnded = ({ state }: Part): boolean => ['done', 'skipped', 'failed'].includes(state)
