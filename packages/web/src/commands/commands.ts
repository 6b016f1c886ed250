import { useEffect, useRef } from 'react'

/** What a list of keys is divided by: what there is on every page, and the stages of the bench. */
export const GROUPS = [
  'Stages',
  'Square up',
  'Expose',
  'Balance',
  'Refine',
  'Mend',
  'Shape',
  'Finish',
  'Choose',
  'View',
  'Work',
] as const
export type CommandGroup = (typeof GROUPS)[number]

/** Something the user can do on a page, by key, from the palette, or both. */
export interface Command {
  id: string
  label: string
  group: CommandGroup
  /** As shown: "Ctrl+Z"; a single key otherwise. */
  keys?: string
  /** Works as well, and is not shown. */
  also?: string
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
const busyWithText = ({ target, ctrlKey, metaKey, altKey }: KeyboardEvent) =>
  // a dialog may have lost the focus to the page behind it, with a button that is gone
  document.querySelector('dialog:modal') !== null ||
  (target instanceof HTMLElement &&
    (target.isContentEditable ||
      // a number in which nothing was typed has nothing of its own to be taken back
      (target instanceof HTMLInputElement &&
        target.type !== 'range' &&
        !(target.dataset.untouched && (ctrlKey || metaKey || altKey))) ||
      target instanceof HTMLSelectElement ||
      target instanceof HTMLTextAreaElement))

/**
 * Listens for the commands' keys.
 * @param commands what can be done as things stand; asked whenever a key is pressed
 */
export function useCommandKeys(commands: () => readonly Command[]): void {
  const latest = useRef(commands)
  latest.current = commands
  useEffect(() => {
    const held = new Map<string, Command>()
    const down = (event: KeyboardEvent) => {
      if (event.defaultPrevented || busyWithText(event)) return
      const keys = pressed(event)
      const command = latest.current().find((c) => !c.disabled && (c.keys === keys || c.also === keys))
      if (!command) return
      event.preventDefault()
      if (command.release) {
        if (event.repeat) return
        held.set(keys, command)
      }
      command.run()
    }
    const letGo = (keys: string) => {
      held.get(keys)?.release?.()
      held.delete(keys)
    }
    const up = (event: KeyboardEvent) => letGo(event.key.length === 1 ? event.key.toUpperCase() : event.key)
    // a key that is let go in another window is not heard of
    const away = () => [...held.keys()].forEach(letGo)
    addEventListener('keydown', down)
    addEventListener('keyup', up)
    addEventListener('blur', away)
    return () => {
      removeEventListener('keydown', down)
      removeEventListener('keyup', up)
      removeEventListener('blur', away)
      away()
    }
  }, [])
}
