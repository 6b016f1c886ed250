import type { Change } from '@dunkelkammer/core'
import { describe, expect, it } from 'vitest'
import type { KnownEntry } from '../../desk/localLog'
import { foundRows, historyRows } from './rows'

const change = (from: number, to: number): Change => ({
  part: 'exposure',
  before: { settings: { ev: from } },
  now: { settings: { ev: to } },
})
const entry = (
  id: string,
  parent: string | null,
  from: number,
  to: number,
  part: Partial<KnownEntry> = {},
) => ({
  ...{ id, parent, label: 'Exposure', changes: [change(from, to)], time: '2026-03-01T06:00:00Z' },
  ...part,
})
/** a, then a drag of three (b, c, d), then e; from a also x on another branch; f is not saved yet. */
const known: KnownEntry[] = [
  entry('e', 'd', 3, 4, { number: 6 }),
  entry('d', 'c', 2.5, 3, { number: 4, gesture: 'drag' }),
  entry('c', 'b', 2, 2.5, { number: 3, gesture: 'drag' }),
  entry('b', 'a', 1, 2, { number: 2, gesture: 'drag', time: '2026-03-01T05:00:00Z' }),
  entry('x', 'a', 1, -1, { number: 5, name: 'Dark' }),
  entry('a', null, 0, 1, { number: 1 }),
  entry('f', 'e', 4, 4.5),
]
const lines = (rows: ReturnType<typeof historyRows>) => rows.map((r) => [r.place, r.lies])

describe('the history', () => {
  it('has one line for a gesture, the newest first, what is not saved before all', () => {
    const rows = historyRows(known, { head: 'f', tip: 'f' }, 'As taken')
    expect(lines(rows)).toEqual([
      ['f', 'here'],
      ['e', 'behind'],
      ['x', 'aside'],
      ['d', 'behind'],
      ['a', 'behind'],
      [null, 'behind'],
    ])
    expect(rows[3]).toMatchObject({
      sentence: 'Exposure +1.00 to +3.00 EV',
      time: '2026-03-01T05:00:00Z',
      end: 'f',
    })
    expect(rows.at(-1)).toMatchObject({ sentence: 'As taken', end: 'f' })
  })

  it('says what lies ahead, and where one stands in the middle of a gesture', () => {
    expect(lines(historyRows(known, { head: 'c', tip: 'f' }))).toEqual([
      ['f', 'ahead'],
      ['e', 'ahead'],
      ['x', 'aside'],
      ['d', 'here'],
      ['a', 'behind'],
    ])
    const other = historyRows(known, { head: 'x', tip: 'x' })
    expect(other.filter((r) => r.lies === 'aside').map((r) => r.place)).toEqual(['f', 'e', 'd'])
    expect(lines(historyRows(known, { head: null, tip: 'f' }, 'As taken')).at(-1)).toEqual([null, 'here'])
  })

  it('is found by words of sentence, name and time', () => {
    const rows = historyRows(known, { head: 'f', tip: 'f' }, 'As taken')
    const found = (words: string) => foundRows(rows, words, () => '1 Mar').map((r) => r.place)
    expect(found('dark')).toEqual(['x'])
    expect(found('+4.00 exposure')).toEqual(['f', 'e'])
    expect(found('taken')).toEqual([null])
    expect(found('1 mar dark')).toEqual(['x'])
    expect(found('sepia')).toEqual([])
    expect(found('  ')).toHaveLength(6)
  })
})
