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
    let done: ReturnType<typeof both> | undefined
    let frame = 0
    // each finger tells of itself alone: what both do between two frames is one movement
    const apply = () => {
      cancelAnimationFrame(frame)
      frame = 0
      if (!done || !pane.current) return
      const before = done
      done = both()
      const box = pane.current.getBoundingClientRect()
      panBy(bench, done.x - before.x, done.y - before.y)
      zoomAround(bench, done.apart / before.apart, done.x - box.left, done.y - box.top)
    }
    return {
      /** @returns whether it is the second finger: what the first has begun is no more meant */
      down(event: PointerEvent): boolean {
        if (event.pointerType !== 'touch' || fingers.size >= 2) return false
        fingers.set(event.pointerId, { x: event.clientX, y: event.clientY })
        if (fingers.size < 2) return false
        done = both()
        return true
      },
      /** @returns whether the fingers zoom */
      move(event: PointerEvent): boolean {
        if (fingers.size < 2 || !fingers.has(event.pointerId)) return false
        fingers.set(event.pointerId, { x: event.clientX, y: event.clientY })
        frame ||= requestAnimationFrame(apply)
        return true
      },
      up(event: PointerEvent): void {
        if (frame) apply()
        done = undefined
        fingers.delete(event.pointerId)
      },
    }
  }, [bench, pane])
}
