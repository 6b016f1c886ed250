import type { Frame } from '@dunkelkammer/contract'
import { heldOf } from './filters'

/** By what frames can be put in order. */
export const ORDERS = {
  taken: 'Time taken',
  name: 'Name',
  filed: 'File date',
  size: 'File size',
  held: 'Orientation',
  rating: 'Stars',
  iso: 'ISO',
  focal: 'Focal length',
} as const
export type OrderId = keyof typeof ORDERS

export interface Order {
  by: OrderId
  /** The largest, latest or last first. */
  down: boolean
}

export const FIRST_ORDER: Order = { by: 'taken', down: false }

const names = new Intl.Collator('en', { numeric: true })
const HELD = { wide: 0, square: 1, upright: 2 }

const VALUE: { [K in OrderId]: (f: Frame) => string | number | undefined } = {
  taken: (f) => f.metadata.taken,
  name: () => 0,
  filed: (f) => f.fileDate,
  size: (f) => f.fileSize,
  held: (f) => HELD[heldOf(f)],
  rating: (f) => f.rating,
  iso: (f) => f.metadata.iso,
  focal: (f) => f.metadata.focalLength35 ?? f.metadata.focalLength,
}

/** Frames in an order; what lacks the value comes last, and equals follow one another by time and name. */
export function inOrder(frames: readonly Frame[], { by, down }: Order): Frame[] {
  const sign = down ? -1 : 1
  const value = VALUE[by]
  const compare = (a: string | number | undefined, b: string | number | undefined) =>
    a === b ? 0 : a === undefined ? 1 : b === undefined ? -1 : (a < b ? -1 : 1) * sign
  const named = (a: Frame, b: Frame) => names.compare(a.fileName, b.fileName)
  // the values are looked up once, not at each of the many comparisons
  const keyed = frames.map((frame) => ({ frame, value: value(frame), taken: frame.metadata.taken ?? '' }))
  keyed.sort((a, b) => {
    if (by === 'name') return named(a.frame, b.frame) * sign || (a.frame.id < b.frame.id ? -1 : 1)
    const first = compare(a.value, b.value)
    if (first) return first
    const second = a.taken < b.taken ? -1 : a.taken > b.taken ? 1 : 0
    return second || named(a.frame, b.frame) || (a.frame.id < b.frame.id ? -1 : 1)
  })
  return keyed.map((k) => k.frame)
}

export function readOrder(search: URLSearchParams): Order {
  const by = search.get('order')?.replace(/^-/, '') as OrderId | undefined
  return by && by in ORDERS ? { by, down: search.get('order')!.startsWith('-') } : FIRST_ORDER
}

export function writeOrder(search: URLSearchParams, order: Order): URLSearchParams {
  const out = new URLSearchParams(search)
  if (order.by === FIRST_ORDER.by && !order.down) out.delete('order')
  else out.set('order', (order.down ? '-' : '') + order.by)
  return out
}
