import { atom } from 'jotai'

/** A choice that this browser remembers. */
export function storedAtom<T extends string>(key: string, start: T, allowed: readonly T[]) {
  const chosen = atom<T | undefined>(undefined)
  const stored = () => {
    const value = localStorage.getItem(key) as T | null
    return value !== null && allowed.includes(value) ? value : start
  }
  return atom(
    (get) => get(chosen) ?? stored(),
    (_, set, next: T) => {
      set(chosen, next)
      localStorage.setItem(key, next)
    },
  )
}

/** A switch that this browser remembers. */
export function storedSwitch(key: string, [on, off]: readonly [on: string, off: string], start: boolean) {
  const word = storedAtom(key, start ? on : off, [on, off])
  return atom(
    (get) => get(word) === on,
    (_, set, next: boolean) => set(word, next ? on : off),
  )
}
