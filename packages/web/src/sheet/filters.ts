import type { Frame, Mark } from '@dunkelkammer/contract'

/** How a picture lies. */
export type Held = 'wide' | 'upright' | 'square'
export const heldOf = ({ width, height }: Pick<Frame, 'width' | 'height'>): Held =>
  width === height ? 'square' : width > height ? 'wide' : 'upright'

/** A range of numbers, open at either end. */
export interface Range {
  from?: number
  to?: number
}

/** What of a shoot is to be seen; what is not named does not matter. It lives in the page's address. */
export interface Filter {
  /** Number of stars, that many exactly or at least. */
  stars?: { count: number; exactly: boolean }
  /** The frames in the bin instead of the others. */
  bin?: boolean
  mark?: Exclude<Mark, 'drop'>
  held?: Held
  camera?: string
  lens?: string
  iso?: Range
  focal?: Range
  /** Days as "2026-05-14", the last one included. */
  from?: string
  to?: string
  edited?: boolean
  delivered?: boolean
  keyword?: string
  /** Each of these words is somewhere in what is written of the frame. */
  words?: string
}

export type FilterKey = keyof Filter

export const cameraOf = (f: Frame): string =>
  [f.metadata.make, f.metadata.model].filter(Boolean).join(' ') || 'no camera named'
export const lensOf = (f: Frame): string => f.metadata.lens ?? 'no lens named'
export const dayOf = (f: Frame): string => f.metadata.taken?.slice(0, 10) ?? ''

const within = (value: number | undefined, { from = -Infinity, to = Infinity }: Range) =>
  value !== undefined && value >= from && value <= to

const written = new WeakMap<Frame, string>()
/** Everything that is written of a frame, in small letters; made once for each state of it. */
function writtenOf(f: Frame): string {
  let text = written.get(f)
  if (text === undefined) written.set(f, (text = allWords(f)))
  return text
}
const allWords = (f: Frame): string =>
  [f.fileName, f.text.title, f.text.caption, f.text.creator, f.text.copyright, cameraOf(f), lensOf(f)]
    .concat(f.text.keywords)
    .join('\n')
    .toLocaleLowerCase()

/** One question for each part of a filter. */
const TESTS: { [K in FilterKey]-?: (f: Frame, wanted: NonNullable<Filter[K]>) => boolean } = {
  stars: (f, { count, exactly }) => (exactly ? f.rating === count : f.rating >= count),
  bin: (f) => f.mark === 'drop',
  mark: (f, wanted) => f.mark === wanted,
  held: (f, wanted) => heldOf(f) === wanted,
  camera: (f, wanted) => cameraOf(f) === wanted,
  lens: (f, wanted) => lensOf(f) === wanted,
  iso: (f, range) => within(f.metadata.iso, range),
  focal: (f, range) => within(f.metadata.focalLength, range),
  from: (f, day) => dayOf(f) >= day,
  to: (f, day) => dayOf(f) !== '' && dayOf(f) <= day,
  edited: (f, wanted) => f.edited === wanted,
  delivered: (f, wanted) => f.delivered === wanted,
  keyword: (f, wanted) => f.text.keywords.includes(wanted),
  words: (f, wanted) => {
    const all = writtenOf(f)
    return wanted
      .toLocaleLowerCase()
      .split(/\s+/)
      .every((w) => all.includes(w))
  },
}
export const FILTER_KEYS = Object.keys(TESTS) as FilterKey[]

const asks = <K extends FilterKey>(f: Frame, key: K, filter: Filter): boolean =>
  (TESTS[key] as (f: Frame, wanted: Filter[K]) => boolean)(f, filter[key])

/** The parts of a filter that ask something. */
export const active = (filter: Filter): FilterKey[] => FILTER_KEYS.filter((k) => filter[k] !== undefined)

/** Frames that pass; those in the bin only where it is asked for. */
export function passing(frames: readonly Frame[], filter: Filter): Frame[] {
  const keys = active(filter)
  return frames.filter((f) => (filter.bin || f.mark !== 'drop') && keys.every((k) => asks(f, k, filter)))
}

/** How many frames of the shoot a single part of the filter would leave. */
export const countOf = (frames: readonly Frame[], filter: Filter, key: FilterKey): number =>
  frames.filter((f) => (key === 'bin' || f.mark !== 'drop') && asks(f, key, filter)).length

/** Frames that pass everything but one part of a filter: among them that part's choices are counted. */
export const passingBut = (frames: readonly Frame[], filter: Filter, ...keys: FilterKey[]): Frame[] => {
  const rest = { ...filter }
  for (const key of keys) delete rest[key]
  return passing(frames, rest)
}

