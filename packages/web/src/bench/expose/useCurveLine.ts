import { CURVE_LINES, type CurveLine } from '@dunkelkammer/core'
import { useSyncExternalStore } from 'react'

let line: CurveLine = 'luminance'
const listeners = new Set<() => void>()

/** The line of the curve that is worked on, in the drawer and on the picture alike. */
export function useCurveLine(): [CurveLine, (next: CurveLine) => void] {
  const now = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => line,
  )
  return [
    now,
    (next) => {
      if (!CURVE_LINES.includes(next)) return
      line = next
      listeners.forEach((l) => l())
    },
  ]
}
