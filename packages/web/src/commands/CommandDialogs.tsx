import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react'
import { useState } from 'react'
import { Modal } from '../shell/Modal'
import { ModalDialog } from '../shell/ModalDialog'
import { GROUPS, type Command } from './commands'

/** All keys of a page. */
export function KeysDialog({
  open,
  onClose,
  commands,
  hints,
}: {
  open: boolean
  onClose(): void
  commands: readonly Command[]
  /** What else keys and pointer do there. */
  hints: { title: string; text: string }
}) {
  const groups = GROUPS.filter((g) => commands.some((c) => c.group === g && c.keys))
  return (
    <Modal open={open} onClose={onClose} title="Keys" width={640}>
      <div className="columns-2 gap-x-8 [&>section]:mb-5 [&>section]:break-inside-avoid">
        {groups.map((group) => (
          <section key={group}>
            <h3 className="mb-1 text-quiet">{group}</h3>
            <dl>
              {commands
                .filter((c) => c.group === group && c.keys)
                .map((c) => (
                  <div key={c.id} className="flex justify-between border-b border-line py-1">
                    <dt>{c.label}</dt>
                    <dd className="text-bright">{c.keys}</dd>
                  </div>
                ))}
            </dl>
          </section>
        ))}
        <section>
          <h3 className="mb-1 text-quiet">{hints.title}</h3>
          <p className="text-text">{hints.text}</p>
        </section>
      </div>
      <div className="mt-6 flex justify-end">
        <button className="button" onClick={onClose}>
          Close
        </button>
      </div>
    </Modal>
  )
}

/** Finds a command by its name. */
export function Palette({
  open,
  onClose,
  commands,
}: {
  open: boolean
  onClose(): void
  commands: readonly Command[]
}) {
  const [query, setQuery] = useState('')
  const words = query.toLowerCase().split(/\s+/).filter(Boolean)
  const found = commands.filter(
    // what works while a key is held cannot be held from here
    (c) => !c.disabled && !c.release && words.every((w) => c.label.toLowerCase().includes(w)),
  )
  const close = () => {
    setQuery('')
    onClose()
  }
  if (!open) return null
  return (
    <ModalDialog
      onClose={close}
      label="Find a command"
      className="mx-auto mt-[14vh] w-[460px] border border-edge bg-panel backdrop:bg-black/50"
    >
      <Combobox
        immediate
        onChange={(command: Command | null) => {
          close()
          command?.run()
        }}
      >
        <ComboboxInput
          autoFocus
          aria-label="Find a command"
          placeholder="Find a command"
          className="w-full border-b border-line bg-night px-4 py-3 text-bright placeholder:text-quiet focus:outline-none"
          onChange={(e) => setQuery(e.target.value)}
          onKeyDown={(e) => e.key === 'Escape' && close()}
        />
        <ComboboxOptions static className="max-h-[46vh] overflow-y-auto py-1">
          {found.map((c) => (
            <ComboboxOption
              key={c.id}
              value={c}
              className="flex justify-between px-4 py-1.5 data-focus:bg-raised data-focus:text-bright"
            >
              <span>{c.label}</span>
              <span className="text-quiet">{c.keys}</span>
            </ComboboxOption>
          ))}
          {found.length === 0 && <p className="px-4 py-2 text-quiet">Nothing of that name.</p>}
        </ComboboxOptions>
      </Combobox>
    </ModalDialog>
  )
}
