import { useCallback, useRef } from 'react'

/** A function that stays the same while what it does is that of the last drawing; for parts that are drawn seldom. */
export function useEvent<A extends unknown[], R>(run: (...args: A) => R): (...args: A) => R {
  const latest = useRef(run)
  latest.current = run
  return useCallback((...args: A) => latest.current(...args), [])
}
