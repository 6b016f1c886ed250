import { NO_TEXT, type Frame } from '@dunkelkammer/contract'
import { describe, expect, it } from 'vitest'
import { frame } from '../../test/frames'
import { stripFrames } from './stripFrames'
import { cellsOf } from './cells'
import {
  active,
  countOf,
  inWords,
  leaves,
  passing,
  passingBut,
  readFilter,
  tally,
  writeFilter,
  type Filter,
} from './filters'
import { inOrder, readOrder, writeOrder, type OrderId } from './order'
import { all, clicked, inverse, moved, NOTHING, only, still, touched } from './selection'
import { fold } from './stacks'

const names = (frames: readonly Frame[]) => frames.map((f) => Number(f.fileName.replace(/\D/g, '')))

const FRAMES = [
  frame(1, {
    rating: 3,
    metadata: { iso: 100, focalLength: 28, orientation: 1, taken: '2026-05-13T23:59:59' },
  }),
  frame(2, {
    rating: 5,
    mark: 'keep',
    width: 200,
    height: 300,
    text: { ...NO_TEXT, keywords: ['mill', 'dusk'] },
  }),
  frame(3, { mark: 'drop', rating: 4 }),
  frame(4, { edited: true, metadata: { iso: 6400, lens: 'Veldrom 35 mm f/2', orientation: 1 } }),
  frame(5, {
    delivered: true,
    rating: 3,
    text: { ...NO_TEXT, caption: 'Der Kanal bei Nacht', keywords: ['mill'] },
  }),
  frame(6, { width: 200, metadata: { orientation: 1, model: 'Veldrom Pocket', focalLength: 50 } }),
]

