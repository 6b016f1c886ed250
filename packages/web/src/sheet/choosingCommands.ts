import type { Mark } from '@dunkelkammer/contract'
import type { Command } from '../commands/commands'

export const starWord = (n: number) => (n === 0 ? 'No stars' : n === 1 ? '1 star' : `${n} stars`)

/** What was done by a mark, for the line that says it. */
export const MARKED: Readonly<Record<Mark, string>> = {
  keep: 'Kept',
  drop: 'Dropped',
  none: 'Mark removed',
}

/** Rating, marking and taking back by single keys: the same wherever frames are chosen. */
export function choosingCommands(wanted: {
  /** No frame is there to be rated. */
  disabled: boolean
  rate(rating: number): void
  mark(kind: Mark): void
  /** Missing while there is nothing to take back. */
  takeBack?: () => unknown
  /** Missing while nothing was taken back. */
  doAgain?: () => unknown
  inBin?: boolean
}): Command[] {
  const { disabled, rate, mark, takeBack, doAgain } = wanted
  const marking = (id: string, label: string, keys: string, kind: Mark): Command => ({
    ...{ id, label, group: 'Choose', keys, disabled },
    run: () => mark(kind),
  })
  return [
    ...[0, 1, 2, 3, 4, 5].map((n): Command => ({
      ...{ id: `rate-${n}`, label: starWord(n), group: 'Choose', keys: String(n), disabled },
      run: () => rate(n),
    })),
    marking('keep', 'Keep', 'K', 'keep'),
    marking('drop', 'Drop into the bin', 'D', 'drop'),
    marking('unmark', wanted.inBin ? 'Restore from the bin' : 'Remove the mark', 'N', 'none'),
    {
      ...{ id: 'take-back', label: 'Undo', group: 'Work', keys: 'Ctrl+Z', disabled: !takeBack },
      run: () => void takeBack?.(),
    },
    {
      ...{ id: 'do-again', label: 'Redo', group: 'Work', keys: 'Ctrl+Shift+Z', also: 'Ctrl+Y' },
      disabled: !doAgain,
      run: () => void doAgain?.(),
    },
  ]
}
