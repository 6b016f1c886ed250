import type { Ref } from 'react'

/** The file input behind a button or a list; a file that was chosen can be chosen again. */
export function HiddenFiles(props: {
  ref: Ref<HTMLInputElement>
  label: string
  accept?: string
  multiple?: boolean
  /** Called with at least one. */
  onFiles(files: readonly File[]): void
}) {
  return (
    <input
      ref={props.ref}
      type="file"
      hidden
      aria-label={props.label}
      accept={props.accept}
      multiple={props.multiple}
      onChange={(e) => {
        const files = [...(e.target.files ?? [])]
        e.target.value = ''
        if (files.length > 0) props.onFiles(files)
      }}
    />
  )
}