describe('filters', () => {
  it.each<[Filter, number[]]>([
    [{}, [1, 2, 4, 5, 6]],
    [{ stars: { count: 3, exactly: false } }, [1, 2, 5]],
    [{ stars: { count: 3, exactly: true } }, [1, 5]],
    [{ stars: { count: 0, exactly: true } }, [4, 6]],
    [{ bin: true }, [3]],
    [{ mark: 'keep' }, [2]],
    [{ mark: 'none' }, [1, 4, 5, 6]],
    [{ held: 'upright' }, [2]],
    [{ held: 'square' }, [6]],
    [{ camera: 'Ostrava & Linde Veldrom Pocket' }, [6]],
    [{ lens: 'Veldrom 35 mm f/2' }, [4]],
    [{ lens: 'no lens named' }, [1, 2, 5, 6]],
    [{ iso: { from: 200 } }, [4]],
    [{ iso: { to: 100 } }, [1]],
    [{ focal: { from: 28, to: 50 } }, [1, 6]],
    [{ from: '2026-05-14' }, [2, 4, 5, 6]],
    [{ to: '2026-05-13' }, [1]],
    [{ edited: true }, [4]],
    [{ delivered: false, stars: { count: 1, exactly: false } }, [1, 2]],
    [{ keyword: 'mill' }, [2, 5]],
    [{ words: 'kanal NACHT' }, [5]],
    [{ words: 'pocket' }, [6]],
    [{ words: 'mill nowhere' }, []],
  ])('%j leaves %j', (filter, left) => expect(names(passing(FRAMES, filter))).toEqual(left))

  it('live in the address and come back from it', () => {
    const filter: Filter = {
      stars: { count: 2, exactly: true },
      mark: 'keep',
      held: 'upright',
      camera: 'Ostrava & Linde Veldrom 3',
      iso: { from: 100 },
      focal: { from: 24.5, to: 70 },
      from: '2026-05-14',
      edited: false,
      keyword: 'Mühle & Kanal, früh',
      words: 'a "b" 水門',
    }
    const search = writeFilter(new URLSearchParams('stage=expose&words=old'), filter)
    expect(search.get('stage')).toBe('expose')
    expect(readFilter(new URLSearchParams(search.toString()))).toEqual(filter)
    expect(writeFilter(search, {}).toString()).toBe('stage=expose')
  })

  it.each<[Filter, string]>([
    [{ stars: { count: 2, exactly: false } }, 'stars=2%2B'],
    [{ bin: true }, 'bin=yes'],
    [{ edited: true, delivered: false }, 'edited=yes&delivered=no'],
    [{ iso: { to: 800 } }, 'iso=-800'],
    [{ to: '2026-05-14', lens: 'no lens named' }, 'lens=no+lens+named&to=2026-05-14'],
  ])('%j is written as %s', (filter, text) => {
    expect(writeFilter(new URLSearchParams(), filter).toString()).toBe(text)
    expect(readFilter(new URLSearchParams(text))).toEqual(filter)
  })

  it('name a camera by what is known of it', () => {
    const by = (make?: string, model?: string) => frame(1, { metadata: { orientation: 1, make, model } })
    expect(passing([by('Ostrava & Linde')], { camera: 'Ostrava & Linde' })).toHaveLength(1)
    expect(passing([by(undefined, 'Veldrom 3')], { camera: 'Veldrom 3' })).toHaveLength(1)
    expect(passing([by()], { camera: 'no camera named' })).toHaveLength(1)
  })

  it('take what makes no sense in an address as not said', () => {
    const search = 'stars=9&mark=gone&held=sideways&iso=a-b&focal=-&from=yesterday&edited=maybe&words=%20'
    expect(readFilter(new URLSearchParams(search))).toEqual({})
  })

  it('count what a part alone would leave, and what each value would', () => {
    const filter: Filter = { stars: { count: 3, exactly: false }, held: 'upright', bin: true }
    expect(countOf(FRAMES, filter, 'stars')).toBe(3)
    expect(countOf(FRAMES, filter, 'held')).toBe(1)
    expect(countOf(FRAMES, filter, 'bin')).toBe(1)
    // the tally of a property does not count its own filter
    const open = passingBut(FRAMES, { keyword: 'dusk', mark: 'keep' }, 'keyword', 'mark')
    expect(leaves(open, { keyword: 'mill' })).toBe(2)
    expect(tally(open, (f) => f.text.keywords)).toEqual([
      ['mill', 2],
      ['dusk', 1],
    ])
    expect(active(filter)).toEqual(['stars', 'bin', 'held'])
  })

  it.each<[Filter, string]>([
    [{ stars: { count: 1, exactly: false } }, '1 star or more'],
    [{ stars: { count: 3, exactly: true } }, '3 stars'],
    [{ stars: { count: 5, exactly: false } }, '5 stars'],
    [{ stars: { count: 0, exactly: true } }, 'no stars'],
    [{ stars: { count: 0, exactly: false } }, 'any stars'],
    [{ bin: true }, 'in the bin'],
    [{ mark: 'keep' }, 'kept'],
    [{ mark: 'none' }, 'without a mark'],
    [{ held: 'upright' }, 'upright'],
    [{ camera: 'Veldrom 3' }, 'Veldrom 3'],
    [{ iso: { from: 100, to: 800 } }, 'ISO 100 to 800'],
    [{ iso: { from: 200, to: 200 } }, 'ISO 200'],
    [{ focal: { to: 35 } }, 'up to 35 mm'],
    [{ focal: { from: 35 } }, 'from 35 mm'],
    [{ from: '2026-05-14' }, 'from 2026-05-14'],
    [{ to: '2026-05-14' }, 'until 2026-05-14'],
    [{ edited: true }, 'edited'],
    [{ edited: false }, 'not edited'],
    [{ delivered: true }, 'delivered'],
    [{ delivered: false }, 'not delivered'],
    [{ words: 'mill dusk' }, '“mill dusk”'],
  ])('%j is said as %s', (filter, text) => expect(inWords(filter, active(filter)[0])).toBe(text))
})

