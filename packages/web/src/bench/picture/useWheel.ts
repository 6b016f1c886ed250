import { useEffect, useState, type RefObject } from 'react'
import { toolAtom, zoomAtom } from '../state/atoms'
import type { Bench } from '../state/types'
import { panBy, zoomAround } from './pan'

/** Of a zoom, per pixel that a wheel has turned. */
const WHEEL = 0.002
/** Of the tip of a tool. */
const TIP = 0.001

/**
 * The wheel moves a zoomed picture; with Ctrl, as browsers also tell of a pinch, it zooms about the pointer, and
 * with Alt it sizes the tip of the tool in the hand. React's own
 * wheel listeners could not keep the page from scrolling.
 */
export function useWheel(pane: RefObject<HTMLDivElement | null>, bench: Bench): void {
  useEffect(() => {
    const element = pane.current
    if (!element) return
    const wheel = (event: WheelEvent) => {
      const tool = bench.get(toolAtom)
      const lines = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 16 : 1
      if (event.ctrlKey) {
        event.preventDefault()
        const box = element.getBoundingClientRect()
        const factor = Math.exp(-event.deltaY * lines * WHEEL)
        zoomAround(bench, factor, event.clientX - box.left, event.clientY - box.top)
      } else if (event.altKey && tool?.size) {
        event.preventDefault()
        tool.size(bench, Math.exp(-event.deltaY * lines * TIP))
      } else if (bench.get(zoomAtom) !== 'fit') {
        event.preventDefault()
        panBy(bench, -event.deltaX, -event.deltaY)
      }
    }
    element.addEventListener('wheel', wheel, { passive: false })
    return () => element.removeEventListener('wheel', wheel)
  }, [pane, bench])
}

/** Whether the space bar is held where it presses no button: the picture is moved then, whatever tool is in the hand. */
export function useHeldSpace(): boolean {
  const [held, hold] = useState(false)
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.key !== ' ' || !(event.target instanceof HTMLElement)) return
      if (event.target.closest('button, a, input, select, textarea, dialog, [role="slider"]')) return
      event.preventDefault()
      hold(true)
    }
    const up = (event: KeyboardEvent) => event.key === ' ' && hold(false)
    const away = () => hold(false)
    addEventListener('keydown', down)
    addEventListener('keyup', up)
    addEventListener('blur', away)
    return () => {
      removeEventListener('keydown', down)
      removeEventListener('keyup', up)
      removeEventListener('blur', away)
    }
  }, [])
  return held
}
