import { useEffect, useRef } from 'react'

/** Something the user can do on a page, by key, from the palette, or both. */
export interface Command {
  id: string
  label: string
  group: 'Stages' | 'Choose' | 'View' | 'Work'
  /** As shown: "Ctrl+Z"; a single key otherwise. */
  keys?: string
  disabled?: boolean
  run(): void
  /** For keys that are held down: runs when the key is let go. */
  release?(): void
}

const pressed = (event: KeyboardEvent) => {
  const key = event.key.length === 1 ? event.key.toUpperCase() : event.key
  const parts = [event.ctrlKey || event.metaKey ? 'Ctrl' : '', event.altKey ? 'Alt' : '', key]
  if (event.shiftKey && (event.ctrlKey || event.altKey)) parts.splice(1, 0, 'Shift')
  return parts.filter(Boolean).join('+')
}

/** Whether a key belongs to what has the focus rather than to the page. */
const busyWithText = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target.closest('[role="dialog"]') !== null ||
    (target instanceof HTMLInputElement && target.type !== 'range') ||
    target instanceof HTMLSelectElement ||
    target instanceof HTMLTextAreaElement)

/**
 * Listens for the commands' keys.
 * @param commands what can be done as things stand; asked whenever a key is pressed
 */
export function useCommandKeys(commands: () => readonly Command[]): void {
  const latest = useRef(commands)
  latest.current = commands
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (event.defaultPrevented || busyWithText(event.target)) return
      const command = latest.current().find((c) => c.keys === pressed(event))
      if (!command || command.disabled) return
      event.preventDefault()
      if (!event.repeat || !command.release) command.run()
    }
    const up = (event: KeyboardEvent) => {
      const key = event.key.length === 1 ? event.key.toUpperCase() : event.key
      latest.current().find((c) => c.release && c.keys === key)?.release!()
    }
    addEventListener('keydown', down)
    addEventListener('keyup', up)
    return () => {
      removeEventListener('keydown', down)
      removeEventListener('keyup', up)
    }
  }, [])
}
