import { useEffect, useRef, type PointerEvent } from 'react'

/** Width of a handle, CSS pixels. */
const HANDLE = 9
/** A hand that has moved less far clicks. */
const STILL = 3
/** Within this time a second click makes a double one. */
const DOUBLE_MS = 260

/**
 * How a pointer works a slider: it pulls the value along from where it stands, wherever it takes hold, so that no
 * handle jumps; a click beside the handle brings it there once no second click has followed.
 * @param share where the value stands, 0 to 1
 */
export function useSlider(props: { share: number; put(share: number): void; end(): void }) {
  const latest = useRef(props)
  latest.current = props
  const held = useRef<{ x: number; from: number; moved: boolean }>(undefined)
  const click = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(click.current), [])

  /** The part of the slider that its handle can be on. */
  const way = (element: Element) => {
    const { left, width } = element.getBoundingClientRect()
    return { left: left + HANDLE / 2, width: Math.max(width - HANDLE, 1) }
  }
  return {
    /** Whether a pointer has hold of it: what the browser makes of that does not count. */
    holding: () => held.current !== undefined,
    forget: () => clearTimeout(click.current),
    onPointerDown(event: PointerEvent<HTMLInputElement>) {
      if (event.button !== 0 || event.currentTarget.disabled) return
      event.currentTarget.setPointerCapture(event.pointerId)
      held.current = { x: event.clientX, from: latest.current.share, moved: false }
    },
    onPointerMove(event: PointerEvent<HTMLInputElement>) {
      const hold = held.current
      if (!hold) return
      const by = event.clientX - hold.x
      if (!hold.moved && Math.abs(by) < STILL) return
      hold.moved = true
      const to = hold.from + by / way(event.currentTarget).width
      latest.current.put(Math.min(Math.max(to, 0), 1))
    },
    onPointerUp(event: PointerEvent<HTMLInputElement>) {
      const hold = held.current
      held.current = undefined
      if (!hold) return
      if (hold.moved) return latest.current.end()
      const { left, width } = way(event.currentTarget)
      const at = Math.min(Math.max((event.clientX - left) / width, 0), 1)
      if (Math.abs(at - hold.from) * width <= HANDLE) return
      clearTimeout(click.current)
      click.current = setTimeout(() => {
        latest.current.put(at)
        latest.current.end()
      }, DOUBLE_MS)
    },
    onPointerCancel() {
      if (held.current?.moved) latest.current.end()
      held.current = undefined
    },
  }
}
