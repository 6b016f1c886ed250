import type { ReactNode } from 'react'
import { ModalDialog } from './ModalDialog'

/** A dialog in the middle of the page. */
export function Modal(props: {
  open: boolean
  onClose(): void
  title: string
  wide?: boolean
  children: ReactNode
}) {
  if (!props.open) return null
  return (
    <ModalDialog
      onClose={props.onClose}
      label={props.title}
      className={`m-auto max-h-[calc(100%-48px)] overflow-y-auto border border-edge bg-panel p-6 backdrop:bg-black/60 ${props.wide ? 'w-[640px]' : 'w-[460px]'}`}
    >
      <h2 className="mb-5 text-base font-semibold text-bright">{props.title}</h2>
      {props.children}
    </ModalDialog>
  )
}
