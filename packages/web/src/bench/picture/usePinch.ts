import { useMemo, type PointerEvent, type RefObject } from 'react'
import type { Bench } from '../state/types'
import { panBy, zoomAround } from './pan'

interface Finger {
  x: number
  y: number
}

/** Two fingers on the picture zoom it about their middle and move it along. */
export function usePinch(bench: Bench, pane: RefObject<HTMLDivElement | null>) {
  return useMemo(() => {
    const fingers = new Map<number, Finger>()
    const both = () => {
      const [a, b] = [...fingers.values()]
      return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, apart: Math.max(Math.hypot(a.x - b.x, a.y - b.y), 1) }
    }
    return {
      /** @returns whether it is the second finger: what the first has begun is no more meant */
      down(event: PointerEvent): boolean {
        if (event.pointerType !== 'touch' || fingers.size >= 2) return false
        fingers.set(event.pointerId, { x: event.clientX, y: event.clientY })
        return fingers.size === 2
      },
      /** @returns whether the fingers zoom */
      move(event: PointerEvent): boolean {
        if (fingers.size < 2 || !fingers.has(event.pointerId)) return false
        const before = both()
        fingers.set(event.pointerId, { x: event.clientX, y: event.clientY })
        const after = both()
        const box = pane.current!.getBoundingClientRect()
        panBy(bench, after.x - before.x, after.y - before.y)
        zoomAround(bench, after.apart / before.apart, after.x - box.left, after.y - box.top)
        return true
      },
      up: (event: PointerEvent) => void fingers.delete(event.pointerId),
    }
  }, [bench, pane])
}
