import { useAtom, useAtomValue } from 'jotai'
import { KeysDialog, Palette } from '../../commands/CommandDialogs'
import { commandsAtom, dialogAtom } from '../state/atoms'

const KEY_HINTS = {
  title: 'Controls and picture',
  text: 'Arrow keys and wheel step a control, with Shift by ten; a double click resets it. Arrow keys move a zoomed picture.',
}

/** All keys, or the search for a command, while it is open. */
export function CommandPanel() {
  const [dialog, show] = useAtom(dialogAtom)
  const { list } = useAtomValue(commandsAtom)
  const close = () => show(undefined)
  if (dialog === 'keys') return <KeysDialog open onClose={close} commands={list()} hints={KEY_HINTS} />
  if (dialog === 'palette') return <Palette open onClose={close} commands={list()} />
  return null
}
