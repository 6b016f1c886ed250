import type { Frame } from '@dunkelkammer/contract'
import type { Stack } from './stacks'

/** What stands in one place of the sheet: a frame, or a stack by its best frame. */
export interface Cell {
  frame: Frame
  /** Frames of its stack, itself included. */
  count: number
  /** The stack is unfolded, and this is one of its frames. */
  unfolded: boolean
  /** Names the stack however its order changes: the first of its frames by id. */
  stack: string
}

/** The frames that a place stands for: those of a folded stack, or one. */
export const framesOf = ({ frame, count, unfolded }: Cell, stacks: readonly Stack[]): readonly Frame[] =>
  count > 1 && !unfolded ? (stacks.find((s) => s.top.id === frame.id)?.frames ?? [frame]) : [frame]

export const stackName = (stack: Stack): string => stack.frames.reduce((a, f) => (f.id < a ? f.id : a), '~')

/** Places of the sheet: stacks that are unfolded give one for each of their frames. */
export function cellsOf(stacks: readonly Stack[], unfolded: ReadonlySet<string>): Cell[] {
  return stacks.flatMap((stack): Cell[] => {
    const { top, frames } = stack
    if (frames.length === 1) return [{ frame: top, count: 1, unfolded: false, stack: top.id }]
    const name = stackName(stack)
    if (!unfolded.has(name)) return [{ frame: top, count: frames.length, unfolded: false, stack: name }]
    return frames.map((frame) => ({ frame, count: frames.length, unfolded: true, stack: name }))
  })
}