/** How many of some frames one choice would leave. */
export const leaves = (frames: readonly Frame[], part: Filter): number => {
  const keys = active(part)
  let n = 0
  for (const f of frames) if (keys.every((k) => asks(f, k, part))) n++
  return n
}

/** Values of a property among some frames, each with how many have it, most first. */
export function tally(
  frames: readonly Frame[],
  valuesOf: (f: Frame) => readonly string[],
): [string, number][] {
  const counts = new Map<string, number>()
  for (const f of frames) for (const value of valuesOf(f)) counts.set(value, (counts.get(value) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]))
}

const rangeText = ({ from, to }: Range) => `${from ?? ''}-${to ?? ''}`
function readRange(text: string): Range | undefined {
  const m = text.match(/^(\d*\.?\d*)-(\d*\.?\d*)$/)
  if (!m || (!m[1] && !m[2])) return undefined
  return { from: m[1] ? Number(m[1]) : undefined, to: m[2] ? Number(m[2]) : undefined }
}
const DAY = /^\d{4}-\d\d-\d\d$/
const yes = (text: string | null) => (text === 'yes' ? true : text === 'no' ? false : undefined)

/** Reads a filter from an address; what makes no sense there is as if it were not. */
export function readFilter(search: URLSearchParams): Filter {
  const text = (key: FilterKey) => search.get(key)?.trim() || undefined
  const stars = text('stars')?.match(/^([0-5])(\+?)$/)
  const day = (key: 'from' | 'to') => (DAY.test(text(key) ?? '') ? text(key) : undefined)
  const one = <T extends string>(key: FilterKey, allowed: readonly T[]) =>
    allowed.find((a) => a === text(key))
  const found: Filter = {
    stars: stars ? { count: Number(stars[1]), exactly: stars[2] === '' } : undefined,
    bin: yes(search.get('bin')) || undefined,
    mark: one('mark', ['none', 'keep']),
    held: one('held', ['wide', 'upright', 'square']),
    camera: text('camera'),
    lens: text('lens'),
    iso: readRange(text('iso') ?? ''),
    focal: readRange(text('focal') ?? ''),
    from: day('from'),
    to: day('to'),
    edited: yes(search.get('edited')),
    delivered: yes(search.get('delivered')),
    keyword: text('keyword'),
    words: text('words'),
  }
  return Object.fromEntries(Object.entries(found).filter(([, v]) => v !== undefined)) as Filter
}

/** Puts a filter into an address beside what else is there. */
export function writeFilter(search: URLSearchParams, filter: Filter): URLSearchParams {
  const out = new URLSearchParams(search)
  for (const key of FILTER_KEYS) out.delete(key)
  for (const key of active(filter)) out.set(key, valueText(filter, key))
  return out
}

function valueText(filter: Filter, key: FilterKey): string {
  const value = filter[key]
  if (key === 'stars') return `${filter.stars!.count}${filter.stars!.exactly ? '' : '+'}`
  if (key === 'iso' || key === 'focal') return rangeText(value as Range)
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return String(value)
}

const span = ({ from, to }: Range, unit = '') =>
  from !== undefined && to !== undefined
    ? from === to
      ? `${from}${unit}`
      : `${from} to ${to}${unit}`
    : from !== undefined
      ? `from ${from}${unit}`
      : `up to ${to}${unit}`

/** A part of a filter in words, for its chip. */
export function inWords(filter: Filter, key: FilterKey): string {
  switch (key) {
    case 'stars': {
      const { count, exactly } = filter.stars!
      if (count === 0) return exactly ? 'no stars' : 'any stars'
      const stars = `${count} ${count === 1 ? 'star' : 'stars'}`
      return exactly || count === 5 ? stars : `${stars} or more`
    }
    case 'bin':
      return 'in the bin'
    case 'mark':
      return filter.mark === 'keep' ? 'kept' : 'without a mark'
    case 'held':
      return filter.held!
    case 'iso':
      return `ISO ${span(filter.iso!)}`
    case 'focal':
      return span(filter.focal!, ' mm')
    case 'from':
      return `from ${filter.from}`
    case 'to':
      return `until ${filter.to}`
    case 'edited':
      return filter.edited ? 'edited' : 'not edited'
    case 'delivered':
      return filter.delivered ? 'delivered' : 'not delivered'
    case 'words':
      return `“${filter.words}”`
    default:
      return String(filter[key])
  }
}