describe('orders', () => {
  const some = [
    frame(10, {
      rating: 2,
      fileSize: 5,
      fileDate: '2026-05-16T00:00:00.000Z',
      metadata: { iso: 400, orientation: 1, taken: '2026-05-14T10:00:05.9' },
    }),
    frame(9, {
      rating: 5,
      fileSize: 7,
      width: 200,
      height: 300,
      metadata: { orientation: 1, taken: '2026-05-14T10:00:05.12', focalLength: 20, focalLength35: 31 },
    }),
    frame(2, {
      rating: 2,
      fileSize: 6,
      fileDate: '2026-05-15T00:00:00.000Z',
      metadata: { iso: 100, orientation: 1, taken: '2026-05-14T09:00:00', focalLength: 28 },
    }),
  ]
  it.each<[OrderId, number[], number[]]>([
    ['taken', [2, 9, 10], [10, 9, 2]],
    ['name', [2, 9, 10], [10, 9, 2]],
    ['size', [10, 2, 9], [9, 2, 10]],
    ['filed', [2, 10, 9], [10, 2, 9]],
    ['held', [2, 10, 9], [9, 2, 10]],
    ['rating', [2, 10, 9], [9, 2, 10]],
    ['iso', [2, 10, 9], [10, 2, 9]],
    ['focal', [2, 9, 10], [9, 2, 10]],
  ])('by %s', (by, up, down) => {
    expect(names(inOrder(some, { by, down: false }))).toEqual(up)
    expect(names(inOrder(some, { by, down: true }))).toEqual(down)
  })

  it('put equals one after the other by time, then by name, then as they came', () => {
    const at = (n: number, fileName: string, taken?: string) =>
      frame(n, { fileName, rating: 1, metadata: { orientation: 1, taken } })
    const [late, early] = [at(1, 'a.dng', '2026-05-14T12:00:00'), at(2, 'b.dng', '2026-05-14T11:00:00')]
    const [two, ten] = [at(3, 'f 2.dng', '2026-05-14T13:00:00'), at(4, 'f 10.dng', '2026-05-14T13:00:00')]
    const [same, again] = [at(5, 'same.dng'), at(6, 'same.dng')].sort((a, b) => (a.id < b.id ? -1 : 1))
    const order = [same, again, early, late, two, ten]
    for (const frames of [order, [...order].reverse()])
      for (const down of [false, true]) expect(inOrder(frames, { by: 'rating', down })).toEqual(order)
    expect(inOrder([again, same], { by: 'name', down: false })).toEqual([same, again])
    expect(inOrder([again, same], { by: 'name', down: true })).toEqual([same, again])
  })

  it('live in the address too', () => {
    expect(writeOrder(new URLSearchParams(), { by: 'name', down: false }).get('order')).toBe('name')
    expect(writeOrder(new URLSearchParams(), { by: 'taken', down: true }).get('order')).toBe('-taken')
    const search = writeOrder(new URLSearchParams(), { by: 'iso', down: true })
    expect(readOrder(search)).toEqual({ by: 'iso', down: true })
    expect(writeOrder(search, { by: 'taken', down: false }).size).toBe(0)
    expect(readOrder(new URLSearchParams('order=-nonsense'))).toEqual({ by: 'taken', down: false })
  })
})

