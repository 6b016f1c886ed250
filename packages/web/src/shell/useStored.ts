import { useState } from 'react'

/** A choice that this browser remembers. */
export function useStored<T extends string>(
  key: string,
  start: T,
  allowed: readonly T[],
): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    const stored = localStorage.getItem(key) as T | null
    return stored !== null && allowed.includes(stored) ? stored : start
  })
  return [
    value,
    (next) => {
      setValue(next)
      localStorage.setItem(key, next)
    },
  ]
}
