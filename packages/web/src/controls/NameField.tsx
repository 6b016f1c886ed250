import { useState } from 'react'

/**
 * A name that is being written: Enter or leaving it keeps it, Escape does not.
 * @param onDone given nothing where the old name stays
 */
export function NameField(props: { label: string; name: string; onDone(name: string | undefined): void }) {
  const [name, setName] = useState(props.name)
  return (
    <form
      className="flex min-w-0 flex-1 items-center"
      onSubmit={(e) => {
        e.preventDefault()
        props.onDone(name.trim())
      }}
    >
      <input
        autoFocus
        className="field !px-1 !py-0"
        aria-label={props.label}
        maxLength={300}
        value={name}
        onFocus={(e) => e.currentTarget.select()}
        onChange={(e) => setName(e.target.value)}
        onBlur={() => props.onDone(name.trim())}
        onKeyDown={(e) => {
          if (e.key !== 'Escape') return
          e.stopPropagation()
          props.onDone(undefined)
        }}
      />
    </form>
  )
}
