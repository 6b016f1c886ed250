import { describe, expect, it } from 'vitest'
import { random as randomFrom } from '../../test/bench'
import {
  applyChanges,
  changesBetween,
  ChangeSchema,
  joinedChanges,
  partOf,
  readDevelopment,
  revertChanges,
  startDevelopment,
  upgradedChange,
  type Change,
  type Development,
} from './index'
import { joinedLists, listChange, withChange, type Item } from './listed'

type Weighed = Item & { weight: number }
const item = (id: string | number, weight = 0): Weighed => ({ id: String(id), weight })
const list = (ids: string) => [...ids].map((id) => item(id))
const ids = (items: readonly Item[]) => items.map(({ id }) => id).join('')

/** A list after some random edits: changed, removed, put in, moved. */
function edited(items: readonly Weighed[], random: () => number, name: () => string): Weighed[] {
  const out = [...items]
  const any = () => Math.floor(random() * out.length)
  for (let n = Math.floor(random() * 4); n > 0; n--) {
    const kind = Math.floor(random() * 4)
    if (kind === 0 || out.length === 0) out.splice(Math.floor(random() * (out.length + 1)), 0, item(name()))
    else if (kind === 1) out.splice(any(), 1)
    else if (kind === 2) out[any()] = { ...out[any()], weight: random() }
    else out.splice(any(), 0, ...out.splice(any(), 1))
  }
  // a changed copy must not bear another's name twice
  return out.filter(({ id }, at) => out.findIndex((other) => other.id === id) === at)
}

describe('changes of a list', () => {
  it('speak of what changed, and of nothing else', () => {
    expect(listChange(list('abcd'), list('abcd'))).toEqual({ before: { changed: [] }, now: { changed: [] } })
    const heavier = list('abcd').map((i) => (i.id === 'c' ? item('c', 1) : i))
    expect(listChange(list('abcd'), heavier)).toEqual({
      before: { changed: [[2, item('c')]] },
      now: { changed: [[2, item('c', 1)]] },
    })
    expect(listChange(list('abcd'), list('abd')).now.changed).toEqual([])
    // one that passes the others is one change
    expect(listChange(list('abcdef'), list('fabcde'))).toEqual({
      before: { changed: [[5, item('f')]] },
      now: { changed: [[0, item('f')]] },
    })
  })

  it('lead from any list to any other and back, and joined from the first to the last', () => {
    const random = randomFrom(11)
    let named = 0
    const name = () => `n${named++}`
    for (let run = 0; run < 400; run++) {
      const first = edited(list('abcdefgh'), random, name)
      const second = edited(first, random, name)
      // now and then all the way back
      const third = random() < 0.2 ? first : edited(second, random, name)
      const [one, two] = [listChange(first, second), listChange(second, third)]
      expect(withChange(first, one)).toEqual(second)
      expect(withChange(second, { before: one.now, now: one.before })).toEqual(first)
      const both = joinedLists(one, two)
      expect(withChange(first, both)).toEqual(third)
      expect(withChange(third, { before: both.now, now: both.before })).toEqual(first)
      if (third === first) expect(both).toEqual({ before: { changed: [] }, now: { changed: [] } })
    }
  })

  it('go into a list that has become another one, beside what it has', () => {
    const added = listChange(list('ab'), list('axb'))
    expect(ids(withChange(list('abcd'), added))).toBe('axbcd')
    expect(ids(withChange([], added))).toBe('x')
  })
})

const patch = (id: string, more: object = {}) => ({
  id,
  x: 0.5,
  y: 0.5,
  radius: 0.01,
  source: [0.1, 0],
  ...more,
})
const patched = (...patches: object[]): Development => readDevelopment({ steps: { patches: { patches } } })

describe('a step with a list', () => {
  const many = Array.from({ length: 500 }, (_, i) => patch(`p${i}`, { x: i / 1000 }))
  const before = patched(...many)
  const after = patched(...many.map((p) => (p.id === 'p77' ? { ...p, opacity: 0.5 } : p)))

  it('says one changed item in few bytes, and the others stay what they were', () => {
    const changes = changesBetween(before, after)
    expect(JSON.stringify(changes).length).toBeLessThan(1000)
    expect(ChangeSchema.parse(JSON.parse(JSON.stringify(changes[0])))).toEqual(changes[0])
    const made = applyChanges(before, changes)
    expect(made).toEqual(after)
    expect(made.steps.patches.patches[3]).toBe(before.steps.patches.patches[3])
    expect(revertChanges(after, changes)).toEqual(before)
  })

  it('is joined with changes that hold whole lists, as older ones do', () => {
    const whole = (from: Development, to: Development): Change[] => [
      { part: 'patches', before: partOf(from, 'patches'), now: partOf(to, 'patches') },
    ]
    const [a, b, c] = [
      patched(patch('a')),
      patched(patch('a'), patch('b')),
      patched(patch('b', { opacity: 0.2 })),
    ]
    const ways = [whole, changesBetween]
    for (const first of ways)
      for (const then of ways) {
        const joined = joinedChanges(first(a, b), then(b, c))
        expect(applyChanges(a, joined)).toEqual(c)
        expect(revertChanges(c, joined)).toEqual(a)
        expect(joinedChanges(first(a, b), then(b, a))).toEqual([])
      }
  })

  it('keeps its strength and its switch', () => {
    const off = { ...after, off: ['patches' as const], strength: { patches: 0.5 } }
    const changes = changesBetween(before, off)
    expect(applyChanges(before, changes)).toEqual(off)
    expect(revertChanges(off, changes)).toEqual(before)
    expect(changesBetween(startDevelopment(), startDevelopment())).toEqual([])
  })

  it('is refused where an item is none, or where it is told in two ways', () => {
    const [change] = changesBetween(before, after)
    const wrong = (now: unknown) => ChangeSchema.safeParse({ ...change, now }).success
    expect(wrong(change.now)).toBe(true)
    expect(wrong({ settings: { patches: { changed: [[0, { id: 'x' }]] } } })).toBe(false)
    expect(wrong({ settings: { patches: { changed: [[-1, patch('x')]] } } })).toBe(false)
    expect(wrong({ settings: { patches: [patch('x')] } })).toBe(false)
  })

  it('is brought up from an older version item by item', () => {
    const older = (side: object) => ({ settings: { patches: { changed: [[4, side]] } } })
    const stored = {
      part: 'patches',
      version: 1,
      before: older({ id: 'a', size: 1 }),
      now: older({ id: 'a', size: 2 }),
    }
    const grown = ({ patches }: { patches: { id: string; size: number }[] }) => ({
      patches: patches.map(({ id, size }) => ({ id, radius: size / 100 })),
    })
    const of = () => [grown] as never
    expect(upgradedChange(stored, of)).toEqual({
      ...{ part: 'patches', version: 2 },
      before: older({ id: 'a', radius: 0.01 }),
      now: older({ id: 'a', radius: 0.02 }),
    })
  })
})
