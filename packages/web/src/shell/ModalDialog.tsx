import { useLayoutEffect, useRef, type ReactNode } from 'react'

/**
 * What takes the whole attention while it is there, in the browser's own dialog: it holds the focus without hidden
 * elements and gives it back. Escape and a press beside it close it.
 */
export function ModalDialog(props: {
  onClose(): void
  label: string
  className: string
  children: ReactNode
}) {
  const dialog = useRef<HTMLDialogElement>(null)
  useLayoutEffect(() => {
    const element = dialog.current!
    const first = document.activeElement
    element.showModal()
    // what asked for the focus as it appeared goes before what comes first
    if (first instanceof HTMLElement && element.contains(first)) first.focus()
    return () => element.close()
  }, [])
  return (
    <dialog
      ref={dialog}
      aria-label={props.label}
      className={`text-text ${props.className}`}
      onCancel={(e) => {
        e.preventDefault()
        props.onClose()
      }}
      onPointerDown={(e) => {
        const { left, right, top, bottom } = e.currentTarget.getBoundingClientRect()
        const beside = e.clientX < left || e.clientX > right || e.clientY < top || e.clientY > bottom
        if (e.target === e.currentTarget && beside) props.onClose()
      }}
    >
      {props.children}
    </dialog>
  )
}
