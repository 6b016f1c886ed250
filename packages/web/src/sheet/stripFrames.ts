import type { Frame } from '@dunkelkammer/contract'
import type { Stack } from './stacks'

/** Frames of the strip: those of the sheet in its order, a folded stack by its best, that of the frame in work open. */
export const stripFrames = (stacks: readonly Stack[], at: string): Frame[] =>
  stacks.flatMap(({ top, frames }) => (frames.some((f) => f.id === at) ? frames : [top]))
