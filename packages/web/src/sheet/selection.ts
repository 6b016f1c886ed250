/** What is chosen on the sheet: some frames, the one that keys act on, and where a range begins. */
export interface Selection {
  ids: ReadonlySet<string>
  /** The frame in hand. */
  at?: string
  anchor?: string
}

export const NOTHING: Selection = { ids: new Set() }

export const only = (id: string): Selection => chosenAs([id])

/** Frames chosen, the first of them in hand. */
export const chosenAs = (ids: readonly string[]): Selection => ({
  ids: new Set(ids),
  at: ids[0],
  anchor: ids[0],
})

const between = (order: readonly string[], a: string, b: string): string[] => {
  const [i, j] = [order.indexOf(a), order.indexOf(b)]
  if (i < 0 || j < 0) return [b]
  return order.slice(Math.min(i, j), Math.max(i, j) + 1)
}

/** A click on a frame, plain, with control (one more or one less) or with shift (all from the anchor on). */
export function clicked(
  s: Selection,
  id: string,
  order: readonly string[],
  keys: { ctrl: boolean; shift: boolean },
): Selection {
  if (keys.shift && s.anchor) {
    const range = between(order, s.anchor, id)
    return { ids: new Set(keys.ctrl ? [...s.ids, ...range] : range), at: id, anchor: s.anchor }
  }
  if (!keys.ctrl) return only(id)
  const ids = new Set(s.ids)
  if (!ids.delete(id)) ids.add(id)
  return { ids, at: id, anchor: id }
}

/** The frame in hand moves on by some places; with `extend` all between are chosen. */
export function moved(s: Selection, order: readonly string[], by: number, extend: boolean): Selection {
  if (order.length === 0) return NOTHING
  const from = s.at ? order.indexOf(s.at) : -1
  const to = from < 0 ? 0 : Math.min(Math.max(from + by, 0), order.length - 1)
  return extend && s.anchor ? clicked(s, order[to], order, { ctrl: false, shift: true }) : only(order[to])
}

export const all = (s: Selection, order: readonly string[]): Selection => ({
  ...s,
  ids: new Set(order),
  at: s.at ?? order[0],
})

export const inverse = (s: Selection, order: readonly string[]): Selection => ({
  ...s,
  ids: new Set(order.filter((id) => !s.ids.has(id))),
})

/** Frames that are no longer on the sheet are no longer chosen; the one in hand gives way to its neighbour. */
export function still(s: Selection, order: readonly string[], before: readonly string[]): Selection {
  const there = new Set(order)
  const ids = new Set([...s.ids].filter((id) => there.has(id)))
  if (s.at === undefined || there.has(s.at)) return ids.size === s.ids.size ? s : { ...s, ids }
  const from = before.indexOf(s.at)
  const next = before.slice(from + 1).find((id) => there.has(id))
  const at =
    next ??
    before
      .slice(0, Math.max(from, 0))
      .reverse()
      .find((id) => there.has(id))
  if (!at) return NOTHING
  return ids.size ? { ids, at, anchor: at } : only(at)
}

export interface Box {
  left: number
  top: number
  right: number
  bottom: number
}

/** Numbers of the cells of a grid that a rectangle touches. */
export function touched(
  box: Box,
  grid: { columns: number; cell: number; line: number; gap: number; count: number },
): number[] {
  const { columns, cell, line, gap, count } = grid
  // a rectangle that lies in a gap touches nothing
  const reach = (low: number, high: number, step: number, size: number) => {
    const from = Math.max(0, Math.ceil((low - size) / step))
    return [from, Math.floor(high / step)]
  }
  const [c0, c1] = reach(box.left, box.right, cell + gap, cell)
  const [r0, r1] = reach(box.top, box.bottom, line + gap, line)
  const out: number[] = []
  for (let r = r0; r <= r1; r++)
    for (let c = c0; c <= Math.min(c1, columns - 1); c++) {
      const i = r * columns + c
      if (i < count) out.push(i)
    }
  return out
}