describe('stacks', () => {
  const at = (n: number, taken: string, part: Partial<Frame> = {}) =>
    frame(n, { ...part, metadata: { orientation: 1, model: 'Veldrom 3', ...part.metadata, taken } })
  const burst = [
    at(1, '2026-05-14T14:20:05.120'),
    at(2, '2026-05-14T14:20:05.480+02:00', { rating: 2 }),
    at(3, '2026-05-14T14:20:07.900'),
    at(4, '2026-05-14T14:20:12'),
    at(5, '2026-05-14T14:20:06', { metadata: { orientation: 1, model: 'Veldrom Pocket' } }),
    frame(6, { metadata: { orientation: 1, taken: undefined } }),
  ]
  it('join what one camera took within seconds, the best on top', () => {
    const stacks = fold(burst, 3)
    expect(stacks.map((s) => [names([s.top])[0], names(s.frames)])).toEqual([
      [2, [2, 1, 3]],
      [4, [4]],
      [5, [5]],
      [6, [6]],
    ])
    expect(fold(burst, 0.5).map((s) => s.frames.length)).toEqual([2, 1, 1, 1, 1])
  })

  it.each<[string, Partial<Frame>, Partial<Frame>]>([
    ['stars', { rating: 1 }, { mark: 'keep', edited: true }],
    ['kept', { mark: 'keep' }, { edited: true }],
    ['edited', { edited: true }, {}],
  ])('have the better on top: by %s', (_, better, other) => {
    const frames = [at(1, '2026-05-14T14:20:05', other), at(2, '2026-05-14T14:20:06', better)]
    for (const some of [frames, [...frames].reverse()]) expect(fold(some, 1)[0].top).toBe(frames[1])
  })

  it('have the earlier on top where none is better, then the first by name', () => {
    const frames = [at(1, '2026-05-14T14:20:05'), at(2, '2026-05-14T14:20:06'), at(3, '2026-05-14T14:20:06')]
    for (const some of [frames, [...frames].reverse()])
      expect(names(fold(some, 1)[0].frames)).toEqual([1, 2, 3])
  })

  it('hold what was made of a frame, wherever that is', () => {
    const made = (n: number, of: Frame) => at(n, '2026-06-01T09:00:00', { stack: of.id })
    const some = [...burst, made(7, burst[1]), made(8, burst[4])]
    expect(fold(some, 3).map((s) => names(s.frames))).toEqual([[2, 1, 3, 7], [4], [5, 8], [6]])
    // and stays with it when the user puts it elsewhere
    const moved = [{ ...burst[1], stack: 'x' }, { ...burst[5], stack: 'x' }, made(7, burst[1])]
    expect(fold(moved, 3).map((s) => names(s.frames))).toEqual([[2, 6, 7]])
    // the frame is not shown: what was made of it is still together
    const apart = [made(7, burst[1]), made(8, burst[1]), burst[5]]
    expect(fold(apart, 3).map((s) => names(s.frames))).toEqual([[7, 8], [6]])
  })

  it('are as the user joined and split them, whatever the clock says', () => {
    const hand = (n: number, stack: string) => ({ ...burst[n - 1], stack })
    const some = [hand(1, 'x'), burst[1], burst[2], hand(4, 'x'), hand(5, 'alone'), burst[5]]
    expect(fold(some, 3).map((s) => names(s.frames))).toEqual([[1, 4], [2, 3], [5], [6]])
    // by time again: without what the user said
    expect(fold([burst[0], ...some.slice(1, 3)], 3).map((s) => names(s.frames))).toEqual([[2, 1, 3]])
  })

  it('leave frames alone whose clock says nothing', () => {
    const some = [at(1, 'no time'), at(2, ''), at(3, 'no time')]
    expect(fold(some, 5).map((s) => s.frames.length)).toEqual([1, 1, 1])
    // a zone behind the seconds is left out: one clock, one zone
    const zoned = [at(1, '2026-05-14T14:20:05Z'), at(2, '2026-05-14T14:20:06+02:00')]
    expect(fold(zoned, 2)).toHaveLength(1)
  })

  it('stand where their first frame stands, whatever the order', () => {
    expect(fold([...burst].reverse(), 3).map((s) => names([s.top])[0])).toEqual([6, 5, 4, 2])
  })

  it('unfold to their frames; the strip opens the one in work', () => {
    const stacks = fold(burst, 3)
    const folded = cellsOf(stacks, new Set())
    expect(folded.map((c) => [names([c.frame])[0], c.count])).toEqual([
      [2, 3],
      [4, 1],
      [5, 1],
      [6, 1],
    ])
    const open = cellsOf(stacks, new Set([folded[0].stack]))
    expect(names(open.map((c) => c.frame))).toEqual([2, 1, 3, 4, 5, 6])
    expect(open[0].unfolded && !open[3].unfolded).toBe(true)
    expect(names(stripFrames(stacks, burst[2].id))).toEqual([2, 1, 3, 4, 5, 6])
    expect(names(stripFrames(stacks, burst[3].id))).toEqual([2, 4, 5, 6])
  })
})

