import type { Frame } from '@dunkelkammer/contract'
import { useCallback, useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { useShoot } from '../api/queries'
import { passing, readFilter, writeFilter, type Filter } from './filters'
import { inOrder, readOrder, writeOrder, type Order } from './order'
import { fold, type Stack } from './stacks'

/** Parts of an address that say what the sheet shows; links between its pages carry them along. */
const SHEET_KEYS =
  'stars bin mark held camera lens iso focal from to edited delivered keyword words order fold'.split(' ')

export function sheetSearch(search: URLSearchParams): URLSearchParams {
  const out = new URLSearchParams()
  for (const key of SHEET_KEYS) {
    const value = search.get(key)
    if (value !== null) out.set(key, value)
  }
  return out
}

/** "?a=b", or nothing where there is nothing to say. */
export const asQuery = (search: URLSearchParams): string => (search.size ? `?${search.toString()}` : '')

export interface Sheet {
  query: ReturnType<typeof useShoot>
  /** All frames of the shoot. */
  all: readonly Frame[]
  filter: Filter
  order: Order
  /** Seconds within which frames are folded into stacks; 0 for not at all. */
  foldSeconds: number
  /** The filtered frames in order, stacks folded where that is wanted. */
  stacks: readonly Stack[]
  setFilter(filter: Filter): void
  setOrder(order: Order): void
  setFold(seconds: number): void
}

const none: readonly Frame[] = []

/** What of a shoot is shown and in which order, as the address says: for the contact sheet, the strip and all else. */
export function useSheet(shootId: string): Sheet {
  const query = useShoot(shootId)
  const [search, setSearch] = useSearchParams()
  const text = sheetSearch(search).toString()
  const { filter, foldSeconds, orderText } = useMemo(() => {
    const params = new URLSearchParams(text)
    const seconds = Number(params.get('fold'))
    return {
      filter: readFilter(params),
      orderText: params.get('order') ?? '',
      foldSeconds: seconds > 0 && seconds <= 3600 ? seconds : 0,
    }
  }, [text])
  const order = useMemo(() => readOrder(new URLSearchParams({ order: orderText })), [orderText])
  const frames = query.data?.frames ?? none
  // put in order once: what is filtered keeps the order
  const ordered = useMemo(() => inOrder(frames, order), [frames, order])
  const stacks = useMemo(() => {
    const shown = passing(ordered, filter)
    return foldSeconds ? fold(shown, foldSeconds) : shown.map((frame) => ({ top: frame, frames: [frame] }))
  }, [ordered, filter, foldSeconds])
  const change = useCallback(
    (next: (s: URLSearchParams) => URLSearchParams) => setSearch((s) => next(s), { replace: true }),
    [setSearch],
  )
  return {
    query,
    all: frames,
    filter,
    order,
    foldSeconds,
    stacks,
    setFilter: useCallback((f) => change((s) => writeFilter(s, f)), [change]),
    setOrder: useCallback((o) => change((s) => writeOrder(s, o)), [change]),
    setFold: useCallback(
      (seconds) =>
        change((s) => {
          const out = new URLSearchParams(s)
          if (seconds) out.set('fold', String(seconds))
          else out.delete('fold')
          return out
        }),
      [change],
    ),
  }
}
