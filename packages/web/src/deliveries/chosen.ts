import { useState } from 'react'

const KEY = 'deliveries chosen'

function stored(): string[] | undefined {
  try {
    const ids: unknown = JSON.parse(localStorage.getItem(KEY) ?? '')
    return Array.isArray(ids) ? ids.filter((id): id is string => typeof id === 'string') : undefined
  } catch {
    return undefined
  }
}

/** The deliveries that were chosen last, which are likely to be wanted again; the first of all where none was yet. */
export function useChosen(known: readonly string[]) {
  const [ids, setIds] = useState(stored)
  const chosen = new Set(ids?.filter((id) => known.includes(id)) ?? known.slice(0, 1))
  const choose = (next: readonly string[]) => {
    setIds([...next])
    localStorage.setItem(KEY, JSON.stringify(next))
  }
  return {
    chosen,
    toggle(id: string) {
      const next = new Set(chosen)
      if (!next.delete(id)) next.add(id)
      choose([...next])
    },
    // what has just been made is not among those that are known yet
    add: (id: string) => choose([...chosen, id]),
  }
}