describe('choosing', () => {
  const order = ['a', 'b', 'c', 'd', 'e']
  const plain = { ctrl: false, shift: false }
  const ids = (s: { ids: ReadonlySet<string> }) => [...s.ids].sort().join('')

  it('by click, control and shift', () => {
    let s = clicked(NOTHING, 'b', order, plain)
    expect(ids(s)).toBe('b')
    s = clicked(s, 'd', order, { ctrl: false, shift: true })
    expect(ids(s)).toBe('bcd')
    s = clicked(s, 'a', order, { ctrl: false, shift: true })
    expect(ids(s)).toBe('ab')
    s = clicked(s, 'e', order, { ctrl: true, shift: false })
    expect(ids(s)).toBe('abe')
    s = clicked(s, 'a', order, { ctrl: true, shift: false })
    expect(ids(s)).toBe('be')
    expect(ids(clicked(s, 'c', order, { ctrl: true, shift: true }))).toBe('abce')
    expect(ids(clicked(s, 'c', order, plain))).toBe('c')
    // a range from what is no longer on the sheet begins anew, as does one to it
    expect(ids(clicked(only('gone'), 'c', order, { ctrl: false, shift: true }))).toBe('c')
    expect(ids(clicked(only('c'), 'gone', order, { ctrl: false, shift: true }))).toBe('gone')
  })

  it('all, none and the others', () => {
    const s = clicked(only('b'), 'c', order, { ctrl: true, shift: false })
    expect(ids(inverse(s, order))).toBe('ade')
    expect(ids(all(s, order))).toBe('abcde')
    expect(ids(inverse(all(s, order), order))).toBe('')
    expect(all(s, order).at).toBe('c')
    expect(all(NOTHING, order).at).toBe('a')
  })

  it('by arrow keys, held at the ends', () => {
    expect(moved(NOTHING, order, 1, false).at).toBe('a')
    expect(moved(only('b'), order, 9, false).at).toBe('e')
    expect(ids(moved(moved(only('b'), order, 1, true), order, 1, true))).toBe('bcd')
    expect(moved(only('a'), [], 1, false)).toBe(NOTHING)
    expect(moved(only('a'), order, -1, false).at).toBe('a')
    expect(moved(only('gone'), order, 3, false).at).toBe('a')
    // without shift a range becomes one frame
    expect(ids(moved(moved(only('b'), order, 1, true), order, 1, false))).toBe('d')
    expect(ids(moved(NOTHING, order, 1, true))).toBe('a')
    // the way back gives up what the way there took
    expect(ids(moved(moved(only('b'), order, 2, true), order, -1, true))).toBe('bc')
  })

  it('goes on with the neighbour where the frame in hand leaves', () => {
    expect(still(only('c'), ['a', 'b', 'd', 'e'], order).at).toBe('d')
    expect(still(only('e'), ['a', 'b'], order).at).toBe('b')
    expect(still(only('c'), [], order)).toEqual(NOTHING)
    const s = clicked(only('b'), 'c', order, { ctrl: true, shift: false })
    expect(ids(still(s, ['a', 'b', 'd'], order))).toBe('b')
    expect(still(s, order, order)).toBe(s)
    expect(still(s, ['c', 'd'], order)).toMatchObject({ at: 'c', ids: new Set(['c']) })
    expect(still({ ids: new Set(['a', 'b']) }, ['b'], order)).toEqual({ ids: new Set(['b']) })
    // backward only where nothing follows
    expect(still(only('d'), ['a', 'e'], order).at).toBe('e')
    expect(still(only('d'), ['a', 'c'], order).at).toBe('c')
  })

  it('by rectangle: every cell that it touches, none for a gap', () => {
    const grid = { columns: 3, cell: 100, line: 140, gap: 10, count: 8 }
    const box = (left: number, top: number, right: number, bottom: number) => ({ left, top, right, bottom })
    expect(touched(box(50, 50, 60, 60), grid)).toEqual([0])
    expect(touched(box(50, 50, 250, 200), grid)).toEqual([0, 1, 2, 3, 4, 5])
    expect(touched(box(102, 10, 108, 500), grid)).toEqual([])
    expect(touched(box(5, 142, 300, 148), grid)).toEqual([])
    expect(touched(box(300, 320, 900, 900), grid)).toEqual([])
    expect(touched(box(-50, -50, 5000, 5000), grid)).toHaveLength(8)
  })
})
